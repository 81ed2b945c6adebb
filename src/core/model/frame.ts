import { lastAtOrBefore } from '../basics/search';
import { barsUntil, type Clock, type ClockBar } from './clock';
import type { Groups } from './groups';
import { beatGroups, fullLength } from './meter';
import { type Bar, barIndexOf } from './score';
import { type Moment, QUARTER, WHOLE } from './time';

/** The bars of the piece, on both sides: ticks and score time. */
export interface Frame {
  clock: Clock;
  bars: Bar[];
  /** For each bar its first tick. */
  ticks: number[];
  /** Of a score whose bars are played more than once: all of them, in the order in which they are played. */
  passes?: readonly BarPass[];
}

/** A bar as it is played once; moments from its start, ticks of the performance. */
export interface BarPass {
  bar: number;
  from: Moment;
  to: Moment;
  tick: number;
}

/** No score may have more bars than this; a stray event far away would otherwise make millions. */
export const MAX_BARS = 20_000;

/** The bars of a piece whose last kept note ends at a tick. */
export const barsOfScore = (clock: Clock, lastTick: number): ClockBar[] =>
  barsUntil(clock, lastTick).slice(0, MAX_BARS);

/**
 * Step 2: settles the bars. The score ends with the bar in which the last
 * kept note ends. An upbeat takes the meter of the bar that follows it.
 *
 * @param groups of each bar, in units of its meter; null or absent for the usual ones
 */
export function frameBars(
  clock: Clock,
  clockBars: readonly ClockBar[],
  groups: readonly (Groups | null)[] = [],
): Frame {
  const bars: Bar[] = [];
  let start: Moment = 0;
  clockBars.forEach((clockBar, index) => {
    const bar = scoreBar(clockBar, start, clock.ticksPerQuarter, groups[index]);
    bars.push(bar);
    start += bar.length;
  });
  return { clock, bars, ticks: clockBars.map((bar) => bar.start) };
}

/** A 64th: nothing stands on paper in less. */
const SHORTEST_BAR = QUARTER / 16;

function scoreBar(
  bar: ClockBar,
  start: Moment,
  ticksPerQuarter: number,
  groups: Groups | null | undefined,
): Bar {
  const full = fullLength(bar.meter);
  // A bar that the source cuts at an odd tick, or shorter than that, is written to the nearest 64th.
  const exact = (bar.length / ticksPerQuarter) * QUARTER;
  const length =
    Number.isInteger(exact) && exact >= SHORTEST_BAR
      ? exact
      : Math.max(1, Math.round(exact / SHORTEST_BAR)) * SHORTEST_BAR;
  return {
    index: bar.index,
    number: bar.number,
    start,
    length: bar.isUpbeat || length < full ? length : full,
    meter: bar.meter,
    groups: groups ? groups.map((units) => (units * WHOLE) / bar.meter.denominator) : beatGroups(bar.meter),
    missing: bar.isUpbeat ? full - length : 0,
  };
}

/** Index of the bar in which a tick lies. */
export const frameIndex = (frame: Frame, tick: number): number =>
  lastAtOrBefore(frame.ticks, tick, (start) => start);

/** Score time of a tick, not rounded to any grid. */
export function momentOf(frame: Frame, tick: number): Moment {
  const index = frameIndex(frame, tick);
  return frame.bars[index]!.start + ((tick - frame.ticks[index]!) / frame.clock.ticksPerQuarter) * QUARTER;
}

/** The tick of a moment of the score; may be a fraction. */
export function tickOfMoment(frame: Frame, moment: Moment): number {
  const bar = barIndexOf(frame.bars, moment);
  const quarters = (moment - frame.bars[bar]!.start) / QUARTER;
  return frame.ticks[bar]! + quarters * frame.clock.ticksPerQuarter;
}

/**
 * Finds the ticks at which a moment of the score is played, ascending: one, or as many as its bar is played through
 * it. A moment that is never played has the one where it would be.
 */
export function playedTicks(frame: Frame): (moment: Moment) => readonly number[] {
  if (!frame.passes) return (moment) => [tickOfMoment(frame, moment)];
  const byBar = new Map<number, BarPass[]>();
  for (const pass of frame.passes) {
    const known = byBar.get(pass.bar);
    if (known) known.push(pass);
    else byBar.set(pass.bar, [pass]);
  }
  const known = new Map<Moment, readonly number[]>();
  return (moment) => {
    const found = known.get(moment);
    if (found) return found;
    const bar = barIndexOf(frame.bars, moment);
    const at = moment - frame.bars[bar]!.start;
    const ticks = (byBar.get(bar) ?? [])
      .filter(({ from, to }) => at >= from && at < to)
      .map(({ from, tick }) => tick + ((at - from) / QUARTER) * frame.clock.ticksPerQuarter);
    const all = ticks.length > 0 ? ticks : [tickOfMoment(frame, moment)];
    known.set(moment, all);
    return all;
  };
}

/** The last moment of the score. */
export const frameEnd = (frame: Frame): Moment => {
  const last = frame.bars.at(-1)!;
  return last.start + last.length;
};
