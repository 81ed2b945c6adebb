import { lastAtOrBefore } from '../basics/search';

/**
 * The clock of a piece: ticks ↔ seconds ↔ bars and beats.
 *
 * Ticks are the source's own; a quarter note is `ticksPerQuarter` of them.
 * Bars are counted by index from 0; their printed numbers start at `firstBar`.
 * A meter change inside a bar cuts that bar short: the new bar starts there.
 */

export interface TempoChange {
  tick: number;
  microsPerQuarter: number;
}

export interface Meter {
  numerator: number;
  /** Written denominator: 1, 2, 4, 8 … */
  denominator: number;
}

export const isSameMeter = (one: Meter, other: Meter): boolean =>
  one.numerator === other.numerator && one.denominator === other.denominator;

export interface MeterChange extends Meter {
  tick: number;
}

export interface ClockSource {
  ticksPerQuarter: number;
  tempos?: readonly TempoChange[];
  meters?: readonly MeterChange[];
  /** Length of an incomplete first bar, in ticks; 0 or absent for none. */
  upbeat?: number;
  /** Printed number of the first complete bar; 1 where absent. */
  firstBar?: number;
}

interface TempoSpan extends TempoChange {
  /** Microseconds × ticksPerQuarter from the start: an integer, so nothing drifts. */
  tickMicros: number;
}

interface MeterSpan {
  tick: number;
  meter: Meter;
  barTicks: number;
  /** Index of the first bar of this span. */
  bar: number;
}

export interface Clock {
  ticksPerQuarter: number;
  tempos: readonly TempoSpan[];
  meters: readonly MeterSpan[];
  upbeat: number;
  firstBar: number;
}

/** One bar as the clock sees it; ticks. `number` is the printed one. */
export interface ClockBar {
  index: number;
  number: number;
  start: number;
  length: number;
  meter: Meter;
  isUpbeat: boolean;
}

/** `beat` counts from 1 in units of the meter's denominator; `offset` is the rest in ticks. */
export interface BarPosition {
  bar: number;
  beat: number;
  offset: number;
}

/** Hours of music. What runs on for longer has a broken time somewhere, and every later step works bar by bar. */
export const MOST_BARS = 10_000;

/** Nobody holds a note for so many bars, or four times as many quarters (common practice). */
export const LONGEST_HELD = 250;

export const DEFAULT_MICROS_PER_QUARTER = 500_000;

/** The slowest tempo that a Standard MIDI File can tell: three bytes (SMF 1.0, FF 51). */
export const SLOWEST_MICROS_PER_QUARTER = 0xffffff;
const COMMON_TIME: Meter = { numerator: 4, denominator: 4 };

/** Ticks in a full bar of `meter`. */
export const barTicksOf = (meter: Meter, ticksPerQuarter: number): number =>
  (ticksPerQuarter * 4 * meter.numerator) / meter.denominator;

/**
 * Builds a clock. Of several changes at one tick the last counts. SMF 1.0
 * gives 120 quarter notes a minute and 4/4 until the file says otherwise.
 */
export function makeClock(source: ClockSource): Clock {
  const { ticksPerQuarter, firstBar = 1 } = source;
  const upbeat = withinBar(source);
  return {
    ticksPerQuarter,
    tempos: tempoSpans(source.tempos ?? []),
    meters: meterSpans(source.meters ?? [], ticksPerQuarter, upbeat),
    upbeat,
    firstBar,
  };
}

/** The upbeat without whole bars: what fills one is no upbeat, and its bar lines fall where they would. */
function withinBar({ ticksPerQuarter, upbeat = 0, meters = [] }: ClockSource): number {
  const opening = lastPerTick(meters).findLast(({ tick }) => tick <= upbeat) ?? COMMON_TIME;
  return upbeat % barTicksOf(opening, ticksPerQuarter);
}

function lastPerTick<T extends { tick: number }>(changes: readonly T[]): T[] {
  const sorted = [...changes].sort((a, b) => a.tick - b.tick);
  return sorted.filter((change, index) => sorted[index + 1]?.tick !== change.tick);
}

function tempoSpans(changes: readonly TempoChange[]): TempoSpan[] {
  const spans: TempoSpan[] = [{ tick: 0, microsPerQuarter: DEFAULT_MICROS_PER_QUARTER, tickMicros: 0 }];
  for (const change of lastPerTick(changes)) {
    const last = spans.at(-1)!;
    if (change.tick === last.tick) {
      last.microsPerQuarter = change.microsPerQuarter;
      continue;
    }
    const tickMicros = last.tickMicros + (change.tick - last.tick) * last.microsPerQuarter;
    spans.push({ tick: change.tick, microsPerQuarter: change.microsPerQuarter, tickMicros });
  }
  return spans;
}

function meterSpans(changes: readonly MeterChange[], ticksPerQuarter: number, upbeat: number): MeterSpan[] {
  const sorted = lastPerTick(changes);
  const opening = sorted.filter((change) => change.tick <= upbeat).at(-1) ?? COMMON_TIME;
  const spanOf = (tick: number, meter: Meter, bar: number): MeterSpan => ({
    tick,
    meter: { numerator: meter.numerator, denominator: meter.denominator },
    barTicks: barTicksOf(meter, ticksPerQuarter),
    bar,
  });
  const spans: MeterSpan[] = [];
  if (upbeat > 0) spans.push({ ...spanOf(0, opening, 0), barTicks: upbeat });
  spans.push(spanOf(upbeat, opening, spans.length));
  for (const change of sorted) {
    const last = spans.at(-1)!;
    if (change.tick <= last.tick) {
      if (change.tick === last.tick) spans[spans.length - 1] = spanOf(last.tick, change, last.bar);
      continue;
    }
    const bars = (change.tick - last.tick) / last.barTicks;
    if (isSameMeter(change, last.meter) && Number.isInteger(bars)) continue;
    spans.push(spanOf(change.tick, change, last.bar + Math.ceil(bars - 1e-9)));
  }
  return spans;
}

/** Seconds from the start of the piece to `tick`. */
export function secondsAt(clock: Clock, tick: number): number {
  const span = clock.tempos[lastAtOrBefore(clock.tempos, tick, (item) => item.tick)]!;
  return (span.tickMicros + (tick - span.tick) * span.microsPerQuarter) / (clock.ticksPerQuarter * 1e6);
}

/** The (fractional) tick at `seconds`; exact enough that rounding returns any whole tick given to `secondsAt`. */
export function tickAt(clock: Clock, seconds: number): number {
  const tickMicros = seconds * clock.ticksPerQuarter * 1e6;
  const span = clock.tempos[lastAtOrBefore(clock.tempos, tickMicros, (item) => item.tickMicros)]!;
  return span.tick + (tickMicros - span.tickMicros) / span.microsPerQuarter;
}

/** To the hundredth, as fine as ticks of beats are kept: whole ones of a coarse file would make a steady tempo waver. */
export const hundredths = (tick: number): number => Math.round(tick * 100) / 100;

/** The tempo that holds at `tick`, in microseconds per quarter note. */
export const tempoAt = (clock: Clock, tick: number): number =>
  clock.tempos[lastAtOrBefore(clock.tempos, tick, (item) => item.tick)]!.microsPerQuarter;

/** The bar with this index. */
export function barOf(clock: Clock, index: number): ClockBar {
  const at = lastAtOrBefore(clock.meters, index, (item) => item.bar);
  const span = clock.meters[at]!;
  const next = clock.meters[at + 1];
  const start = span.tick + (index - span.bar) * span.barTicks;
  const length = next && index + 1 === next.bar ? next.tick - start : span.barTicks;
  const isUpbeat = clock.upbeat > 0 && index === 0;
  const number = index + clock.firstBar - (clock.upbeat > 0 ? 1 : 0);
  return { index, number, start, length, meter: span.meter, isUpbeat };
}

/** The bar in which `tick` lies; a bar line belongs to the bar that it opens. */
export function barAt(clock: Clock, tick: number): ClockBar {
  const at = lastAtOrBefore(clock.meters, tick, (item) => item.tick);
  const span = clock.meters[at]!;
  const last = clock.meters[at + 1] ? clock.meters[at + 1]!.bar - 1 : Number.POSITIVE_INFINITY;
  const index = span.bar + Math.floor((tick - span.tick) / span.barTicks);
  return barOf(clock, Math.min(index, last));
}

/** Bar index, beat and remaining ticks of `tick`. */
export function positionAt(clock: Clock, tick: number): BarPosition {
  const bar = barAt(clock, tick);
  const beatTicks = (clock.ticksPerQuarter * 4) / bar.meter.denominator;
  const beat = Math.floor((tick - bar.start) / beatTicks);
  return { bar: bar.index, beat: beat + 1, offset: tick - bar.start - beat * beatTicks };
}

/** The tick of a position; the inverse of `positionAt`. */
export function tickOf(clock: Clock, position: BarPosition): number {
  const bar = barOf(clock, position.bar);
  return (
    bar.start + ((position.beat - 1) * clock.ticksPerQuarter * 4) / bar.meter.denominator + position.offset
  );
}

/** All bars from the start to the one in which the last moment before `endTick` lies; at least one. */
export function barsUntil(clock: Clock, endTick: number): ClockBar[] {
  const bars: ClockBar[] = [];
  for (let bar = barOf(clock, 0); bars.length === 0 || bar.start < endTick; bar = barOf(clock, bars.length))
    bars.push(bar);
  return bars;
}

/**
 * The bars of a piece that ends at `endTick`. A last release that runs over
 * the bar line by less than a sixteenth opens no bar of its own.
 */
export const barsOfPiece = (clock: Clock, endTick: number): ClockBar[] =>
  barsUntil(clock, Math.max(0, endTick - clock.ticksPerQuarter / 4));

/**
 * The upbeat that a file's meters suggest, in ticks: notation programs write
 * an incomplete first bar as one bar of a shorter meter (common practice).
 */
export function suggestedUpbeat(meters: readonly MeterChange[], ticksPerQuarter: number): number {
  const [first, second] = lastPerTick(meters);
  if (!first || !second || first.tick !== 0) return 0;
  const length = barTicksOf(first, ticksPerQuarter);
  return second.tick === length && barTicksOf(second, ticksPerQuarter) > length ? length : 0;
}
