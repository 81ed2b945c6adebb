import { QUARTER } from '../score/time';
import { type Frame, momentOf } from './frame';
import type { SketchNote } from './sketch';

/** How exactly a part's events sit on the grid of 32nds and triplet 32nds. */
export interface Tidiness {
  /** Attacks, or releases, lie on the grid to the tick: they were written, not played. */
  attacks: boolean;
  releases: boolean;
  /** Typical distance of an attack from the grid of 16ths and triplet eighths, in seconds. */
  jitter: number;
}

export const FINE_STEPS = [QUARTER / 8, QUARTER / 12];
const COARSE_STEPS = [QUARTER / 4, QUARTER / 3];
/** This share of events on the grid cannot be chance. */
const TIDY_SHARE = 0.9;

/** The point nearest to `moment` on any of the grids. */
export function nearestPlace(moment: number, steps: readonly number[]): number {
  let best = Number.POSITIVE_INFINITY;
  for (const step of steps) {
    const place = Math.round(moment / step) * step;
    if (Math.abs(place - moment) < Math.abs(best - moment)) best = place;
  }
  return best;
}

const gridDistance = (moment: number, steps: readonly number[]): number =>
  Math.abs(nearestPlace(moment, steps) - moment);

/** Tolerance for "on the grid": one tick, or half a tick where ticks are coarse. */
export const tickTolerance = (ticksPerQuarter: number): number =>
  ((ticksPerQuarter >= 192 ? 1 : 0.5) / ticksPerQuarter) * QUARTER + 1e-6;

/** Step 3: is this part written or played, and if played, how loosely? */
export function measureTidiness(
  notes: readonly SketchNote[],
  frame: Frame,
  secondsPerUnit: (tick: number) => number,
): Tidiness {
  const tolerance = tickTolerance(frame.clock.ticksPerQuarter);
  let attacksOn = 0;
  let releasesOn = 0;
  const distances: number[] = [];
  for (const note of notes) {
    const on = momentOf(frame, note.on);
    if (gridDistance(on, FINE_STEPS) <= tolerance) attacksOn++;
    if (gridDistance(momentOf(frame, note.off), FINE_STEPS) <= tolerance) releasesOn++;
    distances.push(gridDistance(on, COARSE_STEPS) * secondsPerUnit(note.on));
  }
  distances.sort((a, b) => a - b);
  const median = distances[distances.length >> 1] ?? 0;
  return {
    attacks: attacksOn >= TIDY_SHARE * notes.length,
    releases: releasesOn >= TIDY_SHARE * notes.length,
    // 1.4826 turns a median distance into a standard deviation (normal distribution).
    jitter: 1.4826 * median,
  };
}
