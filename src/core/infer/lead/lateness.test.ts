import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { attacked, madeFrame, sketched } from '../../../../tests/helpers/sketch';
import { SWUNG_VALUES, type SwingMark } from '../../model/score';
import { swungMoment } from '../../model/swing';
import { QUARTER } from '../../model/time';
import { lateness, soundingPlace } from './lateness';

const frame = madeFrame(4);
const eighths: SwingMark = { from: 0, to: 2, value: 'eighth', ratio: 2 / 3 };

/** An attack at a place in quarters, as played; its swing was taken out of `at`. */
function played(at: number, start: number, straight = at, even = false) {
  return {
    ...attacked(sketched(start, 0.25, 60)),
    at: straight * QUARTER,
    literal: at * QUARTER,
    start: start * QUARTER,
    even,
  };
}

describe('how late an attack is', () => {
  it('is counted from where the second of a swung pair sounds', () => {
    expect(soundingPlace(played(0.7, 0.5), frame, [eighths]) / QUARTER).toBeCloseTo(2 / 3, 9);
    expect(lateness(played(0.7, 0.5, 0.55), frame, [eighths]) / QUARTER).toBeCloseTo(0.7 - 2 / 3, 9);
  });

  it('is counted from the written place where nothing swings, and where it is read as it stands', () => {
    expect(lateness(attacked(sketched(8.5, 0.5, 60)), frame, [eighths])).toBe(0);
    expect(lateness(played(0.7, 0.667, 0.7, true), frame, [eighths]) / QUARTER).toBeCloseTo(0.033, 9);
    // From the third bar on it is straight again.
    expect(lateness(played(8.55, 8.5), frame, [eighths]) / QUARTER).toBeCloseTo(0.05, 9);
  });

  it('is the note’s own where one is asked about', () => {
    const note = sketched(0.75, 0.25, 64, { literal: { at: 0.72 * QUARTER, until: QUARTER } });
    expect(lateness(played(0.7, 0.5), frame, [eighths], note) / QUARTER).toBeCloseTo(0.72 - 2 / 3, 9);
  });

  it('is as large for early as for late attacks, wherever they stand in swing', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...SWUNG_VALUES),
        fc.double({ min: 0.55, max: 0.72, noNaN: true }),
        fc.integer({ min: 1, max: 14 }),
        fc.double({ min: 0.001, max: 0.05, noNaN: true }),
        (value, ratio, slot, away) => {
          const swing = { ...eighths, value, ratio };
          const start = slot * (value === '16th' ? 0.25 : 0.5);
          const sounds = swungMoment(start * QUARTER, 0, swing) / QUARTER;
          const late = lateness(played(sounds + away, start), frame, [swing]) / QUARTER;
          const early = lateness(played(sounds - away, start), frame, [swing]) / QUARTER;
          expect(late).toBeCloseTo(away, 6);
          expect(early).toBeCloseTo(-away, 6);
        },
      ),
    );
  });
});
