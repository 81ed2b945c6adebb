import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SWUNG_VALUES, type SwingMark } from './score';
import {
  pairAt,
  straighten,
  straightMoment,
  swingInBar,
  swingNumbers,
  swingPhase,
  swungMoment,
} from './swing';
import { QUARTER } from './time';

describe('swing', () => {
  it('puts the second eighth where the ratio says, and takes it back', () => {
    expect(swingPhase(0.5, 2 / 3)).toBeCloseTo(2 / 3);
    expect(straighten(2 / 3, 2 / 3)).toBeCloseTo(0.5);
    expect([swingPhase(0, 0.6), straighten(0, 0.6)]).toEqual([0, 0]);
  });

  it('is undone by straightening, and keeps beats where they are', () => {
    const ratio = fc.double({ min: 0.51, max: 0.75, noNaN: true });
    fc.assert(
      fc.property(ratio, fc.double({ min: 0, max: 0.999, noNaN: true }), fc.nat(20), (each, phase, beat) => {
        expect(straighten(swingPhase(phase, each), each)).toBeCloseTo(phase, 9);
        const zero = QUARTER / 2;
        const line = zero + beat * QUARTER;
        for (const value of SWUNG_VALUES) {
          const swing = { from: 0, to: 1, value, ratio: each };
          expect(swungMoment(line, zero, swing)).toBe(line);
          const moment = line + phase * QUARTER;
          expect(straightMoment(swungMoment(moment, zero, swing), zero, swing) / QUARTER).toBeCloseTo(
            moment / QUARTER,
            9,
          );
        }
      }),
      { numRuns: 200 },
    );
  });

  it('is said in small whole numbers', () => {
    expect(swingNumbers(2 / 3)).toEqual([2, 1]);
    expect(swingNumbers(0.601)).toEqual([3, 2]);
    expect(swingNumbers(0.55)).toEqual([6, 5]);
  });

  it('holds from its first bar up to its last', () => {
    const swings: SwingMark[] = [{ from: 2, to: 4, value: '16th', ratio: 0.6 }];
    expect([1, 2, 3, 4].map((bar) => swingInBar(swings, bar)?.ratio)).toEqual([
      undefined,
      0.6,
      0.6,
      undefined,
    ]);
    expect(swingInBar(undefined, 0)).toBeUndefined();
    expect([pairAt(swings, 1), pairAt(swings, 2)]).toEqual([0, QUARTER / 2]);
  });
});
