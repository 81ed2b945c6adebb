import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CATALOGUE, instrumentOf } from '../instruments/catalogue';
import { type Clef, PITCHED_CLEFS } from '../model/clefs';
import { diatonicHeight, type Pitch, STEPS } from '../model/pitch';
import type { Bar, Item, PartBar } from '../model/score';
import { QUARTER, WHOLE } from '../model/time';
import { readStaff, type WantedClef } from './clef-changes';
import { clefsOf, LINES } from './clefs';

const bar = (index: number): Bar => ({
  index,
  number: index + 1,
  start: index * WHOLE,
  length: WHOLE,
  meter: { numerator: 4, denominator: 4 },
  groups: [QUARTER, QUARTER, QUARTER, QUARTER],
  missing: 0,
});

/** Bars of quarters by their diatonic heights (C4 is 28); null rests. */
function read(instrument: string, ...rows: (number | null)[][]) {
  return readUnder(instrument, rows);
}

function readUnder(instrument: string, rows: (number | null)[][], wanted?: WantedClef) {
  let count = 0;
  const bars = rows.map(
    (row): PartBar => ({
      voices: [
        {
          voice: 1,
          staff: 1,
          items: row.map((height, at): Item => {
            const timed = {
              onset: at * QUARTER,
              duration: QUARTER,
              value: { type: 'quarter' as const, dots: 0 },
            };
            if (height === null) return { kind: 'rest', ...timed };
            const pitch: Pitch = { step: STEPS[height % 7]!, alter: 0, octave: Math.floor(height / 7) };
            return { kind: 'chord', ...timed, notes: [{ id: `n${count++}`, key: 60, pitch, sources: [] }] };
          }),
        },
      ],
    }),
  );
  const own = instrumentOf(instrument);
  return readStaff(
    bars,
    rows.map((_, index) => bar(index)),
    1,
    clefsOf(own, 1)[0]!,
    own,
    wanted,
  );
}
/** The clef at each beat, from the first. */
const clefAt = ({ clef, changes }: ReturnType<typeof readStaff>, bar: number, beat: number) => {
  const last = changes.findLast((each) => each.bar < bar || (each.bar === bar && each.at <= beat * QUARTER));
  return last?.kind === 'clef' ? last.clef : clef;
};
const row = (height: number) => [height, height + 1, height + 2, height + 1];
const shown = ({ clef, changes, octaves }: ReturnType<typeof readStaff>) => [
  clef,
  ...changes.map((each) => (each.kind === 'clef' ? `${each.bar + 1}:${each.at / QUARTER} ${each.clef}` : '')),
  ...octaves.map(({ from, to, ...each }) =>
    each.kind === 'octave' && 'bar' in from && 'bar' in to
      ? `${each.octaves} from ${from.bar + 1}:${from.at / QUARTER} to ${to.bar + 1}:${to.at / QUARTER}`
      : '',
  ),
];

describe('how a staff is read', () => {
  it('keeps the usual clef for what stays on it or leaves it for a moment', () => {
    expect(shown(read('cello', row(18), row(22), row(26), row(20)))).toEqual(['bass']);
    expect(shown(read('cello', row(20), [22, 30, 22, 20], row(20)))).toEqual(['bass']);
  });

  it('changes to another clef of the instrument where a line stays off the staff, and back', () => {
    const high = [row(33), row(34), row(33), row(34)];
    expect(shown(read('cello', row(20), row(18), row(19), ...high, row(20), row(19), row(18)))).toEqual([
      'bass',
      '4:0 tenor',
      '8:0 bass',
    ]);
    expect(
      shown(read('viola', row(26), row(25), row(38), row(39), row(38), row(39), row(26), row(25))),
    ).toEqual(['alto', '3:0 treble', '7:0 alto']);
  });

  it('changes after a rest where the line does', () => {
    const late = [16, 15, null, 36];
    expect(shown(read('cello', row(20), row(18), row(17), late, row(34), row(35), row(34)))).toEqual([
      'bass',
      '4:3 tenor',
    ]);
  });

  it('writes an octave line for strings and keyboards that go high, and none for winds', () => {
    const high = [row(46), row(47), row(48), row(46)];
    expect(shown(read('violin', row(34), ...high, row(33)))).toEqual(['treble', '1 from 2:0 to 5:4']);
    expect(shown(read('flute', row(34), ...high, row(33)))).toEqual(['treble']);
  });

  it('never costs more than the usual clef throughout, and leaves no line open', () => {
    const instruments = CATALOGUE.filter(({ unpitched, clefs }) => !unpitched && clefs[0]).map(
      ({ id }) => id,
    );
    const heights = fc.array(fc.option(fc.integer({ min: 10, max: 52 })), { minLength: 4, maxLength: 4 });
    fc.assert(
      fc.property(
        fc.constantFrom(...instruments),
        fc.array(heights, { minLength: 1, maxLength: 12 }),
        (instrument, rows) => {
          const { clef, changes, octaves } = read(instrument, ...rows);
          const isKnown = (each: Clef) => each in LINES;
          expect(isKnown(clef)).toBe(true);
          for (let at = 1; at < changes.length; at++)
            expect(changes[at - 1]!.bar * 4 + changes[at - 1]!.at / QUARTER).toBeLessThan(
              changes[at]!.bar * 4 + changes[at]!.at / QUARTER,
            );
          for (const { from, to } of octaves)
            if ('bar' in from && 'bar' in to)
              expect(from.bar * WHOLE + from.at).toBeLessThan(to.bar * WHOLE + to.at);
          // In the middle of the staff nothing changes.
          if (rows.flat().every((height) => height === null)) expect(changes).toEqual([]);
        },
      ),
    );
  });

  it('holds under a passage what was decided, and beside it what was found', () => {
    const heights = fc.array(fc.option(fc.integer({ min: 10, max: 52 })), { minLength: 4, maxLength: 4 });
    const beat = fc.integer({ min: 0, max: 48 });
    fc.assert(
      fc.property(
        fc.constantFrom('cello', 'viola', 'violin', 'flute', 'bassoon', 'piano'),
        fc.array(heights, { minLength: 1, maxLength: 12 }),
        fc.constantFrom(...PITCHED_CLEFS),
        beat,
        beat,
        (instrument, rows, clef, one, other) => {
          const [from, to] = [Math.min(one, other), Math.max(one, other)];
          const isIn = (at: number) => at >= from && at < to;
          const found = read(instrument, ...rows);
          const made = readUnder(instrument, rows, (bar, at) =>
            isIn(4 * bar + at / QUARTER) ? clef : undefined,
          );
          rows.flat().forEach((height, at) => {
            if (height === null) return;
            const [bar, beatInBar] = [Math.floor(at / 4), at % 4];
            const wanted = isIn(at) ? clef : clefAt(found, bar, beatInBar);
            expect(clefAt(made, bar, beatInBar)).toBe(wanted);
          });
        },
      ),
    );
  });

  it('reads a pitch where its clef has it', () => {
    // E4, the bottom line of the treble clef; G2 of the bass clef.
    expect(LINES.treble[0]).toBe(diatonicHeight({ step: 'E', octave: 4 }));
    expect(LINES.bass[0]).toBe(diatonicHeight({ step: 'G', octave: 2 }));
  });
});
