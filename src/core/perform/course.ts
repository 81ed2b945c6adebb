import { MOST_BARS } from '../model/clock';
import type { Bar, Part } from '../model/score';
import { gcd, type Moment, QUARTER, type Span } from '../model/time';
import { type PlayedBar, playedOrder } from './bar-order';

/** Ticks to a quarter that sequencers like, and the most that a file can say (SMF 1.0: 15 bits). */
const USUAL_TICKS = 480;
const MOST_TICKS = 32_767;

/** The bars of a score in the order in which they are played, and when. */
export interface Course {
  order: readonly PlayedBar[];
  /** When each begins, from the start of the playing. */
  starts: readonly Moment[];
  end: Moment;
  ticksPerQuarter: number;
  /** The tick of a moment of the playing. */
  tickOf: (moment: Moment) => number;
}

/** @param ticksPerQuarter of the playing */
export function courseOf(bars: readonly Bar[], repeats: boolean, ticksPerQuarter: number): Course {
  const order = repeats ? playedOrder(bars) : asWritten(bars);
  const starts: Moment[] = [];
  let end: Moment = 0;
  for (const { from, to } of order) {
    starts.push(end);
    end += to - from;
  }
  return {
    order,
    starts,
    end,
    ticksPerQuarter,
    tickOf: (moment) => Math.round((moment * ticksPerQuarter) / QUARTER),
  };
}

const asWritten = (bars: readonly Bar[]): PlayedBar[] =>
  bars.slice(0, MOST_BARS).map(({ length }, bar) => ({ bar, from: 0, to: length, pass: 0 }));

/** The longest span that all of a part can be counted in, a quarter at most. */
export function unitOf(part: Part): Span {
  let unit: Span = QUARTER;
  for (const bar of part.bars)
    for (const line of bar.voices)
      for (const item of line.items) unit = gcd(unit, gcd(Math.round(item.onset), Math.round(item.duration)));
  return unit;
}

/** Ticks to a quarter in which everything that is written can be told exactly, where a file can hold that many. @param units of the parts */
export function resolutionOf(units: readonly Span[]): number {
  const unit = units.reduce(gcd, QUARTER);
  const needed = QUARTER / Math.max(1, unit);
  const both = (USUAL_TICKS * needed) / gcd(USUAL_TICKS, needed);
  return both <= MOST_TICKS ? both : needed <= MOST_TICKS ? needed : 2 * USUAL_TICKS;
}
