import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { lineUpOf } from '@/core/cast/line-up-of';
import { layLineUp, makeLineUp } from '@/core/cast/line-ups';
import { routeStrands } from '@/core/cast/route';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverMidi } from '@/core/deliver';
import { setUps } from '@/core/instruments/kit-players';
import type { StrandId } from '@/core/model/ids';
import type { Part } from '@/core/model/score';
import { performanceReading, readSource } from '@/core/sources';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readSmf } from '@/core/sources/smf/read';
import { writeSmf } from '@/core/sources/smf/write';
import { unaccounted } from '@/core/transcribe';
import { summarise } from '@/core/workbench/summary';
import { Workbench } from '@/core/workbench/workbench';
import { deskOf, madeFile, madeTrack, type Stroke, trackName } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

const quarters = (...keys: number[]): Stroke[] => keys.map((key, at) => [at * 480, at * 480 + 440, key]);

const BAND = madeFile(
  madeTrack('Flute', 0, quarters(72, 74, 76, 77, 79, 77, 76, 74)),
  madeTrack('Vlc', 1, quarters(48, 50, 52, 53, 55, 53, 52, 50)),
);

function job(smf: typeof BAND, ...directives: PlainDirective[]) {
  const bench = new Workbench([{ id: '1', version: 1, name: 'band.mid', bytes: writeSmf(smf) }]);
  bench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
  const written = finished(bench.write(1));
  return { ...written, score: written.transcription.score, summary: summarise(written) };
}
const names = ({ score }: ReturnType<typeof job>) => score.parts.map(({ name }) => name);
const wordsOf = ({ bars }: Part): string[] =>
  bars.flatMap(({ marks = [] }, bar) =>
    marks.flatMap((mark) => (mark.kind === 'words' ? [`${bar + 1}:${mark.at} ${mark.text}`] : [])),
  );

describe('a part that is added', () => {
  it('rests on its staves, in the score and as a track of its own', () => {
    const made = job(BAND, { kind: 'part', strand: '0/p1', instrument: 'harp' });
    expect(names(made)).toEqual(['Flute', 'Harp', 'Violoncello']);
    expect(made.score.parts[1]!.bars.every(({ voices }) => voices.length === 2)).toBe(true);
    expect(made.summary.parts[1]).toMatchObject({ leader: '0/p1', strands: [], notes: 0, enters: 0 });
    expect(schemaFaults(parseXml(writeMusicXml(made.score)))).toEqual([]);
    const again = readSmf(deliverMidi(made.desk));
    const tracks = again.tracks.map(({ events }) =>
      events.flatMap((event) => (event.kind === 'trackName' ? new TextDecoder().decode(event.bytes) : [])),
    );
    expect(tracks.flat()).toEqual(expect.arrayContaining(['Flute', 'Harp', 'Violoncello']));
  });

  it('plays what is joined to it under its own name', () => {
    const made = job(
      BAND,
      { kind: 'part', strand: '0/p1', instrument: 'viola' },
      { kind: 'name', strand: '0/p1', name: 'Alto line' },
      { kind: 'join', strand: '1/t2c2', into: '0/p1' },
    );
    expect(names(made)).toEqual(['Flute', 'Alto line']);
    expect(made.summary.parts[1]).toMatchObject({ instrument: 'viola', strands: ['1/t2c2'], notes: 8 });
    expect(unaccounted(made.transcription.account)).toBe(0);
    const away = job(
      BAND,
      { kind: 'part', strand: '0/p1', instrument: null },
      { kind: 'join', strand: '1/t2c2', into: '0/p1' },
    );
    expect(names(away)).toEqual(['Flute', 'Violoncello']);
  });
});

describe('brackets', () => {
  it('are those of families until they are chosen, and follow their parts', () => {
    const quartet = madeFile(
      ...['Violin I', 'Violin II', 'Viola', 'Cello'].map((name, at) =>
        madeTrack(name, at, quarters(76 - 7 * at, 77 - 7 * at)),
      ),
    );
    expect(job(quartet).summary.groups).toEqual([{ from: 0, to: 3, symbol: 'bracket', joined: true }]);
    const chosen: PlainDirective = {
      kind: 'brackets',
      groups: [{ from: '1/t1c1', to: '1/t2c2', symbol: 'brace', joined: true, name: 'Violins' }],
    };
    expect(job(quartet, chosen).score.groups).toEqual([
      { from: 0, to: 1, symbol: 'brace', joined: true, name: 'Violins' },
    ]);
    const turned = job(quartet, chosen, {
      kind: 'order',
      strands: ['1/t4c4', '1/t3c3', '1/t2c2', '1/t1c1'],
    });
    expect(turned.score.groups).toEqual([{ from: 2, to: 3, symbol: 'brace', joined: true, name: 'Violins' }]);
    expect(job(quartet, chosen, { kind: 'leave-out', strand: '1/t2c2', out: true }).score.groups).toEqual([]);
  });
});

describe('key switches that are named', () => {
  // C0 for bowed, C♯0 for plucked, before bars 2, 3 and 4.
  const KEYED = madeFile(
    madeTrack('Celli', 0, [
      ...[0, 1, 0].map((key, bar): Stroke => [bar * 1920 + 1820, bar * 1920 + 1880, 12 + key]),
      ...Array.from(
        { length: 12 },
        (_, at): Stroke => [1920 + at * 480, 1920 + at * 480 + 440, 48 + (at % 5)],
      ),
    ]),
  );
  const split: PlainDirective = {
    kind: 'split',
    strand: '1/t1c1',
    by: 'key-switch',
    keys: [12, 13],
    techniques: ['ordinary', 'pizzicato'],
  };

  it('make one part with texts where they take hold', () => {
    const made = job(KEYED, split);
    expect(names(made)).toEqual(['Violoncello']);
    const [part] = made.score.parts as [Part];
    expect(wordsOf(part)).toEqual(['3:0 pizz.', '4:0 arco']);
    expect(made.summary.parts[0]!.notes).toBe(12);
    expect(unaccounted(made.transcription.account)).toBe(0);
  });

  it('part again where that is decided', () => {
    expect(names(job(KEYED, split, { kind: 'join', strand: '1/t1c1s2', into: null }))).toHaveLength(2);
  });
});

describe('a kit for several players', () => {
  const KIT = madeFile(
    madeTrack(
      'Drums',
      9,
      Array.from({ length: 16 }, (_, at): Stroke => [at * 240, at * 240 + 60, [36, 42, 38, 54][at % 4]!]),
    ),
  );

  it('is cut by sounds, and each part lists what its player stands at', () => {
    const made = job(KIT, {
      kind: 'split',
      strand: '1/t1c10',
      by: 'sounds',
      players: [[36, 38], [42], []],
    });
    // The tambourine is nobody's: it goes to the last, who else would have nothing.
    expect(made.summary.parts.map(({ setUp }) => setUp)).toEqual([
      ['Acoustic Snare', 'Bass Drum 1'],
      ['Closed Hi-Hat'],
      ['Tambourine'],
    ]);
    expect(unaccounted(made.transcription.account)).toBe(0);
  });

  it('is shared out so that nobody has nothing, and each sound has one player', () => {
    const kits = fc.uniqueArray(fc.integer({ min: 35, max: 81 }), { minLength: 2, maxLength: 20 });
    fc.assert(
      fc.property(kits, fc.integer({ min: 2, max: 6 }), (keys, players) => {
        const given = setUps(
          keys.map((key) => ({ key, count: 1 + (key % 7) })),
          players,
        );
        expect([...given.keys()].sort()).toEqual([...keys].sort());
        expect(new Set(given.values()).size).toBe(Math.min(players, keys.length));
      }),
    );
  });
});

describe('the line-up of a source', () => {
  it('has the tracks of a MIDI file in their order, empty ones with the name of an instrument too', () => {
    const template = madeFile(
      madeTrack('Vlc', 1, quarters(48)),
      { events: [trackName('Oboe')] },
      { events: [trackName('Take 3')] },
      madeTrack('Flute', 0, quarters(72)),
    );
    const { parts } = lineUpOf({ ...performanceReading(template), name: 'template.mid' });
    expect(parts.map(({ name, instrument }) => [name, instrument])).toEqual([
      ['Vlc', 'cello'],
      ['Oboe', 'oboe'],
      ['Flute', 'flute'],
    ]);
  });

  it('is the template of another: names, order, brackets, and what nobody plays', () => {
    const document = writeMusicXml(
      job(
        BAND,
        { kind: 'part', strand: '0/p1', instrument: 'harp' },
        { kind: 'name', strand: '1/t2c2', name: 'Celli' },
        { kind: 'order', strands: ['1/t2c2', '0/p1', '1/t1c1'] },
        {
          kind: 'brackets',
          groups: [{ from: '1/t2c2', to: '0/p1', symbol: 'square', joined: true }],
        },
      ).score,
    );
    const bytes = new TextEncoder().encode(document);
    const lineUp = lineUpOf(readSource({ id: '2', version: 1, name: 'template.musicxml', bytes }));
    expect(lineUp.name).toBe('template');
    const parts = routeStrands(deskOf(BAND).performance, deskOf(BAND).decisions).map((plan) => ({
      strand: plan.leader,
      name: plan.name,
      instrument: plan.instrument.id,
      middle: 60,
    }));
    const laid = job(BAND, ...layLineUp(lineUp, parts, true).directives);
    expect(names(laid)).toEqual(['Celli', 'Harp', 'Flute']);
    expect(laid.score.groups).toEqual([{ from: 0, to: 1, symbol: 'square', joined: true }]);
    // Laid again, or another over it, no part that rests is left behind.
    const again = laid.summary.parts.map((part) => ({
      strand: part.leader,
      name: part.name,
      instrument: part.instrument,
      middle: part.notes > 0 ? 60 : null,
    }));
    const duo = makeLineUp('Duo', [
      { name: 'Fl.', instrument: 'flute' },
      { name: 'Vc.', instrument: 'cello' },
    ]);
    const { directives, over } = layLineUp(duo, again, true);
    expect(over).toEqual([]);
    expect(directives).toContainEqual({ kind: 'part', strand: '0/p1' as StrandId, instrument: null });
  });
});

describe('an instrument that sounds octaves from what it reads', () => {
  // A xylophone reads an octave lower than it sounds: F3 to C7 on paper.
  const mallets = (...keys: number[]) => job(madeFile(madeTrack('Xylophone', 0, quarters(...keys))));
  const heights = ({ score }: ReturnType<typeof job>) =>
    score.parts[0]!.bars.flatMap(({ voices }) =>
      voices.flatMap(({ items }) =>
        items.flatMap((item) => (item.kind === 'chord' ? item.notes.map(({ pitch }) => pitch.octave) : [])),
      ),
    );

  it('is written lower where its keys are those that sound', () => {
    const sounding = mallets(84, 86, 88, 89, 91, 89, 88, 86);
    expect(sounding.score.parts[0]!.transposition.chromatic).toBe(12);
    expect(new Set(heights(sounding))).toEqual(new Set([5]));
  });

  it('is written where its keys are where only those can be read', () => {
    const read = mallets(60, 62, 64, 60, 62, 64, 62, 60);
    expect(read.score.parts[0]!.transposition.chromatic).toBe(0);
    expect(new Set(heights(read))).toEqual(new Set([4]));
    expect(read.summary.parts[0]!.why).toContain('Its keys are those that it reads');
    // It sounds as the file has it.
    expect(read.score.parts[0]!.bars[0]!.voices[0]!.items[0]).toMatchObject({ notes: [{ key: 60 }] });
  });
});
