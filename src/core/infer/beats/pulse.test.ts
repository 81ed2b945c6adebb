import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { madeFile, madeTrack, type Stroke } from '../../../../tests/helpers/made-file';
import { readPerformance } from '../../sources/smf/performance';
import { informationOf } from './information';
import { otherPulse } from './pulse';

const TICKS = 480;
const file = (quarters: readonly number[]) =>
  readPerformance(
    madeFile(
      madeTrack(
        'Piano',
        0,
        quarters.map((at): Stroke => [Math.round(at * TICKS), Math.round(at * TICKS) + 60, 60]),
      ),
    ),
  );
const beats = (count: number, places: readonly number[], step = 1) =>
  Array.from({ length: count }, (_, beat) => places.map((place) => (beat + place) * step)).flat();

describe('a pulse across the file’s', () => {
  it('is found where long and short go by threes of 16ths, and the long one is the beat', () => {
    // Swung pairs at 160 a minute, recorded to a click of 120.
    const found = otherPulse(file(beats(64, [0, 2 / 3], 0.75)))!;
    expect(found.seconds.slice(0, 4)).toEqual([0, 0.375, 0.75, 1.125]);
  });

  it('is found where the file counts triplets and the music goes by two of them', () => {
    const found = otherPulse(file(beats(64, [0, 1 / 2], 4 / 3)))!;
    expect(found.seconds[1]! - found.seconds[0]!).toBeCloseTo(2 / 3, 3);
  });

  it.each([
    ['quarters', beats(96, [0])],
    ['16ths', beats(48, [0, 0.25, 0.5, 0.75])],
    ['dotted rhythms', beats(64, [0, 0.75])],
    ['triplets', beats(48, [0, 1 / 3, 2 / 3])],
    ['swung pairs', beats(64, [0, 2 / 3])],
    ['threes and threes and twos', beats(40, [0, 0.75, 1.5], 2)],
    ['too little', beats(8, [0, 2 / 3], 0.75)],
  ])('is not found in %s', (_, quarters) => {
    expect(otherPulse(file(quarters))).toBeNull();
  });
});

describe('what places tell', () => {
  it('is nothing where all are struck alike, and all where one is', () => {
    expect(informationOf([0, 1, 2, 3, 4, 5], 3)).toBeCloseTo(0, 9);
    expect(informationOf([2, 5, 8], 3)).toBeCloseTo(Math.log2(3), 9);
  });

  it('never falls below nothing, nor rises above the period’s own bits', () => {
    fc.assert(
      fc.property(
        fc.array(fc.nat(200), { minLength: 1 }),
        fc.integer({ min: 1, max: 12 }),
        (places, period) => {
          const bits = informationOf(places, period);
          expect(bits).toBeGreaterThan(-1e-9);
          expect(bits).toBeLessThan(Math.log2(period) + 1e-9);
        },
      ),
    );
  });
});
