import { type Frame, momentOf } from '../../model/frame';
import type { SketchNote } from '../../model/sketch';
import { type Moment, QUARTER } from '../../model/time';

/** How exactly a part's events sit on the grid of 32nds and triplet 32nds. */
export interface Tidiness {
  /** Attacks, or releases, lie on the grid to the tick: they were written, not played. */
  attacks: boolean;
  releases: boolean;
}

export const FINE_STEPS = [QUARTER / 8, QUARTER / 12];
/** Quintuplets and septuplets of a quarter: a written part may have some. */
const RARE_STEPS = [QUARTER / 5, QUARTER / 7];
/** This share of events on the grid cannot be chance; nor can this one, where nearly all others are in rare tuplets. */
const TIDY_SHARE = 0.9;
const MOSTLY_TIDY = 0.6;
const NEARLY_ALL = 0.98;

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
  return {
    attacks: areTidy(
      notes.map((note) => momentOf(frame, note.on)),
      frame,
    ),
    releases: areTidy(
      notes.map((note) => momentOf(frame, note.off)),
      frame,
    ),
  };
}

function areTidy(moments: readonly Moment[], frame: Frame): boolean {
  const countOn = (steps: readonly number[]) =>
    moments.filter((moment) => isExactly(moment, nearestPlace(moment, steps), frame)).length;
  const fine = countOn(FINE_STEPS);
  if (fine >= TIDY_SHARE * moments.length) return true;
  if (fine < MOSTLY_TIDY * moments.length) return false;
  return countOn([...FINE_STEPS, ...RARE_STEPS]) >= NEARLY_ALL * moments.length;
}

/** The place on the fine grid at which a written attack stands to the tick, if it does. */
export function exactPlace(moment: Moment, frame: Frame): Moment | undefined {
  const place = nearestPlace(moment, FINE_STEPS);
  return isExactly(moment, place, frame) ? place : undefined;
}

/** Whether two moments, or spans, are equal to the tick. */
export const isExactly = (one: number, other: number, frame: Frame): boolean =>
  Math.abs(other - one) <= tickTolerance(frame.clock.ticksPerQuarter);
