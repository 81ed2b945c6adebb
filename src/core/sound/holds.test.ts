import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import '../../../tests/helpers/properties';
import { heardAt, holdsOf, pieceAt, type Stretch } from './holds';

const stretches = fc
  .array(
    fc.record({
      gap: fc.integer({ min: 0, max: 20 }),
      long: fc.integer({ min: 1, max: 20 }),
      times: fc.integer({ min: 3, max: 40 }),
    }),
    { maxLength: 12 },
  )
  .map((all) => {
    let at = 0;
    return all.map(({ gap, long, times }): Stretch => {
      const from = at + gap / 10;
      at = from + long / 10;
      return { from, to: at, times: times / 10 };
    });
  });
const moment = fc.integer({ min: 0, max: 600 }).map((at) => at / 10);

describe('where a reading waits', () => {
  it('is found again from what is heard, goes forward only, and adds up (property)', () => {
    fc.assert(
      fc.property(stretches, moment, moment, (all, one, two) => {
        const holds = holdsOf(all);
        expect(pieceAt(holds, heardAt(holds, one))).toBeCloseTo(one, 6);
        if (one < two) expect(heardAt(holds, one)).toBeLessThan(heardAt(holds, two));
        const longer = all.reduce(
          (sum, { from, to, times }) => sum + Math.max(0, Math.min(one, to) - from) * (times - 1),
          0,
        );
        expect(heardAt(holds, one)).toBeCloseTo(one + longer, 6);
      }),
    );
  });

  it('is nowhere without a stretch', () => {
    expect(holdsOf([])).toBeNull();
    expect([heardAt(null, 3), pieceAt(null, 3)]).toEqual([3, 3]);
  });
});
