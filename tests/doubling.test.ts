import { describe, expect, it } from 'vitest';
import { performScore } from '@/core/perform';
import { ALL_PLAYED } from '@/core/perform/settings';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readPerformance } from '@/core/sources/smf/performance';
import { transcribeNow } from '@/core/transcribe';
import { briefOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

const BAR = 1920;
const quarters = (bar: number, ...keys: number[]): Stroke[] =>
  keys.map((key, at) => [bar * BAR + at * 480, bar * BAR + at * 480 + 470, key]);

/** A player on one instrument in bars 1, 2 and 5, on another in bar 4. */
function doubling(first: string, second: string) {
  const file = madeFile(
    madeTrack('One', 0, [
      ...quarters(0, 72, 74, 76, 77),
      ...quarters(1, 79, 77, 76, 74),
      ...quarters(4, 72, 76, 79, 84),
    ]),
    madeTrack('Other', 1, quarters(3, 86, 88, 89, 91)),
  );
  const brief = briefOf(
    { kind: 'cast', strand: '1/t1c1', instrument: first },
    { kind: 'cast', strand: '1/t2c2', instrument: second },
    { kind: 'join', strand: '1/t2c2', into: '1/t1c1' },
  );
  const { score } = transcribeNow(readPerformance(file), brief);
  const document = writeMusicXml(score);
  expect(schemaFaults(parseXml(document))).toEqual([]);
  const [part] = score.parts;
  const words = part!.bars.flatMap((bar, index) =>
    (bar.marks ?? []).flatMap((mark) => (mark.kind === 'words' ? [[index + 1, mark.text]] : [])),
  );
  const octaves = part!.bars.map(({ voices }) =>
    voices.flatMap(({ items }) =>
      items.flatMap((item) =>
        item.kind === 'chord' ? item.notes.map(({ pitch }) => `${pitch.step}${pitch.octave}`) : [],
      ),
    ),
  );
  return { part: part!, words, octaves, document };
}

describe('a player who changes instruments', () => {
  it('is told where to, and reads each as it is written', () => {
    const { part, words, octaves, document } = doubling('flute', 'piccolo');
    expect(words).toEqual([
      [3, 'To Picc.'],
      [4, 'Piccolo'],
      [5, 'Flute'],
    ]);
    // D6 sounding is D5 on a piccolo's page.
    expect(octaves[3]).toEqual(['D5', 'E5', 'F5', 'G5']);
    expect(octaves[4]).toEqual(['C5', 'E5', 'G5', 'C6']);
    expect(part.changes?.map((change) => [change.kind, change.bar])).toEqual([
      ['instrument', 3],
      ['transposition', 3],
      ['instrument', 4],
      ['transposition', 4],
    ]);
    expect(document.match(/<transpose>/g)).toHaveLength(2);
    // What is read sounds as it was played.
    const { score } = readMusicXml(new TextEncoder().encode(document));
    const played = performScore(score, ALL_PLAYED).parts.flatMap(({ notes }) => notes.map(({ key }) => key));
    expect(played).toEqual([72, 74, 76, 77, 79, 77, 76, 74, 86, 88, 89, 91, 72, 76, 79, 84]);
  });

  it('reads another signature on an instrument in another key', () => {
    const { part } = doubling('clarinet-bflat', 'clarinet-a');
    const keys = part.changes?.flatMap((change) =>
      change.kind === 'key' ? [[change.bar, change.fifths]] : [],
    );
    // From two sharps more than sounds to three flats fewer: B♭ reads +2, A reads −3 of the sounding signature.
    const [[, toA], [, back]] = keys as [[number, number], [number, number]];
    expect(keys?.map(([bar]) => bar)).toEqual([3, 4]);
    expect(back - toA).toBe(5);
  });

  it('stays on his instrument where both are of one kind, or none was cast', () => {
    expect(doubling('flute', 'flute').words).toEqual([]);
  });
});
