import type { Frame } from '../../model/frame';
import { barIndexOf } from '../../model/score';
import type { Attack } from '../../model/sketch';
import { type Moment, QUARTER, type Span } from '../../model/time';

/** What beats are divided by where attacks stand in them, and where attacks stand at all. */
export interface Places {
  /** Releases come often where nothing else would make a value: their places mean nothing in this part. */
  areGated: boolean;
  /** By the moment at which a quarter begins. */
  divisions: ReadonlyMap<Moment, ReadonlySet<number>>;
  starts: ReadonlySet<Moment>;
}

/** Divisions of a quarter that only attacks make: triplets, sextuplets, 32nds, finer triplets. */
const MADE = [3, 6, 8, 12];

/** What the attacks of a part divide their beats by, and where they stand. */
export function placesOf(attacks: readonly Attack[], frame: Frame): Omit<Places, 'areGated'> {
  const divisions = new Map<Moment, Set<number>>();
  const starts = new Set<Moment>();
  for (const { start } of attacks) {
    starts.add(start);
    const { quarter, inside } = quarterOf(start, frame);
    const made = MADE.find((count) => isMultiple(inside, count)) ?? 0;
    if (isMultiple(inside, 4) || made === 0) continue;
    divisions.set(quarter, (divisions.get(quarter) ?? new Set()).add(made));
  }
  return { divisions, starts };
}

/** Whether a place inside a quarter is one of so many equal ones. */
export const isMultiple = (inside: Span, count: number): boolean =>
  Number.isInteger((inside * count) / QUARTER);

/** The quarter of its bar in which a moment lies, and how far inside. */
export function quarterOf(moment: Moment, { bars }: Frame): { quarter: Moment; inside: Span } {
  const bar = bars[barIndexOf(bars, moment)]!;
  const zero = bar.start - bar.missing;
  const inside = (moment - zero) % QUARTER;
  return { quarter: moment - inside, inside };
}

/**
 * Whether a note may end here on paper: on the 16th, where another begins, or
 * where attacks divide the beat so. A release alone makes no tuplet and
 * nothing finer than a 16th (common practice).
 */
export function isPlace(moment: Moment, { divisions, starts, areGated }: Places, frame: Frame): boolean {
  if (!areGated) return true;
  const { quarter, inside } = quarterOf(moment, frame);
  if (isMultiple(inside, 4) || starts.has(moment)) return true;
  return [...(divisions.get(quarter) ?? [])].some((count) => isMultiple(inside, count));
}
