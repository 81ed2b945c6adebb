import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { axisOf } from './axis';

describe('the axis of a system', () => {
  it('goes through what is known, evenly between', () => {
    const axis = axisOf([
      { moment: 0, x: 100 },
      { moment: 4, x: 300 },
      { moment: 8, x: 340 },
    ]);
    expect([0, 1, 4, 6, 8].map(axis)).toEqual([100, 150, 300, 320, 340]);
  });

  it('goes on at its mean pace outside', () => {
    const axis = axisOf([
      { moment: 10, x: 0 },
      { moment: 20, x: 100 },
    ]);
    expect([axis(5), axis(25)]).toEqual([-50, 150]);
  });

  it('stands still where next to nothing is known', () => {
    expect(axisOf([])(7)).toBe(0);
    expect(axisOf([{ moment: 3, x: 42 }])(7)).toBe(42);
  });

  it('never runs backwards, whatever was measured', () => {
    const knots = fc.array(fc.record({ moment: fc.nat(500), x: fc.integer({ min: -50, max: 900 }) }), {
      minLength: 1,
      maxLength: 30,
    });
    fc.assert(
      fc.property(
        knots,
        fc.array(fc.integer({ min: -100, max: 700 }), { minLength: 2 }),
        (known, moments) => {
          const axis = axisOf(known);
          const sorted = moments.toSorted((a, b) => a - b);
          sorted.forEach((moment, at) => {
            if (at > 0) expect(axis(moment)).toBeGreaterThanOrEqual(axis(sorted[at - 1]!) - 1e-9);
          });
        },
      ),
      { numRuns: 200 },
    );
  });
});
