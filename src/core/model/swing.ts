import type { SwingMark } from './score';
import { type Moment, type Span, typeSpan } from './time';

/** A phase of a swung pair (0 … 1) as it would be straight. */
export function straighten(phase: number, ratio: number): number {
  return phase < ratio ? phase / (2 * ratio) : 0.5 + (phase - ratio) / (2 * (1 - ratio));
}

/** A phase of a straight pair as it sounds swung; the inverse of `straighten`. */
export function swingPhase(phase: number, ratio: number): number {
  return phase < 0.5 ? phase * 2 * ratio : ratio + (phase - 0.5) * 2 * (1 - ratio);
}

/** How long a swung pair is, long and short together. */
export const pairOf = ({ value }: Pick<SwingMark, 'value'>): Span => 2 * typeSpan(value);

/** How far into its span of a length a moment lies; `zero` is where a span begins. */
export const within = (moment: Moment, zero: Moment, length: Span): Span =>
  (((moment - zero) % length) + length) % length;

function warp(moment: Moment, zero: Moment, swing: SwingMark, phased: typeof straighten): Moment {
  const pair = pairOf(swing);
  const into = within(moment, zero, pair);
  return moment - into + phased(into / pair, swing.ratio) * pair;
}

/** A swung moment as it would be straight; `zero` is a beat of its bar. */
export const straightMoment = (moment: Moment, zero: Moment, swing: SwingMark): Moment =>
  warp(moment, zero, swing, straighten);

/** A straight moment as it sounds swung; the inverse of `straightMoment`. */
export const swungMoment = (moment: Moment, zero: Moment, swing: SwingMark): Moment =>
  warp(moment, zero, swing, swingPhase);

/** The swing that holds in a bar (index), if one does. */
export const swingInBar = (swings: readonly SwingMark[] | undefined, bar: number): SwingMark | undefined =>
  swings?.find((each) => bar >= each.from && bar < each.to);

/** How long a swung pair is in a bar (index); 0 where nothing is swung. */
export function pairAt(swings: readonly SwingMark[], bar: number): Span {
  const swing = swingInBar(swings, bar);
  return swing ? pairOf(swing) : 0;
}

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

/** The small whole numbers nearest to a swing ratio: 2/3 of the pair is 2:1. */
export function swingNumbers(ratio: number): [first: number, second: number] {
  return NAMED.reduce((best, each) =>
    Math.abs(each[0] / (each[0] + each[1]) - ratio) < Math.abs(best[0] / (best[0] + best[1]) - ratio)
      ? each
      : best,
  );
}
