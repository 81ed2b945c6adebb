import { type Moment, QUARTER } from '../score/time';
import { type Frame, momentOf } from './frame';
import type { SketchNote } from './sketch';

/** How exactly a part's events sit on the grid of 32nds and triplet 32nds. */
export interface Tidiness {
  /** Attacks, or releases, lie on the grid to the tick: they were written, not played. */
  attacks: boolean;
  releases: boolean;
}

export const FINE_STEPS = [QUARTER / 8, QUARTER / 12];
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

/** Tolerance for "on the grid": one tick, or half a tick where ticks are coarse. */
export const tickTolerance = (ticksPerQuarter: number): number =>
  ((ticksPerQuarter >= 192 ? 1 : 0.5) / ticksPerQuarter) * QUARTER + 1e-6;

/** Is this part written or played? */
export function measureTidiness(notes: readonly SketchNote[], frame: Frame): Tidiness {
  const tolerance = tickTolerance(frame.clock.ticksPerQuarter);
  const isOn = (moment: Moment) => Math.abs(nearestPlace(moment, FINE_STEPS) - moment) <= tolerance;
  let attacksOn = 0;
  let releasesOn = 0;
  for (const note of notes) {
    if (isOn(momentOf(frame, note.on))) attacksOn++;
    if (isOn(momentOf(frame, note.off))) releasesOn++;
  }
  return {
    attacks: attacksOn >= TIDY_SHARE * notes.length,
    releases: releasesOn >= TIDY_SHARE * notes.length,
  };
}

/** The place on the fine grid at which a written attack stands to the tick, if it does. */
export function exactPlace(moment: Moment, frame: Frame): Moment | undefined {
  const place = nearestPlace(moment, FINE_STEPS);
  return isExactly(moment, place, frame) ? place : undefined;
}

/** Whether two moments, or spans, are equal to the tick. */
export const isExactly = (one: number, other: number, frame: Frame): boolean =>
  Math.abs(other - one) <= tickTolerance(frame.clock.ticksPerQuarter);
