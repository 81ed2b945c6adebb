import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '../basics/steps';
import { QUARTER } from '../model/time';
import { alignUnits, type Unit } from './align-bars';
import type { Side } from './reading';

const BAR = 4 * QUARTER;
const bars = (count: number): Unit[] =>
  Array.from({ length: count }, (_, at) => ({ start: at * BAR, length: BAR }));

/** A reading whose bars have four quarters of a chord each, another one for each number; null for a silent bar. */
const reading = (kinds: readonly (number | null)[]): Side =>
  ({
    lines: [
      {
        notes: kinds.flatMap((kind, bar) =>
          kind === null
            ? []
            : [0, 1, 2, 3].map((beat) => ({
                start: bar * BAR + beat * QUARTER,
                key: 48 + 5 * kind + beat,
                grace: false,
              })),
        ),
      },
    ],
  }) as unknown as Side;

const laid = (one: readonly (number | null)[], two: readonly (number | null)[]) =>
  finished(alignUnits(reading(one), reading(two), [bars(one.length), bars(two.length)]));

const silent = (count: number): null[] => Array.from({ length: count }, () => null);

describe('bars laid over each other', () => {
  it('are one after the other where both say the same, cut and silent ones apart', () => {
    const { pairs, share } = laid([1, 2, 3, 4, 5], [1, 2, 4, 5]);
    expect(pairs.map(({ one, two }) => [one, two])).toEqual([
      [0, 0],
      [1, 1],
      [2, null],
      [3, 2],
      [4, 3],
    ]);
    expect(share).toBeCloseTo(8 / 9, 6);
  });

  it('leave over what goes on in silence, however long', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 9 }), { minLength: 1, maxLength: 12 }),
        fc.integer({ min: 100, max: 4000 }),
        fc.boolean(),
        (kinds, more, isFirst) => {
          const long = [...kinds, ...silent(more)];
          const { pairs, share } = isFirst ? laid(long, kinds) : laid(kinds, long);
          expect(share).toBe(1);
          expect(pairs).toHaveLength(long.length);
          pairs.forEach(({ one, two }, at) => {
            const [own, other] = isFirst ? [one, two] : [two, one];
            expect(own).toBe(at);
            expect(other).toBe(at < kinds.length ? at : null);
          });
        },
      ),
      { numRuns: 40 },
    );
  });
});
