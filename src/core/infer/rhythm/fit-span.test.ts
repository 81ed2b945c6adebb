import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEFAULT_GRID } from '../../decisions/kinds/grid';
import type { Beat } from '../../model/beats';
import { QUARTER } from '../../model/time';
import { divisionsOf } from './divisions';
import { CERTAIN, deviationCost, fitSlots, type Played, readSpan } from './fit-span';

const played = (...quarters: number[]): Played[] =>
  quarters.map((at) => ({
    at: at * QUARTER,
    spread: 0.03 * QUARTER,
    grace: Number.POSITIVE_INFINITY,
    hurried: 0,
    collision: 14,
  }));
const beat: Beat = { start: 0, length: QUARTER, bar: 0, ternary: false, run: 4 };
const best = (attacks: readonly Played[]) =>
  readSpan(
    attacks,
    0,
    attacks.length,
    {
      start: 0,
      length: QUARTER,
      divisions: divisionsOf(beat, DEFAULT_GRID, undefined)[1],
      pinned: [],
      supports: [],
    },
    CERTAIN,
  ).toSorted((a, b) => a.cost - b.cost)[0]!;

describe('one beat', () => {
  it.each<[number[], number]>([
    [[0.01], 1],
    [[0, 0.52], 2],
    [[0.02, 0.27, 0.49, 0.74], 4],
    [[0, 0.32, 0.68], 3],
    [[0.01, 0.16, 0.34, 0.5, 0.66, 0.85], 6],
    [[0, 0.21, 0.39, 0.6, 0.81], 5],
  ])('with attacks at %j divides in %i', (attacks, count) => {
    expect(best(played(...attacks)).count).toBe(count);
  });

  it('reads what comes just before the next attack as a grace note, where it may be one', () => {
    const [first, second] = played(0.4, 0.5);
    const fitted = fitSlots(
      [{ ...first!, grace: 1 }, second!],
      0,
      2,
      0,
      [0, QUARTER / 2],
      [0, QUARTER / 2],
      [0, 0.3],
    )!;
    expect(fitted.offsets).toEqual([-1, QUARTER / 2]);
  });

  it('is not decided by one slip', () => {
    const slope = deviationCost(11, 1) - deviationCost(10, 1);
    expect(slope).toBeCloseTo(deviationCost(5, 1) - deviationCost(4, 1));
  });
});

describe('slots', () => {
  it('are taken in order, and none costs less than the best by hand', () => {
    const offsets = [0, 0.25, 0.5, 0.75].map((each) => each * QUARTER);
    const weights = [0, 1, 0.3, 0.8];
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 3 }),
        (at) => {
          const attacks = played(...at.toSorted((a, b) => a - b));
          const fitted = fitSlots(attacks, 0, attacks.length, 0, offsets, offsets, weights)!;
          // All ways to give the attacks slots, in order, by brute force.
          let least = Number.POSITIVE_INFINITY;
          const tryAll = (index: number, slot: number, cost: number) => {
            if (index === attacks.length) {
              least = Math.min(least, cost);
              return;
            }
            for (let next = Math.max(0, slot); next < 4; next++) {
              const { at: where, spread, collision } = attacks[index]!;
              const place = next === slot ? collision : weights[next]!;
              tryAll(index + 1, next, cost + place + deviationCost(where - offsets[next]!, spread));
            }
          };
          tryAll(0, -1, 0);
          expect(fitted.cost).toBeCloseTo(least, 6);
          fitted.offsets.forEach((offset, index) => {
            if (index > 0) expect(offset).toBeGreaterThanOrEqual(fitted.offsets[index - 1]!);
          });
        },
      ),
      { numRuns: 300 },
    );
  });
});
