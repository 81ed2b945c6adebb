import type { Moment, Span } from '../score/time';
import type { Division } from './divisions';

/** A played attack as the fit sees it. */
export interface Played {
  /** Score time as played. */
  at: Moment;
  /** Score time of one standard deviation of its jitter. */
  spread: Span;
  /** What it costs to read it as a grace note before the next attack; infinite where it cannot be one. */
  grace: number;
  /** What it costs to stand at one place with the attack before it. */
  collision: number;
}

/** One reading of a span. */
export interface Reading {
  cost: number;
  /** Place of each attack, as an offset from the start of the span; −1 for a grace note. */
  offsets: number[];
  count: number;
  beats: number;
  foreign: boolean;
  /** Nothing in it tells one kind of division from another. */
  neutral: boolean;
}

/** Beyond this many deviations, each further one costs the same: one slip must not decide a beat. */
const KNEE = 3;

export function deviationCost(away: Span, spread: Span): number {
  const z = Math.abs(away) / spread;
  return z <= KNEE ? (z * z) / 2 : (KNEE * KNEE) / 2 + KNEE * (z - KNEE);
}

/**
 * The best reading of the attacks `from` … `to` (exclusive) in one division of
 * a span: attacks go to slots in order, some as grace notes. Dynamic
 * programming over attacks × slots.
 *
 * @param offsets slots as offsets from the span's start, ascending
 * @param weights what an attack on each slot costs
 */
export function fitSlots(
  played: readonly Played[],
  from: number,
  to: number,
  start: Moment,
  offsets: readonly number[],
  weights: readonly number[],
): { cost: number; offsets: number[] } | null {
  const slots = offsets.length;
  const width = slots + 1;
  // Column 0 stands for "no slot used yet".
  let row = new Float64Array(width).fill(Number.POSITIVE_INFINITY);
  row[0] = 0;
  const backs: Int16Array[] = [];
  for (let index = from; index < to; index++) {
    const { at, spread, grace, collision } = played[index]!;
    const next = new Float64Array(width).fill(Number.POSITIVE_INFINITY);
    const back = new Int16Array(width);
    let least = Number.POSITIVE_INFINITY;
    let leastAt = 0;
    for (let slot = 0; slot < width; slot++) {
      if (slot > 0) {
        const emission = deviationCost(at - start - offsets[slot - 1]!, spread);
        const fresh = least + weights[slot - 1]!;
        const shared = row[slot]! + collision;
        next[slot] = Math.min(fresh, shared) + emission;
        back[slot] = fresh <= shared ? leastAt : slot;
      }
      const asGrace = row[slot]! + grace;
      if (asGrace < next[slot]!) {
        next[slot] = asGrace;
        back[slot] = -1 - slot;
      }
      if (row[slot]! < least) {
        least = row[slot]!;
        leastAt = slot;
      }
    }
    row = next;
    backs.push(back);
  }
  let slot = 0;
  for (let each = 1; each < width; each++) if (row[each]! < row[slot]!) slot = each;
  const cost = row[slot]!;
  if (!Number.isFinite(cost)) return null;
  const places: number[] = new Array(to - from);
  for (let index = to - from - 1; index >= 0; index--) {
    const back = backs[index]![slot]!;
    if (back < 0) {
      places[index] = -1;
      slot = -1 - back;
    } else {
      places[index] = offsets[slot - 1]!;
      slot = back;
    }
  }
  return { cost, offsets: places };
}

const offsetsOf = (length: Span, count: number): number[] =>
  Array.from({ length: count }, (_, slot) => (slot * length) / count);

/**
 * The best reading of a span's attacks in each division.
 *
 * @param bonus what speaks for an attack at a place (subtracted), by score time
 */
export function readSpan(
  played: readonly Played[],
  from: number,
  to: number,
  start: Moment,
  length: Span,
  divisions: readonly Division[],
  bonus: ((moment: Moment) => number) | null,
): Reading[] {
  const readings: Reading[] = [];
  for (const division of divisions) {
    const { count, beats, foreign, prior } = division;
    const offsets = offsetsOf(length, count);
    const weights = bonus
      ? division.weights.map((weight, slot) => weight - bonus(start + offsets[slot]!))
      : division.weights;
    const fitted = fitSlots(played, from, to, start, offsets, weights);
    if (!fitted) continue;
    const used = new Set(fitted.offsets.filter((offset) => offset >= 0));
    const neutral = [...used].every((offset) => offset === 0);
    // A division of which only the beat is used is the undivided beat again.
    if (neutral && count > 1) continue;
    if (beats > 1 && used.size < 2) continue;
    readings.push({
      cost: fitted.cost + prior,
      offsets: fitted.offsets,
      count,
      beats,
      foreign,
      neutral,
    });
  }
  return readings;
}
