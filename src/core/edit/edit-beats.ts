import type { BeatsChoice } from '../decisions/kinds/beats';
import { type BeatUnit, MOST_BEATS } from '../decisions/kinds/beats';
import { audibleBeats } from '../infer/beats/heard';
import { drawnTo, onsetsOf } from '../infer/beats/onsets';
import { barsOfPiece, hundredths, SLOWEST_MICROS_PER_QUARTER, secondsAt, tickAt } from '../model/clock';
import { isCompound } from '../model/meter';
import type { Performance } from '../model/performance';

/** Beats with the bars that they make spelled out. Indices of beats count from 0. */
export type EditedBeats = BeatsChoice & { bars: number[]; unit: BeatUnit };

/** Beats come no nearer than this, in seconds. */
const NEAREST = 0.08;

/**
 * The file's own beats up to its end, as if they had been set by hand. They
 * are quarters; in compound meters dotted quarters; eighths where neither fits
 * all bars.
 *
 * @param performance the source as it was read
 */
export function fileBeats(performance: Performance): EditedBeats {
  const { clock, end } = performance;
  const all = barsOfPiece(clock, end);
  const lengths = all.map((bar) => bar.length / clock.ticksPerQuarter);
  const inDotted = all.every(({ meter }) => meter.denominator === 8 && isCompound(meter));
  const fits = (unit: number) => lengths.every((length) => Number.isInteger(length / unit));
  const unit = inDotted && fits(1.5) ? 1.5 : fits(1) ? 1 : 0.5;
  const ticks: number[] = [];
  const bars: number[] = [];
  for (const bar of all) {
    if (!bar.isUpbeat) bars.push(ticks.length);
    for (let at = 0; at < bar.length - 1e-9; at += unit * clock.ticksPerQuarter)
      ticks.push(hundredths(bar.start + at));
  }
  const last = all.at(-1)!;
  ticks.push(hundredths(last.start + last.length));
  bars.push(ticks.length - 1);
  const perBar = Math.min(12, Math.max(1, Math.round((lengths.at(-1) ?? 4) / unit)));
  return { ticks, perBar, first: Math.min(11, bars[0] ?? 0), bars, unit };
}

/** Beats that were found or decided, with their bars spelled out. */
export function spelledBeats(beats: BeatsChoice): EditedBeats {
  const { ticks, perBar, first, unit = 1 } = beats;
  const bars =
    beats.bars ??
    ticks.map((_, index) => index).filter((index) => (index - first) % perBar === 0 && index >= first);
  return { ticks: [...ticks], perBar, first, bars: [...bars], unit };
}

/** Beats that can be heard in the music, whatever the file's are; null where none can. */
export function foundBeats(performance: Performance): EditedBeats | null {
  const found = audibleBeats(performance);
  return found && spelledBeats(found);
}

/** One change of the beats. Times are seconds of the source; `index` is a beat. */
export type BeatEdit =
  | { edit: 'move'; index: number; seconds: number }
  | { edit: 'add'; seconds: number }
  | { edit: 'remove'; index: number }
  /** Begins a bar at a beat, or joins the bar with the one before it. */
  | { edit: 'bar'; index: number }
  /** Counts bars of `perBar` beats from a beat on. */
  | { edit: 'count'; index: number; perBar: number }
  /** Taps, drawn to what is struck around them, take the place of the beats there; the first begins a bar. */
  | { edit: 'tap'; taps: readonly number[]; perBar: number }
  | { edit: 'halve' }
  | { edit: 'double' }
  /** From the first bar on a beat at every so many places, of which a beat has some: 3 of 2 make two beats of three. */
  | { edit: 'pulse'; every: number; places: number }
  | { edit: 'unit'; unit: BeatUnit };

/** The beats with one change made; the same object where it cannot be made. */
export function editBeats(beats: EditedBeats, change: BeatEdit, performance: Performance): EditedBeats {
  const changed = changedBeats(beats, change, performance);
  return changed.ticks.length > MOST_BEATS || isTooSlow(changed, performance) ? beats : changed;
}

/** Whether some beats are farther apart than any tempo can make them. */
function isTooSlow({ ticks, unit }: EditedBeats, { clock }: Performance): boolean {
  const longest = (SLOWEST_MICROS_PER_QUARTER * unit) / 1e6;
  const seconds = ticks.map((tick) => secondsAt(clock, tick));
  return seconds.some((second, index) => index > 0 && second - seconds[index - 1]! > longest);
}

function changedBeats(beats: EditedBeats, change: BeatEdit, performance: Performance): EditedBeats {
  const { clock } = performance;
  const at = (tick: number) => secondsAt(clock, tick);
  const tickOf = (seconds: number) => Math.max(0, hundredths(tickAt(clock, seconds)));
  const { ticks, bars } = beats;
  switch (change.edit) {
    case 'move': {
      const { index } = change;
      if (ticks[index] === undefined) return beats;
      const low = index > 0 ? at(ticks[index - 1]!) + NEAREST : 0;
      const high = index + 1 < ticks.length ? at(ticks[index + 1]!) - NEAREST : Number.POSITIVE_INFINITY;
      if (low > high) return beats;
      return { ...beats, ticks: ticks.with(index, tickOf(Math.min(high, Math.max(low, change.seconds)))) };
    }
    case 'add': {
      if (ticks.some((tick) => Math.abs(at(tick) - change.seconds) < NEAREST)) return beats;
      const tick = tickOf(change.seconds);
      const index = ticks.filter((each) => each < tick).length;
      return {
        ...beats,
        ticks: ticks.toSpliced(index, 0, tick),
        bars: bars.map((bar) => (bar >= index ? bar + 1 : bar)),
      };
    }
    case 'remove': {
      const { index } = change;
      if (ticks[index] === undefined || ticks.length <= LEAST) return beats;
      // The bar that began here begins with the beat after it.
      const moved = bars.map((bar) => (bar > index ? bar - 1 : bar));
      const left = ticks.toSpliced(index, 1);
      return { ...beats, ticks: left, bars: unique(moved).filter((bar) => bar < left.length) };
    }
    case 'bar': {
      const { index } = change;
      if (ticks[index] === undefined) return beats;
      const others = bars.filter((bar) => bar !== index);
      if (others.length < bars.length) return others.length === 0 ? beats : { ...beats, bars: others };
      return { ...beats, bars: unique([...bars, index]) };
    }
    case 'count':
      return {
        ...beats,
        perBar: change.perBar,
        bars: counted(bars, change.index, change.perBar, ticks.length),
      };
    case 'tap':
      return tapped(beats, drawnTo(spaced(change.taps), onsetsOf(performance)).map(tickOf), change.perBar);
    case 'halve': {
      // Beats that begin bars stay; between them every second one goes.
      const kept = ticks.flatMap((_, index) => {
        const bar = bars.findLast((each) => each <= index) ?? bars[0] ?? 0;
        return (index - bar) % 2 === 0 ? [index] : [];
      });
      if (kept.length < LEAST) return beats;
      return {
        ...beats,
        ticks: kept.map((index) => ticks[index]!),
        bars: bars.map((bar) => kept.indexOf(bar)),
        perBar: Math.max(1, Math.round(beats.perBar / 2)),
      };
    }
    case 'double': {
      const between = ticks.slice(1).map((tick, index) => (tick + ticks[index]!) / 2);
      if (between.some((tick, index) => at(tick) - at(ticks[index]!) < NEAREST)) return beats;
      return {
        ...beats,
        ticks: ticks.flatMap((tick, index) =>
          index < between.length ? [tick, hundredths(between[index]!)] : [tick],
        ),
        bars: bars.map((bar) => 2 * bar),
        perBar: Math.min(12, 2 * beats.perBar),
      };
    }
    case 'pulse':
      return repulsed(beats, change.every, change.places, performance);
    case 'unit':
      return { ...beats, unit: change.unit };
  }
}

/** Beats at every so many places within beats; those before the first bar stay. */
function repulsed(beats: EditedBeats, every: number, places: number, { clock }: Performance): EditedBeats {
  const { ticks } = beats;
  const begin = beats.bars[0] ?? 0;
  const made = ticks.slice(0, begin);
  for (let at = begin * places; at <= (ticks.length - 1) * places; at += every) {
    const index = Math.floor(at / places);
    const tick = ticks[index]!;
    made.push(hundredths(tick + (((ticks[index + 1] ?? tick) - tick) * (at % places)) / places));
  }
  const isTooClose = (tick: number, index: number) =>
    index > 0 && secondsAt(clock, tick) - secondsAt(clock, made[index - 1]!) < NEAREST;
  if (made.length < LEAST || made.some(isTooClose)) return beats;
  return { ...beats, ticks: made, bars: counted([], begin, beats.perBar, made.length) };
}

/** Fewer beats cannot be followed. */
const LEAST = 4;

/** Taps in order; one that follows another too soon was a slip. */
function spaced(taps: readonly number[]): number[] {
  const kept: number[] = [];
  for (const tap of taps.toSorted((a, b) => a - b))
    if (kept.length === 0 || tap - kept.at(-1)! >= NEAREST) kept.push(tap);
  return kept;
}

const unique = (indices: readonly number[]): number[] => [...new Set(indices)].sort((a, b) => a - b);

/** Bars before a beat as they are, and from it on of equal length. */
function counted(bars: readonly number[], index: number, perBar: number, beats: number): number[] {
  const before = bars.filter((bar) => bar < index);
  for (let bar = index; bar < beats; bar += perBar) before.push(bar);
  return before;
}

/** Beats with a stretch tapped anew: a beat within half a beat of the stretch's ends goes too. */
function tapped(beats: EditedBeats, taps: readonly number[], perBar: number): EditedBeats {
  const strokes = unique(taps);
  if (strokes.length < 2) return beats;
  const [from, to] = [strokes[0]!, strokes.at(-1)!];
  const half = (to - from) / (strokes.length - 1) / 2;
  const before = beats.ticks.filter((tick) => tick < from - half);
  const after = beats.ticks.filter((tick) => tick > to + half);
  const ticks = [...before, ...strokes, ...after];
  if (ticks.length < LEAST) return beats;
  return { ...beats, ticks, perBar, bars: counted(beats.bars, before.length, perBar, ticks.length) };
}
