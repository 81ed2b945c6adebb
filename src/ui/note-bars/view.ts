import { barAt, barOf, type Clock } from '../../core/model/clock';
import type { StrandBars } from '../../core/workbench/note-bars';

/** Selected notes: indices of notes by index of strand. */
export type NoteSelection = ReadonlyMap<number, ReadonlySet<number>>;

/** What part of the performance is in sight. Ticks across, pixels down. */
export interface View {
  /** Tick at the left edge; may be a fraction. */
  start: number;
  ticksPerPixel: number;
  /** Pixels scrolled down. */
  top: number;
  /** Pixels a semitone. */
  row: number;
}

/** The place of one strand: a strip as high as its range. */
export interface Strip {
  strand: StrandBars;
  /** Index of the strand in the data, which gives its ink. */
  index: number;
  top: number;
  height: number;
}

const LEAST_HEIGHT = 30;
/** Semitones of air above and below the range. */
const AIR = 2;

export const ROWS = [2, 3, 4, 6, 9, 13] as const;
const FINEST = 0.05;

/** Strips of strands from top to bottom. */
export function layOutStrips(
  strands: readonly StrandBars[],
  row: number,
): { strips: Strip[]; height: number } {
  let top = 0;
  const strips = strands.map((strand, index): Strip => {
    const height = Math.max(LEAST_HEIGHT, (strand.highest - strand.lowest + 1 + 2 * AIR) * row);
    const strip = { strand, index, top, height };
    top += height + 1;
    return strip;
  });
  return { strips, height: top };
}

export const xOf = (view: View, tick: number): number => (tick - view.start) / view.ticksPerPixel;
export const tickOfX = (view: View, x: number): number => view.start + x * view.ticksPerPixel;

/** Top of a key's bar inside the page of strips, before scrolling. */
export const yOfKey = ({ strand, top, height }: Strip, key: number, row: number): number => {
  const used = (strand.highest - strand.lowest + 1) * row;
  return top + (height - used) / 2 + (strand.highest - key) * row;
};

/** The key at a height of the page; may lie outside the range. */
export const keyOfY = ({ strand, top, height }: Strip, y: number, row: number): number => {
  const used = (strand.highest - strand.lowest + 1) * row;
  return strand.highest - Math.floor((y - top - (height - used) / 2) / row);
};

/** The view zoomed around a pixel, within sensible bounds. */
export function zoomed(view: View, x: number, factor: number, end: number, width: number): View {
  const widest = Math.max(FINEST, (end * 1.05) / Math.max(1, width));
  const ticksPerPixel = Math.min(widest, Math.max(FINEST, view.ticksPerPixel * factor));
  const tick = tickOfX(view, x);
  return within({ ...view, ticksPerPixel, start: tick - x * ticksPerPixel }, end, width);
}

/** The view kept over the piece. */
export function within(view: View, end: number, width: number): View {
  const last = Math.max(0, end - width * view.ticksPerPixel * 0.5);
  return { ...view, start: Math.min(Math.max(0, view.start), last) };
}

/** First index whose value is not below `value`; values ascend. */
export function lowerBound(values: ArrayLike<number>, value: number): number {
  let low = 0;
  let high = values.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (values[middle]! < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Distance to the nearest sixteenth or triplet eighth of the bar, in ticks: positive for late. */
export function gridDistance(clock: Clock, tick: number): { ticks: number; slot: string } {
  const bar = barAt(clock, tick);
  const offset = tick - bar.start;
  const near = (step: number) => offset - Math.round(offset / step) * step;
  const sixteenth = near(clock.ticksPerQuarter / 4);
  const triplet = near(clock.ticksPerQuarter / 3);
  return Math.abs(triplet) < Math.abs(sixteenth)
    ? { ticks: triplet, slot: 'triplet eighth' }
    : { ticks: sixteenth, slot: '16th' };
}

/**
 * Bar lines in sight, thinned to every second, fourth … bar so that they stand
 * at least `apart` pixels from each other; bar 1 is always among them.
 */
export function barLines(
  clock: Clock,
  view: View,
  width: number,
  apart: number,
): { tick: number; number: number }[] {
  const first = barAt(clock, Math.max(0, view.start));
  // An upbeat is short; what follows tells the density.
  const pixels = barOf(clock, first.index + 1).length / view.ticksPerPixel;
  let every = 1;
  while (pixels * every < apart) every *= 2;
  const lines: { tick: number; number: number }[] = [];
  const end = tickOfX(view, width);
  for (let index = first.index; ; index++) {
    const bar = barOf(clock, index);
    if (bar.start > end) return lines;
    if ((bar.number - 1) % every === 0) lines.push({ tick: bar.start, number: bar.number });
  }
}

/** Lanes that can be drawn: controllers but banks and channel modes, bends, channel pressure. */
export const isDrawable = (lane: string): boolean =>
  lane === 'pitch-bend' ||
  lane === 'channel-pressure' ||
  (/^cc\d+$/.test(lane) && lane !== 'cc0' && lane !== 'cc32');

/** The largest value of a lane (MIDI 1.0). */
export const highestOf = (lane: string): number => (lane === 'pitch-bend' ? 16_383 : 127);
