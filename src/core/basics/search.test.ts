import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lastAtOrBefore } from './search';

describe('the last item at or before a value', () => {
  it('is what going through all of them finds', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 1 }),
        fc.integer({ min: -60, max: 60 }),
        (items, value) => {
          const sorted = items.toSorted((a, b) => a - b);
          const found = sorted.findLastIndex((item) => item <= value);
          expect(lastAtOrBefore(sorted, value, (item) => item)).toBe(Math.max(0, found));
        },
      ),
    );
  });

  it('is the first where there is none', () => {
    expect(lastAtOrBefore([5, 6], 1, (item) => item)).toBe(0);
    expect(lastAtOrBefore([], 1, (item: number) => item)).toBe(0);
  });
});
