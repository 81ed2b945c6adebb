import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { attacksOf, shareTogether, usualLag } from './coincidence';

const beats = Array.from({ length: 40 }, (_, at) => 0.5 * at);
const sixteenths = Array.from({ length: 160 }, (_, at) => 0.125 * at);

describe('what is struck together', () => {
  it('is counted among other voices only, within so much', () => {
    const attacks = attacksOf([beats, [0, 0.504, 1.02]]);
    expect(shareTogether(attacks, 0, beats, 0, 0.006)).toBeCloseTo(2 / 40, 9);
    expect(shareTogether(attacks, 0, beats, 0, 0.03)).toBeCloseTo(3 / 40, 9);
    expect(shareTogether(attacksOf([beats]), 0, beats, 0, 0.1)).toBe(0);
    expect(shareTogether(attacks, 0, [], 0, 0.1)).toBe(0);
  });

  it('tells how late a voice is, whatever part of the others it joins in', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -0.1, max: 0.1, noNaN: true }),
        fc.integer({ min: 1, max: 7 }),
        (late, every) => {
          const own = beats
            .filter((_, at) => at % every === 0 || at % 3 === 0)
            .map((beat) => beat + 1 + late);
          const lag = usualLag(attacksOf([own, beats.map((beat) => beat + 1)]), 0, own);
          expect(Math.abs(lag - late)).toBeLessThanOrEqual(0.004);
        },
      ),
    );
  });

  it('takes the nearest lag where others strike on every 16th', () => {
    const own = beats.map((beat) => beat + 1.05);
    const attacks = attacksOf([own, sixteenths.map((each) => each + 1)]);
    expect(usualLag(attacks, 0, own)).toBeCloseTo(0.05, 2);
  });

  it('does not depend on the order of voices', () => {
    const own = beats.map((beat) => beat + 0.03);
    const [one, other] = [attacksOf([own, beats, sixteenths]), attacksOf([sixteenths, own, beats])];
    expect(usualLag(one, 0, own)).toBe(usualLag(other, 1, own));
    expect(shareTogether(one, 0, own, 0.03, 0.004)).toBe(shareTogether(other, 1, own, 0.03, 0.004));
  });
});
