import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { StrandId } from '../model/ids';
import { likeliest, type StemPart, stemsByName } from './stem-match';

const part = (index: number, name: string, instrument: string, ...also: string[]): StemPart => ({
  leader: `1/t${index}c1` as StrandId,
  name,
  instrument,
  also,
});
const ORCHESTRA = [
  part(1, 'Flute', 'flute'),
  part(2, 'B♭ Clarinet', 'clarinet-bflat'),
  part(3, 'Horn 1', 'horn-f'),
  part(4, 'Horn 2', 'horn-f'),
  part(5, 'Violin I', 'violin', 'Vln. I'),
  part(6, 'Violin II', 'violin', 'Vln. II'),
  part(7, 'Viola', 'viola'),
  part(8, 'Violoncello', 'cello', 'LOW SUSTAINS'),
  part(9, 'Drum Set', 'drum-set'),
];
const matched = (...names: string[]) => {
  const found = stemsByName(
    names.map((name) => ({ id: name, name })),
    ORCHESTRA,
  );
  return names.map((name) => ORCHESTRA.find(({ leader }) => leader === found.get(name))?.name ?? null);
};

describe('the part that a sound file is of', () => {
  it.each([
    ['Flute.wav', 'Flute'],
    ['01 Flute.wav', 'Flute'],
    ['Lantern Ferry - Flute (dry).wav', 'Flute'],
    ['03_Vln1_wet.flac', 'Violin I'],
    ['Violin 2.mp3', 'Violin II'],
    ['Vln II close.wav', 'Violin II'],
    ['Hn2.aif', 'Horn 2'],
    ['LF_low sustains_stem.wav', 'Violoncello'],
    ['Cello.ogg', 'Violoncello'],
    ['VIOLA STEREO.WAV', 'Viola'],
  ])('%s is of %s', (file, name) => expect(matched(file)).toEqual([name]));

  it('is not told where two are as likely, or none is', () => {
    expect(matched('Horn.wav', 'Violins.wav', 'Mix.wav', 'Theremin.wav', '.wav', '12.wav')).toEqual([
      null,
      null,
      null,
      null,
      null,
      null,
    ]);
  });

  it('is each its own where files are called as the parts are, in any order, counted or not (property)', () => {
    fc.assert(
      fc.property(
        fc.shuffledSubarray(ORCHESTRA),
        fc.boolean(),
        fc.constantFrom('', ' dry', '_wet'),
        (parts, counted, more) => {
          const stems = parts.map(({ name }, at) => ({
            id: name,
            name: `${counted ? `${at + 1} ` : ''}${name}${more}.wav`,
          }));
          const found = stemsByName(stems, ORCHESTRA);
          for (const { name, leader } of parts) expect(found.get(name)).toBe(leader);
        },
      ),
    );
  });

  it('is by likeness the one that is clearly ahead', () => {
    expect(likeliest([0.1, 0.5, 0.3])).toBe(1);
    expect(likeliest([0.4, 0.5])).toBeNull();
    expect(likeliest([0.05, 0.01])).toBeNull();
    expect(likeliest([])).toBeNull();
  });
});
