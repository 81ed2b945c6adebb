import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { meanOf, medianOf } from './average';

describe('averages', () => {
  it('are the mean and the middle; of nothing 0', () => {
    expect([meanOf([1, 2, 6]), medianOf([6, 1, 2]), medianOf([4, 1, 3, 2])]).toEqual([3, 2, 3]);
    expect([meanOf([]), medianOf([])]).toEqual([0, 0]);
  });

  it('lie within the values, and the middle is one of them', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -999, max: 999 }), { minLength: 1 }), (values) => {
        expect(values).toContain(medianOf(values));
        expect(meanOf(values)).toBeGreaterThanOrEqual(Math.min(...values) - 1e-9);
        expect(meanOf(values)).toBeLessThanOrEqual(Math.max(...values) + 1e-9);
      }),
    );
  });
});
