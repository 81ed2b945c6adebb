import FFT from 'fft.js';
import type { Steps } from '../basics/steps';
import { ONSETS_PER_SECOND, type Onsets, ROWS } from './onsets';

/** Where a recording lies along a piece. */
export interface LaidAlong {
  /** Seconds of the recording at which the piece begins; negative where the recording begins later. */
  offset: number;
  /** Whether no other place is nearly as good. */
  sure: boolean;
  /** How well they agree there, 0–1. */
  likeness: number;
  /** How far the recording keeps to it, stretch by stretch of the piece: those that could be told. */
  stretches: Stretch[];
}

/** Seconds of the piece, and how many seconds later than the offset says the recording plays them. */
export interface Stretch {
  from: number;
  to: number;
  late: number;
}

/** Seconds over which onsets count as near. */
const BLUR = 0.02;
/** Seconds of the mean that is taken away: what is dense for long says nothing of where. */
const LEVEL = 2;
/** To be sure, another place must be so much worse, and this one so much alike. */
const AHEAD = 1.12;
const ALIKE = 0.15;
/** Seconds around the best place that are the same place. */
const SAME = 0.25;
/** Seconds of one stretch, how far the next is along, and how far off it is looked for. */
const STRETCH = 12;
const STEP = 6;
const REACH = 2;
/** Moments off that are near, and how much better a place further off must be to be believed. */
const NEAR = 15;
const ELSEWHERE = 1.3;
/** A stretch tells something only with a peak so many spreads above its surroundings. */
const STRETCH_SPREADS = 4;

/**
 * Finds where a recording lies along a piece by correlating what begins in both, by pitch class and as a whole.
 *
 * @param heard onsets of the recording
 * @param expected onsets of the piece, from its beginning
 * @returns null where either has none
 */
export function* layAlong(heard: Onsets, expected: Onsets): Steps<LaidAlong | null> {
  const sound = heard.rows.map(levelled);
  const piece = expected.rows.map(levelled);
  if (energyOf(sound) === 0 || energyOf(piece) === 0) return null;
  yield;
  const lags = yield* correlated(sound, piece);
  const length = lags.length;
  const best = highest(lags, 0, length - 1);
  const same = SAME * ONSETS_PER_SECOND;
  let second = 0;
  for (let at = 0; at < length; at++) {
    const apart = Math.min(Math.abs(at - best), length - Math.abs(at - best));
    if (apart > same && lags[at]! > second) second = lags[at]!;
  }
  const lag = best > length / 2 ? best - length : best;
  const fine =
    lag + peakBetween(lags[(best - 1 + length) % length]!, lags[best]!, lags[(best + 1) % length]!);
  const offset = fine / ONSETS_PER_SECOND;
  const likeness = likenessAt(sound, piece, lag);
  return {
    offset,
    sure: lags[best]! > AHEAD * second && likeness > ALIKE,
    likeness,
    stretches: yield* stretchesOf(sound, piece, offset),
  };
}

/** A stem of a part lies no further from where all of them do; seconds (rule of thumb). */
const ABOUT = 0.1;

/**
 * How much what begins in a recording is like what begins in each of some pieces, or parts of one, 0–1.
 *
 * @param offset seconds of the recording at which they begin
 */
export function* likenessesOf(heard: Onsets, expected: readonly Onsets[], offset: number): Steps<number[]> {
  const sound = heard.rows.map(levelled);
  const lag = Math.round(offset * ONSETS_PER_SECOND);
  const reach = Math.round(ABOUT * ONSETS_PER_SECOND);
  const found: number[] = [];
  for (const each of expected) {
    const piece = each.rows.map(levelled);
    let best = 0;
    for (let by = -reach; by <= reach; by++) best = Math.max(best, likenessAt(sound, piece, lag + by));
    found.push(best);
    yield;
  }
  return found;
}

/** Onsets without their level: blurred a little, their mean of the surroundings taken away, at unit spread. */
function levelled(row: Float32Array): Float32Array {
  const sigma = BLUR * ONSETS_PER_SECOND;
  const reach = Math.ceil(3 * sigma);
  const kernel = Array.from({ length: 2 * reach + 1 }, (_, at) =>
    Math.exp(-((at - reach) ** 2) / (2 * sigma ** 2)),
  );
  const blurred = new Float32Array(row.length);
  for (let at = 0; at < row.length; at++) {
    if (row[at] === 0) continue;
    for (let by = -reach; by <= reach; by++)
      if (at + by >= 0 && at + by < row.length) blurred[at + by]! += row[at]! * kernel[by + reach]!;
  }
  const sums = new Float64Array(row.length + 1);
  for (let at = 0; at < row.length; at++) sums[at + 1] = sums[at]! + blurred[at]!;
  const half = (LEVEL * ONSETS_PER_SECOND) / 2;
  let squares = 0;
  const level = new Float32Array(row.length);
  for (let at = 0; at < row.length; at++) {
    const [from, to] = [Math.max(0, at - half), Math.min(row.length, at + half)];
    const value = blurred[at]! - (sums[to]! - sums[from]!) / (to - from);
    level[at] = value;
    squares += value ** 2;
  }
  const spread = Math.sqrt(squares / Math.max(1, row.length));
  if (spread > 0) for (let at = 0; at < row.length; at++) level[at]! /= spread;
  return level;
}

/** The whole weighs as much as this many pitch classes. */
const WHOLE_WEIGHT = 3;
const weightOf = (row: number): number => (row === ROWS - 1 ? WHOLE_WEIGHT : 1);

/** Of the moments from one up to but not including another. */
function energyOf(rows: readonly Float32Array[], from = 0, to = Number.POSITIVE_INFINITY): number {
  let sum = 0;
  rows.forEach((row, index) => {
    for (let at = from; at < Math.min(to, row.length); at++) sum += weightOf(index) * row[at]! ** 2;
  });
  return sum;
}

/** Normalised correlation over what both have, with the sound so many moments behind the piece; 0–1. */
function likenessAt(sound: readonly Float32Array[], piece: readonly Float32Array[], lag: number): number {
  const from = Math.max(0, -lag);
  const to = Math.min(piece[0]!.length, sound[0]!.length - lag);
  let sum = 0;
  piece.forEach((row, index) => {
    for (let at = from; at < to; at++) sum += weightOf(index) * row[at]! * sound[index]![at + lag]!;
  });
  const full = Math.sqrt(energyOf(piece, from, to) * energyOf(sound, from + lag, to + lag));
  return full === 0 ? 0 : Math.max(0, Math.min(1, sum / full));
}

/** Correlation at every lag of the sound behind the piece; negative lags from the end. */
function* correlated(sound: readonly Float32Array[], piece: readonly Float32Array[]): Steps<Float64Array> {
  const size = 2 ** Math.ceil(Math.log2(sound[0]!.length + piece[0]!.length));
  const fft = new FFT(size);
  const spectrumOf = (row: Float32Array): number[] => {
    const padded = new Array<number>(size).fill(0);
    for (let at = 0; at < row.length; at++) padded[at] = row[at]!;
    const spectrum = fft.createComplexArray();
    fft.realTransform(spectrum, padded);
    fft.completeSpectrum(spectrum);
    return spectrum;
  };
  const sum = new Float64Array(2 * size);
  for (let row = 0; row < ROWS; row++) {
    const one = spectrumOf(sound[row]!);
    yield;
    const other = spectrumOf(piece[row]!);
    for (let at = 0; at < 2 * size; at += 2) {
      const [a, b, c, d] = [one[at]!, one[at + 1]!, other[at]!, other[at + 1]!];
      sum[at]! += weightOf(row) * (a * c + b * d);
      sum[at + 1]! += weightOf(row) * (b * c - a * d);
    }
    yield;
  }
  const back = fft.createComplexArray();
  fft.inverseTransform(back, [...sum]);
  return Float64Array.from({ length: size }, (_, at) => back[2 * at]!);
}

/** Where between three neighbours the top of a parabola through them lies, −0.5 to 0.5 from the middle one. */
function peakBetween(before: number, middle: number, after: number): number {
  const bend = before - 2 * middle + after;
  return bend >= 0 ? 0 : Math.max(-0.5, Math.min(0.5, (before - after) / (2 * bend)));
}

function* stretchesOf(
  sound: readonly Float32Array[],
  piece: readonly Float32Array[],
  offset: number,
): Steps<Stretch[]> {
  const found: Stretch[] = [];
  const length = piece[0]!.length;
  const [width, step, reach] = [STRETCH, STEP, REACH].map((seconds) => seconds * ONSETS_PER_SECOND) as [
    number,
    number,
    number,
  ];
  const shift = Math.round(offset * ONSETS_PER_SECOND);
  for (let from = Math.max(0, -shift); from < length - step; from += step) {
    const to = Math.min(length, from + width);
    if (to + shift > sound[0]!.length) break;
    const lags = new Float64Array(2 * reach + 1);
    for (let row = 0; row < ROWS; row++) {
      const [own, other, weight] = [piece[row]!, sound[row]!, weightOf(row)];
      for (let at = from; at < to; at++) {
        const value = own[at]! * weight;
        if (Math.abs(value) < 0.5) continue;
        for (let by = -reach; by <= reach; by++) lags[by + reach]! += value * (other[at + shift + by] ?? 0);
      }
    }
    yield;
    // Where music repeats itself another place is nearly as good: near by is where it is, unless elsewhere is clearly better.
    const near = highest(lags, reach - NEAR, reach + NEAR);
    const far = highest(lags, 1, lags.length - 2);
    const best = lags[far]! > ELSEWHERE * lags[near]! ? far : near;
    const mean = lags.reduce((sum, value) => sum + value, 0) / lags.length;
    const spread = Math.sqrt(lags.reduce((sum, value) => sum + (value - mean) ** 2, 0) / lags.length);
    if (spread === 0 || (lags[best]! - mean) / spread < STRETCH_SPREADS) continue;
    const fine =
      best + peakBetween(lags[best - 1] ?? lags[best]!, lags[best]!, lags[best + 1] ?? lags[best]!);
    found.push({
      from: from / ONSETS_PER_SECOND,
      to: to / ONSETS_PER_SECOND,
      late: (fine - reach + shift) / ONSETS_PER_SECOND - offset,
    });
  }
  return found;
}

/** Index of the highest value from one index to another. */
function highest(values: ArrayLike<number>, from: number, to: number): number {
  let best = from;
  for (let at = from + 1; at <= to; at++) if (values[at]! > values[best]!) best = at;
  return best;
}
