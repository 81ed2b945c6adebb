import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { sliceScore } from '@/core/engrave/slice';
import { instrumentOf } from '@/core/instruments/catalogue';
import {
  ARTICULATIONS,
  type ChordMark,
  type Mark,
  ORNAMENTS,
  type Spanner,
  TECHNIQUES,
} from '@/core/model/marks';
import { beatGroups } from '@/core/model/meter';
import type { Bar, Chord, Item, Note, Part, Score, Tuplet } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { parseXml, schemaFaults } from '../helpers/schema';
import { engraver } from '../helpers/verovio';

/**
 * What a score can say beyond what a sequencer file holds, written and checked
 * against the element order and values of the MusicXML 4.0 schema (W3C), and
 * loaded by a second reader.
 */
const BARS = 8;
const meter = { numerator: 4, denominator: 4 };

const barAt = (index: number, more: Partial<Bar> = {}): Bar => ({
  index,
  number: index + 1,
  start: index * 4 * QUARTER,
  length: 4 * QUARTER,
  meter,
  groups: beatGroups(meter),
  missing: 0,
  ...more,
});

const note = (id: string, key: number, more: Partial<Note> = {}): Note => ({
  id,
  key,
  pitch: { step: 'C', alter: 0, octave: Math.floor(key / 12) - 1 },
  sources: [],
  ...more,
});

const chord = (id: string, beat: number, more: Partial<Chord> = {}, ...notes: Note[]): Chord => ({
  kind: 'chord',
  onset: beat * QUARTER,
  duration: QUARTER,
  value: { type: 'quarter', dots: 0 },
  notes: notes.length > 0 ? notes : [note(id, 60)],
  ...more,
});

function partOf(items: (bar: number) => Item[], more: Partial<Part> = {}): Part {
  const flute = instrumentOf('flute');
  return {
    id: 'P1/t1c1',
    name: instrumentOf(more.instrument ?? 'flute').name,
    abbreviation: 'Fl.',
    instrument: flute.id,
    transposition: flute.transposition,
    clefs: ['treble'],
    bars: Array.from({ length: BARS }, (_, bar) => ({ voices: [{ voice: 1, staff: 1, items: items(bar) }] })),
    ...more,
  };
}

const quarters = (bar: number): Item[] => [0, 1, 2, 3].map((beat) => chord(`n${bar}-${beat}`, beat));

const scoreOf = (parts: Part[], bars = Array.from({ length: BARS }, (_, index) => barAt(index))): Score => ({
  title: 'Rich',
  bars,
  keys: [{ bar: 0, fifths: 0, minor: false }],
  tempos: [],
  rehearsals: [],
  parts,
});

/** Where a tuplet of so many items begins and ends. */
const edgeAt = (at: number, count: number): Pick<Tuplet, 'edge'> =>
  at === 0 ? { edge: 'start' } : at === count - 1 ? { edge: 'stop' } : {};

const within = (tuplet: Tuplet, at: number, count: number, item: Chord): Chord => ({
  ...item,
  tuplet: { ...tuplet, ...edgeAt(at, count) },
});

/** Everything on the first note, all else plain. */
const marked = (marks: ChordMark[], more: Partial<Chord> = {}): Score =>
  scoreOf([
    partOf((bar) =>
      quarters(bar).map((item, at) => (bar + at === 0 ? { ...item, ...more, marks } : item) as Item),
    ),
  ]);

const at = (mark: Mark): Score => {
  const part = partOf(quarters);
  part.bars[1]!.marks = [mark];
  return scoreOf([part]);
};

const spanned = (spanner: Omit<Spanner, 'id'>): Score =>
  scoreOf([partOf(quarters, { spanners: [{ id: 's1', ...spanner } as Spanner] })]);

const notes = { from: { note: 'n0-1' }, to: { note: 'n2-3' } };
const moments = { from: { bar: 0, at: QUARTER }, to: { bar: 2, at: 2 * QUARTER } };
const root = { step: 'E', alter: -1 } as const;

const CASES: [name: string, score: Score, holds: string][] = [
  ...ARTICULATIONS.map((name): [string, Score, string] => [
    `articulation ${name}`,
    marked([{ kind: 'articulation', name }]),
    `<${name}/>`,
  ]),
  ...ORNAMENTS.map((name): [string, Score, string] => [
    `ornament ${name}`,
    marked([{ kind: 'ornament', name, accidentals: [{ name: 'flat', placement: 'above' }] }]),
    '<accidental-mark placement="above">flat</accidental-mark>',
  ]),
  ...TECHNIQUES.map((name): [string, Score, string] => [
    `technique ${name}`,
    marked([{ kind: 'technique', name, ...(name === 'fingering' && { text: '3' }) }]),
    `<${name}`,
  ]),
  ['single tremolo', marked([{ kind: 'tremolo', strokes: 3 }]), '<tremolo type="single">3</tremolo>'],
  ['tremolo between', marked([{ kind: 'tremolo', strokes: 2, between: 'start' }]), 'type="start"'],
  [
    'fermata',
    marked([{ kind: 'fermata', shape: 'square', inverted: true }]),
    '<fermata type="inverted">square',
  ],
  ['breath and caesura', marked([{ kind: 'breath' }, { kind: 'caesura' }]), '<breath-mark/>'],
  [
    'arpeggio over a chord',
    scoreOf([
      partOf((bar) =>
        bar === 0
          ? [
              chord('a', 0, { marks: [{ kind: 'arpeggio', direction: 'up' }] }, note('a', 60), note('b', 64)),
              ...quarters(0).slice(1),
            ]
          : quarters(bar),
      ),
    ]),
    '<arpeggiate direction="up"/>',
  ],
  [
    'several kinds at one note',
    marked([
      { kind: 'fermata', shape: 'normal' },
      { kind: 'articulation', name: 'accent' },
      { kind: 'technique', name: 'up-bow' },
      { kind: 'ornament', name: 'trill-mark' },
    ]),
    '<up-bow/>',
  ],
  [
    'verses with elision and extender',
    marked([], {
      lyrics: [
        { text: 'la', syllabic: 'begin', elided: 'a' },
        { verse: 2, text: 'lo', syllabic: 'single', extends: true },
      ],
    }),
    '<extend/>',
  ],
  ['graces after', marked([], { gracesAfter: [note('g1', 62), note('g2', 64)] }), '<note id="g2">'],
  ['cue notes', marked([], { cue: true }), '<cue/>'],
  ['dynamic', at({ kind: 'dynamic', at: QUARTER, dynamic: 'sfzp' }), '<sfzp/>'],
  ['a dynamic of one’s own', at({ kind: 'dynamic', at: 0, dynamic: 'quasi p' }), '<other-dynamics>quasi p<'],
  [
    'words',
    at({ kind: 'words', at: 2 * QUARTER, text: 'dolce', placement: 'below' }),
    '<words>dolce</words>',
  ],
  ['rehearsal', at({ kind: 'rehearsal', at: 0, text: 'B' }), '<rehearsal>B</rehearsal>'],
  [
    'tempo in words and figures',
    at({
      kind: 'tempo',
      at: 0,
      tempo: {
        text: 'Lento',
        metronome: { value: { type: 'quarter', dots: 1 }, perMinute: 'ca. 54' },
        quartersPerMinute: 81,
      },
    }),
    '<beat-unit-dot/>',
  ],
  [
    'metric relation',
    at({
      kind: 'tempo',
      at: 0,
      tempo: { metronome: { value: { type: 'eighth', dots: 0 }, equals: { type: 'quarter', dots: 0 } } },
    }),
    '<beat-unit>eighth</beat-unit>',
  ],
  [
    'chord symbol with degrees and bass',
    at({
      kind: 'chord-symbol',
      at: QUARTER,
      symbol: {
        root,
        kind: 'dominant-ninth',
        text: '9',
        degrees: [{ value: 11, alter: 1, type: 'add' }],
        bass: { step: 'G', alter: 0 },
      },
    }),
    '<bass-step>G</bass-step>',
  ],
  [
    'figured bass',
    at({ kind: 'figured-bass', at: 0, figures: [{ number: '6', prefix: 'sharp' }, { number: '4' }] }),
    '<figure-number>6</figure-number>',
  ],
  ['slur', spanned({ kind: 'slur', ...notes } as Spanner), '<slur type="start" number="1"/>'],
  [
    'glissando',
    spanned({ kind: 'glissando', line: 'wavy', text: 'gliss.', ...notes } as Spanner),
    'line-type="wavy">gliss.</glissando>',
  ],
  ['slide', spanned({ kind: 'slide', line: 'solid', ...notes } as Spanner), '<slide type="stop"'],
  ['trill line', spanned({ kind: 'wavy-line', ...notes } as Spanner), '<wavy-line type="start"'],
  ['hairpin', spanned({ kind: 'wedge', opens: true, niente: true, ...moments } as Spanner), 'niente="yes"'],
  ['hairpin from note to note', spanned({ kind: 'wedge', opens: false, ...notes } as Spanner), 'diminuendo'],
  [
    'octave line',
    spanned({ kind: 'octave', octaves: 1, ...moments } as Spanner),
    'type="down" number="1" size="8"',
  ],
  ['pedal', spanned({ kind: 'pedal', line: true, ...moments } as Spanner), '<pedal type="start" line="yes"'],
  ['bracket', spanned({ kind: 'bracket', end: 'down', line: 'dashed', ...moments } as Spanner), '<bracket'],
  ['dashes', spanned({ kind: 'dashes', ...moments } as Spanner), '<dashes type="stop"'],
  [
    'repeats, endings and jumps',
    scoreOf(
      [partOf(quarters)],
      Array.from({ length: BARS }, (_, index) =>
        barAt(index, {
          ...(index === 1 && { left: { style: 'heavy-light', repeat: { direction: 'forward' } } }),
          ...(index === 2 && {
            left: { ending: { numbers: [1, 2], type: 'start', text: '1. 2.' } },
            right: {
              style: 'light-heavy',
              repeat: { direction: 'backward', times: 3 },
              ending: { numbers: [1, 2], type: 'stop' },
            },
          }),
          ...(index === 3 && { printed: '3a', jumps: [{ kind: 'segno', at: 0 }] }),
          ...(index === 5 && { jumps: [{ kind: 'to-coda', at: 2 * QUARTER }] }),
          ...(index === 6 && { jumps: [{ kind: 'dal-segno', at: 3 * QUARTER, text: 'D.S. al Coda' }] }),
          ...(index === 7 && {
            jumps: [
              { kind: 'coda', at: 0 },
              { kind: 'fine', at: QUARTER },
            ],
          }),
        }),
      ),
    ),
    '<repeat direction="backward" times="3"/>',
  ],
  [
    'meters printed in other ways',
    scoreOf(
      [partOf(quarters)],
      Array.from({ length: BARS }, (_, index) => barAt(index, index === 0 ? { sign: { kind: 'cut' } } : {})),
    ),
    '<time symbol="cut">',
  ],
  [
    'an additive meter',
    scoreOf(
      [partOf(quarters)],
      [
        barAt(0, { sign: { kind: 'additive', beats: [3, 1] } }),
        ...[1, 2, 3, 4, 5, 6, 7].map((index) => barAt(index)),
      ],
    ),
    '<beats>3+1</beats>',
  ],
  [
    'no meter at all',
    scoreOf(
      [partOf(quarters)],
      [barAt(0, { sign: { kind: 'free' } }), ...[1, 2, 3, 4, 5, 6, 7].map((index) => barAt(index))],
    ),
    '<senza-misura/>',
  ],
  [
    'changes of clef, key and transposition',
    scoreOf([
      partOf(quarters, {
        changes: [
          { bar: 1, at: 2 * QUARTER, kind: 'clef', staff: 1, clef: 'treble8va' },
          { bar: 3, at: 0, kind: 'key', fifths: 2, minor: true },
          { bar: 3, at: 0, kind: 'transposition', transposition: { diatonic: -1, chromatic: -2 } },
        ],
      }),
    ]),
    '<clef-octave-change>1</clef-octave-change>',
  ],
  [
    'cross-staff notes, hidden rests and ringing notes',
    scoreOf([
      partOf(
        (bar) =>
          bar === 0
            ? [
                chord('x', 0, {}, note('x', 50, { staff: 2 }), note('y', 64, { ringsOn: true })),
                {
                  kind: 'rest',
                  hidden: true,
                  onset: QUARTER,
                  duration: QUARTER,
                  value: { type: 'quarter', dots: 0 },
                },
                ...quarters(0).slice(2),
              ]
            : quarters(bar),
        { clefs: ['treble', 'bass'], instrument: 'piano' },
      ),
    ]),
    '<forward>',
  ],
  [
    'a tuplet of seventeen',
    scoreOf([
      partOf((bar) =>
        bar === 0
          ? [
              ...Array.from({ length: 17 }, (_, at) =>
                within({ actual: 17, normal: 16, unit: '64th' }, at, 17, {
                  ...chord(`s${at}`, 0),
                  onset: (at * QUARTER) / 17,
                  duration: QUARTER / 17,
                  value: { type: '64th', dots: 0 },
                }),
              ),
              ...quarters(0).slice(1),
            ]
          : quarters(bar),
      ),
    ]),
    '<actual-notes>17</actual-notes>',
  ],
  [
    'a triplet in a triplet',
    scoreOf([
      partOf((bar) =>
        bar === 0
          ? [
              ...[0, 1, 2, 3, 4].map((at) => {
                const outer: Tuplet = { actual: 3, normal: 2, unit: 'quarter', ...edgeAt(at, 5) };
                const isInner = at > 0 && at < 4;
                return {
                  ...chord(`t${at}`, 0),
                  onset: [0, 6, 8, 10, 12][at]! * (QUARTER / 9),
                  duration: (isInner ? 2 : 6) * (QUARTER / 9),
                  value: { type: isInner ? 'eighth' : 'quarter', dots: 0 },
                  tuplet: isInner
                    ? { actual: 3, normal: 2, unit: 'eighth', ...edgeAt(at - 1, 3), within: outer }
                    : outer,
                } as Chord;
              }),
              ...quarters(0).slice(2),
            ]
          : quarters(bar),
      ),
    ]),
    '<actual-notes>9</actual-notes>',
  ],
  [
    'a tablature',
    scoreOf([
      partOf(
        (bar) =>
          quarters(bar).map(
            (item, beat) =>
              ({ ...item, notes: [note(`n${bar}-${beat}`, 64, { string: 1, fret: beat })] }) as Chord,
          ),
        { clefs: ['tab'], lines: [6], tuning: [40, 45, 50, 55, 59, 64], instrument: 'acoustic-guitar' },
      ),
    ]),
    '<fret>3</fret>',
  ],
  [
    'quarter tones and heads',
    marked([], { notes: [note('n0-0', 60, { accidental: 'quarter-sharp', head: 'triangle' })] }),
    '<accidental>quarter-sharp</accidental>',
  ],
  [
    'groups within groups',
    {
      ...scoreOf(
        [0, 1, 2].map((index) => ({
          ...partOf((bar) =>
            quarters(bar).map(
              (item) => ({ ...item, notes: [note(`p${index}-${bar}-${item.onset}`, 60)] }) as Chord,
            ),
          ),
          id: `P1/t${index + 1}c1` as const,
        })),
      ),
      groups: [
        { from: 0, to: 2, symbol: 'bracket', joined: true, name: 'Winds' },
        { from: 0, to: 1, symbol: 'brace', joined: false },
      ],
    },
    '<group-name>Winds</group-name>',
  ],
];

describe('a score that says everything', () => {
  let verovio: Awaited<ReturnType<typeof engraver>>;
  beforeAll(async () => {
    verovio = await engraver();
  });

  it.each(CASES)('is valid with %s, and loads elsewhere', (_, score, holds) => {
    const document = writeMusicXml(score);
    expect(schemaFaults(parseXml(document))).toEqual([]);
    expect(document).toContain(holds);
    expect(verovio.loadData(document)).toBeTruthy();
  });

  it.each(CASES)('is read back with %s as it was written', (_, score) => {
    const document = writeMusicXml(score);
    const read = readMusicXml(new TextEncoder().encode(document));
    expect(read.mends).toEqual([]);
    expect([...read.lost]).toEqual([]);
    expect(writeMusicXml(read.score)).toBe(document);
  });

  it('is valid in every window, with what holds at its start', () => {
    for (const [, score] of CASES)
      for (let from = 0; from < BARS; from += 2) {
        const ids = new Set(score.parts.map((part) => part.id));
        const cut = sliceScore(score, ids, from, from + 2);
        const document = writeMusicXml(cut, { after: score.bars[from - 1], goesOn: from + 2 < BARS });
        expect(schemaFaults(parseXml(document))).toEqual([]);
      }
    const [, changing] = CASES.find(([name]) => name.startsWith('changes'))!;
    const cut = sliceScore(changing, new Set([changing.parts[0]!.id]), 4, 6);
    expect(cut.parts[0]).toMatchObject({
      clefs: ['treble8va'],
      transposition: { diatonic: -1, chromatic: -2 },
    });
  });

  it('tells lines apart that are open at once, and uses their numbers again', () => {
    const place = fc.record({ bar: fc.nat(BARS - 1), beat: fc.nat(3) });
    fc.assert(
      fc.property(fc.array(fc.tuple(place, place), { maxLength: 8 }), (pairs) => {
        const order = ({ bar, beat }: { bar: number; beat: number }) => 4 * bar + beat;
        const spanners = pairs
          .map(([a, b]) => (order(a) <= order(b) ? [a, b] : [b, a]))
          .filter(([a, b]) => order(a!) < order(b!))
          .map(
            ([a, b], index): Spanner => ({
              id: `s${index}`,
              kind: 'slur',
              from: { note: `n${a!.bar}-${a!.beat}` },
              to: { note: `n${b!.bar}-${b!.beat}` },
            }),
          );
        const document = writeMusicXml(scoreOf([partOf(quarters, { spanners })]));
        expect(schemaFaults(parseXml(document))).toEqual([]);
        const open = new Set<string>();
        for (const [, type, number] of document.matchAll(/<slur type="(\w+)" number="(\d+)"/g)) {
          if (type === 'stop') expect(open.delete(number!)).toBe(true);
          else {
            expect(open.has(number!)).toBe(false);
            open.add(number!);
          }
        }
        expect(open.size).toBe(0);
      }),
      { numRuns: 80 },
    );
  });
});
