import type { Bar, Score } from '../model/score';
import { pairOf, swingInBar, swungMoment, within } from '../model/swing';
import { type Moment, QUARTER } from '../model/time';

/**
 * How a part's written moments sound where the score is swung: the second of
 * each pair comes late; beats that hold tuplets or finer values are played as
 * they stand (common practice: double time is even).
 *
 * @param barOf the bar in which a moment lies
 */
export function swungMoments(
  score: Score,
  notes: readonly { start: Moment }[],
  barOf: (moment: Moment) => Bar,
): (moment: Moment) => Moment {
  const { swings } = score;
  if (!swings) return (moment) => moment;
  const zeroOf = (moment: Moment): Moment => {
    const bar = barOf(moment);
    return bar.start - bar.missing;
  };
  const beatOf = (moment: Moment): Moment => moment - within(moment, zeroOf(moment), QUARTER);
  const even = new Set<Moment>();
  for (const { start } of notes) {
    const swing = swingInBar(swings, barOf(start).index);
    if (swing && within(start, zeroOf(start), pairOf(swing) / 2) !== 0) even.add(beatOf(start));
  }
  return (moment) => {
    const swing = swingInBar(swings, barOf(moment).index);
    return !swing || even.has(beatOf(moment)) ? moment : swungMoment(moment, zeroOf(moment), swing);
  };
}
