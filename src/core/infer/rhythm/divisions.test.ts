import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../../../tests/helpers/sketch';
import { DEFAULT_GRID } from '../../decisions/kinds/grid';
import { type Beat, beatsOfFrame } from '../../model/beats';
import type { SwingMark } from '../../model/score';
import { QUARTER } from '../../model/time';
import { divisionsOf } from './divisions';

const beat: Beat = { start: 0, length: QUARTER, bar: 0, ternary: false, run: 4 };
const eighths: SwingMark = { from: 0, to: 1, value: 'eighth', ratio: 2 / 3 };
const dotted: Beat = { ...beat, length: 1.5 * QUARTER, ternary: true };
const countsOf = (...[one, choice = DEFAULT_GRID, swing]: [Beat, typeof DEFAULT_GRID?, SwingMark?]) =>
  divisionsOf(one, choice, swing)[1].map(({ count }) => count);

describe('the beats of a frame', () => {
  it.each([
    [4, 4, 4, false],
    [3, 4, 3, false],
    [2, 2, 4, false],
    [6, 8, 2, true],
    [9, 8, 3, true],
    [12, 8, 4, true],
  ])('in %i/%i are %i a bar', (numerator, denominator, count, ternary) => {
    const beats = beatsOfFrame(madeFrame(2, numerator, denominator));
    expect(beats).toHaveLength(2 * count);
    expect(beats.every((each) => each.ternary === ternary)).toBe(true);
    expect(beats.slice(0, count).map(({ run }) => run)).toEqual(
      Array.from({ length: count }, (_, at) => count - at),
    );
  });

  it('fill irregular bars', () => {
    const beats = beatsOfFrame(madeFrame(2, 7, 8));
    expect(beats.reduce((sum, each) => sum + each.length, 0)).toBe(7 * QUARTER);
  });
});

describe('the divisions of a beat', () => {
  it('go from the plainest to the rarest, with slots on whole units', () => {
    for (const one of [beat, dotted])
      for (const list of Object.values(divisionsOf(one, DEFAULT_GRID, undefined))) {
        const priors = list.map(({ prior }) => prior);
        expect(priors).toEqual(priors.toSorted((a, b) => a - b));
        for (const { offsets, count, weights } of list) {
          expect(offsets).toHaveLength(count);
          expect(weights).toHaveLength(count);
          expect(offsets.every(Number.isInteger)).toBe(true);
        }
      }
  });

  it('are halves by the meter and thirds by a tuplet, or the other way round in compound time', () => {
    const foreign = (one: Beat) =>
      divisionsOf(one, DEFAULT_GRID, undefined)[1]
        .filter((each) => each.foreign)
        .map(({ count }) => count);
    expect(foreign(beat)).toContain(3);
    expect(foreign(beat)).not.toContain(2);
    expect(foreign(dotted)).toContain(2);
    expect(foreign(dotted)).not.toContain(3);
  });

  it('are what was chosen: no tuplets, nothing finer than the smallest value', () => {
    expect(countsOf(beat, { smallest: '16th', triplets: false })).toEqual([1, 2, 4]);
    expect(countsOf(beat, { smallest: 'quarter', triplets: false })).toEqual([1]);
    expect(countsOf(beat, { smallest: 'eighth', triplets: true })).toEqual([1, 2, 3]);
    expect(countsOf(dotted, { smallest: 'eighth', triplets: false })).toEqual([1, 3]);
  });

  it('go over several beats only where those lie in one bar', () => {
    expect(divisionsOf(beat, DEFAULT_GRID, undefined)[4].map(({ count }) => count)).toEqual([3]);
    expect(divisionsOf({ ...beat, run: 1 }, DEFAULT_GRID, undefined)[2]).toEqual([]);
    expect(divisionsOf({ ...beat, run: 3 }, DEFAULT_GRID, undefined)[4]).toEqual([]);
  });

  it('are swung or stand as they are in swung bars; outside of them, tuplets alone do', () => {
    const literal = (swing?: SwingMark) =>
      divisionsOf(beat, { smallest: '16th', triplets: true }, swing)[1]
        .filter((each) => each.literal && !each.foreign)
        .map(({ count }) => count);
    expect(literal()).toEqual([]);
    expect(literal(eighths).toSorted()).toEqual([2, 4]);
    expect(literal({ ...eighths, value: '16th' })).toEqual([4]);
    expect(divisionsOf(dotted, DEFAULT_GRID, eighths)[1]).toEqual(
      divisionsOf(dotted, DEFAULT_GRID, undefined)[1],
    );
  });
});
