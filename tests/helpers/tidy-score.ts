import fc from 'fast-check';
import type { Meter } from '@/core/model/clock';
import { QUARTER } from '@/core/model/time';
import type { Smf, SmfEvent } from '@/core/sources/smf/events';

/** A note of a generated tidy score: quarters × 96 as whole numbers, MIDI key. */
export interface TidyNote {
  start: number;
  length: number;
  key: number;
}

export interface TidyScore {
  meter: Meter;
  fifths: number;
  bars: number;
  notes: TidyNote[];
}

/** Ticks per quarter: divides by 32nds and triplet 16ths. */
export const TPQ = 96;
export const UNITS = QUARTER / TPQ;

const METERS: Meter[] = [
  [2, 4],
  [3, 4],
  [4, 4],
  [5, 4],
  [2, 2],
  [3, 8],
  [5, 8],
  [6, 8],
  [7, 8],
  [9, 8],
  [12, 8],
].map(([numerator, denominator]) => ({ numerator: numerator!, denominator: denominator! }));

/** Fillings of one quarter: plain, dotted, 32nds, triplets. */
const QUARTERS = [
  [96],
  [48, 48],
  [24, 24, 24, 24],
  [72, 24],
  [24, 72],
  [24, 48, 24],
  [48, 24, 24],
  [12, 12, 24, 48],
  [32, 32, 32],
  [64, 32],
  [32, 64],
  [16, 16, 16, 16, 16, 16],
  [48, 16, 16, 16],
];
/** Fillings of one eighth, for meters that count them. */
const EIGHTHS = [[48], [24, 24], [36, 12], [12, 12, 24]];

const scaleKey = (degree: number, fifths: number): number => {
  const line = [];
  for (let place = fifths - 1; place <= fifths + 5; place++) line.push((((place * 7) % 12) + 12) % 12);
  line.sort((a, b) => a - b);
  return 60 + 12 * Math.floor(degree / 7) + line[((degree % 7) + 7) % 7]!;
};

/** One voice: values by the beat, some joined over (ties, syncopations, long notes), some silent. */
const voice = (meter: Meter, bars: number, fifths: number, low: number, high: number) => {
  const eighths = meter.denominator === 8;
  const cells = (bars * meter.numerator * (eighths ? 1 : 4 / meter.denominator)) | 0;
  return fc
    .array(
      fc.record({
        filling: fc.constantFrom(...(eighths ? EIGHTHS : QUARTERS)),
        degree: fc.array(fc.integer({ min: low, max: high }), { minLength: 6, maxLength: 6 }),
        join: fc.integer({ min: 0, max: 9 }),
        silent: fc.integer({ min: 0, max: 9 }),
      }),
      { minLength: cells, maxLength: cells },
    )
    .map((made) => {
      const notes: TidyNote[] = [];
      let at = 0;
      for (const cell of made)
        cell.filling.forEach((length, index) => {
          const last = notes.at(-1);
          if (index === 0 && cell.join < 4 && last && last.start + last.length === at) last.length += length;
          else if (cell.silent > 1)
            notes.push({ start: at, length, key: scaleKey(cell.degree[index]!, fifths) });
          at += length;
        });
      return notes;
    });
};

/** Random tidy scores in one or two voices. */
export const tidyScores: fc.Arbitrary<TidyScore> = fc
  .record({
    meter: fc.constantFrom(...METERS),
    fifths: fc.integer({ min: -6, max: 6 }),
    bars: fc.integer({ min: 1, max: 4 }),
    two: fc.boolean(),
  })
  .chain(({ meter, fifths, bars, two }) =>
    fc
      .tuple(voice(meter, bars, fifths, 1, 12), two ? voice(meter, bars, fifths, -12, -1) : fc.constant([]))
      .map(([upper, lower]) => ({ meter, fifths, bars, notes: [...upper, ...lower] })),
  )
  .filter((score) => score.notes.length > 0);

/** The score as a tidy format 1 file with a tempo track. */
export function tidySmf(score: TidyScore, channel = 0): Smf {
  const events: SmfEvent[] = score.notes.flatMap((note): SmfEvent[] => [
    { kind: 'noteOn', tick: note.start, channel, key: note.key, velocity: 80 },
    {
      kind: 'noteOff',
      tick: note.start + note.length,
      channel,
      key: note.key,
      velocity: 64,
      asNoteOn: false,
    },
  ]);
  const order = (event: SmfEvent) => (event.kind === 'noteOff' ? 0 : 1);
  events.sort((a, b) => a.tick - b.tick || order(a) - order(b));
  const end = Math.max(...score.notes.map((note) => note.start + note.length));
  return {
    format: 1,
    division: { kind: 'quarter', ticks: TPQ },
    otherChunks: [],
    mends: [],
    tracks: [
      {
        events: [
          { kind: 'timeSignature', tick: 0, ...score.meter, clocks: 24, thirtySeconds: 8 },
          { kind: 'keySignature', tick: 0, fifths: score.fifths, minor: false },
          { kind: 'tempo', tick: 0, microsPerQuarter: 600_000 },
          { kind: 'endOfTrack', tick: end },
        ],
      },
      {
        events: [
          { kind: 'trackName', tick: 0, type: 3, bytes: new TextEncoder().encode('Marimba') },
          ...events,
          { kind: 'endOfTrack', tick: end },
        ],
      },
    ],
  };
}
