import { barAt, type Clock, positionAt, secondsAt } from '../model/clock';

/** Where something stands on the clock. Bars are printed numbers, beats count from 1. */
export interface Place {
  tick: number;
  bar: number;
  beat: number;
  seconds: number;
}

/** The place of a tick. */
export function placeAt(clock: Clock, tick: number): Place {
  const { beat, offset } = positionAt(clock, tick);
  const bar = barAt(clock, tick);
  const beatTicks = (clock.ticksPerQuarter * 4) / bar.meter.denominator;
  return { tick, bar: bar.number, beat: beat + offset / beatTicks, seconds: secondsAt(clock, tick) };
}
