import type { SwingMark } from './score';
import { type Moment, QUARTER } from './time';

/** A phase of a swung beat (0 … 1) as it would be straight. */
export function straighten(phase: number, ratio: number): number {
  return phase < ratio ? phase / (2 * ratio) : 0.5 + (phase - ratio) / (2 * (1 - ratio));
}

/** A phase of a straight beat as it sounds swung; the inverse of `straighten`. */
export function swingPhase(phase: number, ratio: number): number {
  return phase < 0.5 ? phase * 2 * ratio : ratio + (phase - 0.5) * 2 * (1 - ratio);
}

/** A moment with the phase within its quarter put through `warp`; `zero` is a beat of its bar. */
export function warpBeat(moment: Moment, zero: Moment, warp: (phase: number) => number): Moment {
  const phase = (((moment - zero) % QUARTER) + QUARTER) % QUARTER;
  return moment - phase + warp(phase / QUARTER) * QUARTER;
}

/** The swing that holds in a bar (index), if one does. */
export const swingInBar = (swings: readonly SwingMark[] | undefined, bar: number): SwingMark | undefined =>
  swings?.find((each) => bar >= each.from && bar < each.to);

/** Ratios of long to short as people and MusicXML write them, from the lightest. */
const NAMED: readonly [first: number, second: number][] = [
  [6, 5],
  [5, 4],
  [4, 3],
  [7, 5],
  [3, 2],
  [5, 3],
  [7, 4],
  [2, 1],
  [9, 4],
  [5, 2],
  [3, 1],
];

/** The small whole numbers nearest to a swing ratio: 2/3 of the beat is 2:1. */
export function swingNumbers(ratio: number): [first: number, second: number] {
  return NAMED.reduce((best, each) =>
    Math.abs(each[0] / (each[0] + each[1]) - ratio) < Math.abs(best[0] / (best[0] + best[1]) - ratio)
      ? each
      : best,
  );
}
