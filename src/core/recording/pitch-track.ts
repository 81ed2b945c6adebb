import FFT from 'fft.js';
import { medianOf } from '../basics/average';
import type { Steps } from '../basics/steps';
import type { Sound } from './sound';

/** The pitch of a single line, moment by moment. */
export interface PitchTrack {
  /** Moments a second. */
  perSecond: number;
  /** MIDI keys with fractions, equal temperament at 440 Hz; NaN where nothing has a pitch. */
  keys: Float32Array;
  /** How much of what was weighed speaks for a pitch, 0–1. */
  voiced: Float32Array;
  /** Root mean square of the sound, over as much as is looked at for its pitch. */
  loud: Float32Array;
  /** The same from moment to moment. */
  swell: Float32Array;
}

const PER_SECOND = 100;
/** Seconds under a frame; half of it is the longest period. */
const FRAME = 0.064;
/** Lowest and highest key that is looked for. */
const LOWEST = 26;
const HIGHEST = 103;
/** Bins a semitone. */
const FINE = 5;
/** Thresholds of aperiodicity that are weighed, and their weights: a beta distribution of mean 0.15 (Mauch and Dixon 2014, from memory). */
const THRESHOLDS = 50;
const BETA = { a: 2, b: 34 / 3 };
/** What the deepest dip is worth where no threshold is undercut. */
const DEEPEST = 0.01;
/** Bins by which a voice glides from one moment to the next, and what it costs to fall silent or begin. */
const GLIDE = 13;
const CHANGE = Math.log(0.01);
const STAY = Math.log(0.99);

const WEIGHTS = (() => {
  const raw = Array.from({ length: THRESHOLDS }, (_, at) => {
    const x = (at + 1) / THRESHOLDS;
    return x ** (BETA.a - 1) * (1 - x) ** (BETA.b - 1);
  });
  const sum = raw.reduce((all, weight) => all + weight, 0);
  return raw.map((weight) => weight / sum);
})();

/**
 * Follows the pitch of a single line: candidates of each moment by the dips of its difference function under
 * many thresholds, and of these the smoothest way through all moments.
 * Source of the method: A. de Cheveigné and H. Kawahara, "YIN" (2002); M. Mauch and S. Dixon, "pYIN" (2014), from memory.
 */
export function* trackPitch({ samples, rate }: Sound): Steps<PitchTrack> {
  const size = 2 ** Math.round(Math.log2(FRAME * rate));
  const half = size / 2;
  const fft = new FFT(2 * size);
  const count = Math.ceil((samples.length / rate) * PER_SECOND);
  const bins = (HIGHEST - LOWEST) * FINE;
  const scores: Float32Array[] = [];
  const exact: Map<number, number>[] = [];
  const [loud, voiced, swell] = [new Float32Array(count), new Float32Array(count), new Float32Array(count)];
  const step = rate / PER_SECOND;
  for (let moment = 0; moment < count; moment++) {
    const from = Math.round((moment * rate) / PER_SECOND) - half;
    const frame = Float32Array.from({ length: size }, (_, at) => samples[from + at] ?? 0);
    let energy = 0;
    for (let at = size / 4; at < (3 * size) / 4; at++) energy += frame[at]! ** 2;
    loud[moment] = Math.sqrt(energy / half);
    let now = 0;
    for (let at = Math.round(half - step / 2); at < half + step / 2; at++) now += frame[at]! ** 2;
    swell[moment] = Math.sqrt(now / step);
    const row = new Float32Array(bins);
    const keys = new Map<number, number>();
    if (loud[moment]! > 1e-5)
      for (const { lag, weight } of dips(differences(frame, half, fft))) {
        const key = 69 + 12 * Math.log2(rate / lag / 440);
        const bin = Math.round((key - LOWEST) * FINE);
        if (bin < 0 || bin >= bins) continue;
        row[bin]! += weight;
        keys.set(bin, key);
        voiced[moment]! += weight;
      }
    scores.push(row);
    exact.push(keys);
    if (moment % 50 === 49) yield;
  }
  const keys = new Float32Array(count).fill(Number.NaN);
  const way = yield* smoothest(scores, voiced, bins);
  way.forEach((bin, moment) => {
    if (bin < 0) return;
    const near = [0, -1, 1, -2, 2].map((by) => exact[moment]!.get(bin + by)).find((key) => key !== undefined);
    keys[moment] = near ?? LOWEST + bin / FINE;
  });
  return { perSecond: PER_SECOND, keys, voiced, loud, swell };
}

/** The difference function of a frame by lag, each against the mean of those before it (YIN). */
function differences(frame: Float32Array, half: number, fft: FFT): Float32Array {
  const size = 4 * half;
  const spectrumOf = (from: number, to: number) => {
    const padded = new Array<number>(size).fill(0);
    for (let at = from; at < to; at++) padded[at] = frame[at]!;
    const spectrum = fft.createComplexArray();
    fft.realTransform(spectrum, padded);
    fft.completeSpectrum(spectrum);
    return spectrum;
  };
  const [one, all] = [spectrumOf(0, half), spectrumOf(0, 2 * half)];
  const product = fft.createComplexArray();
  for (let at = 0; at < 2 * size; at += 2) {
    product[at] = all[at]! * one[at]! + all[at + 1]! * one[at + 1]!;
    product[at + 1] = all[at + 1]! * one[at]! - all[at]! * one[at + 1]!;
  }
  const back = fft.createComplexArray();
  fft.inverseTransform(back, product);
  const squares = new Float64Array(2 * half + 1);
  for (let at = 0; at < 2 * half; at++) squares[at + 1] = squares[at]! + frame[at]! ** 2;
  const normal = new Float32Array(half);
  normal[0] = 1;
  let sum = 0;
  for (let lag = 1; lag < half; lag++) {
    const difference = squares[half]! + squares[lag + half]! - squares[lag]! - 2 * back[2 * lag]!;
    sum += Math.max(0, difference);
    normal[lag] = sum === 0 ? 1 : (Math.max(0, difference) * lag) / sum;
  }
  return normal;
}

/** Lags at which a frame repeats itself, with what the thresholds say for each. */
function dips(normal: Float32Array): { lag: number; weight: number }[] {
  const minima: { lag: number; depth: number }[] = [];
  for (let lag = 2; lag < normal.length - 1; lag++) {
    const [before, at, after] = [normal[lag - 1]!, normal[lag]!, normal[lag + 1]!];
    if (at >= before || at > after) continue;
    // The bottom lies between samples: of high notes far between.
    const bend = before - 2 * at + after;
    const by = bend <= 0 ? 0 : Math.max(-0.5, Math.min(0.5, (before - after) / (2 * bend)));
    minima.push({ lag: lag + by, depth: Math.max(0, at - ((before - after) * by) / 4) });
  }
  const [some] = minima;
  if (!some) return [];
  const deepest = minima.reduce((best, each) => (each.depth < best.depth ? each : best), some);
  const weights = new Map<number, number>();
  WEIGHTS.forEach((weight, at) => {
    const threshold = (at + 1) / THRESHOLDS;
    const first = minima.find(({ depth }) => depth < threshold);
    const { lag } = first ?? deepest;
    weights.set(lag, (weights.get(lag) ?? 0) + weight * (first ? 1 : DEEPEST));
  });
  return [...weights].map(([lag, weight]) => ({ lag, weight }));
}

/** The likeliest way through all moments: a bin each, or −1 for no pitch (Viterbi). */
function* smoothest(scores: readonly Float32Array[], voiced: Float32Array, bins: number): Steps<Int16Array> {
  const count = scores.length;
  const SILENT = bins;
  let now = new Float64Array(bins + 1);
  const from: Int16Array[] = [];
  const glide = Array.from({ length: 2 * GLIDE + 1 }, (_, at) =>
    Math.log(1 - Math.abs(at - GLIDE) / (GLIDE + 1)),
  );
  for (let moment = 0; moment < count; moment++) {
    const next = new Float64Array(bins + 1).fill(Number.NEGATIVE_INFINITY);
    const own = new Int16Array(bins + 1);
    const row = scores[moment]!;
    for (let bin = 0; bin < bins; bin++) {
      if (row[bin]! <= 0 && moment > 0) {
        // What nothing speaks for may be bridged, at a price.
        own[bin] = bin;
        next[bin] = now[bin]! + STAY + Math.log(1e-6);
        continue;
      }
      let [best, which] = [now[SILENT]! + CHANGE, SILENT];
      for (let by = -GLIDE; by <= GLIDE; by++) {
        const other = bin + by;
        if (other < 0 || other >= bins) continue;
        const score = now[other]! + glide[by + GLIDE]! + STAY;
        if (score > best) [best, which] = [score, other];
      }
      // A leap is a new note: as dear as falling silent in between.
      next[bin] = best + Math.log(row[bin]! + 1e-9);
      own[bin] = which;
    }
    let [best, which] = [now[SILENT]! + STAY, SILENT];
    for (let bin = 0; bin < bins; bin++)
      if (now[bin]! + CHANGE > best) [best, which] = [now[bin]! + CHANGE, bin];
    next[SILENT] = best + Math.log(Math.max(1e-3, 1 - Math.min(1, voiced[moment]!)));
    own[SILENT] = which;
    from.push(own);
    now = next;
    if (moment % 200 === 199) yield;
  }
  const way = new Int16Array(count);
  let at = now.reduce((best, score, bin) => (score > now[best]! ? bin : best), 0);
  for (let moment = count - 1; moment >= 0; moment--) {
    way[moment] = at === SILENT ? -1 : at;
    at = from[moment]![at]!;
  }
  return way;
}

/** Moments over which pitches are averaged, more than a turn of any vibrato; and semitones within which they are one note. */
const TURN = 20;
const ONE_NOTE = 1.2;

/**
 * Cents by which a line is tuned above 440 Hz, by where its pitches lie between the keys; 0 where nothing has a
 * pitch. Vibrato is averaged out first: one of a quarter tone would turn the mean about.
 */
export function tuningOf({ keys }: PitchTrack): number {
  let [x, y] = [0, 0];
  for (let from = 0; from + TURN <= keys.length; from += TURN / 4) {
    const own = keys.subarray(from, from + TURN);
    let [sum, least, most] = [0, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (const key of own) {
      sum += key;
      least = Math.min(least, key);
      most = Math.max(most, key);
    }
    if (Number.isNaN(sum) || most - least > ONE_NOTE) continue;
    x += Math.cos((2 * Math.PI * sum) / TURN);
    y += Math.sin((2 * Math.PI * sum) / TURN);
  }
  return x === 0 && y === 0 ? 0 : (Math.atan2(y, x) / (2 * Math.PI)) * 100;
}

/** The level below which there is silence: a share of what is usual. */
export const usualLevel = ({ loud }: PitchTrack): number => {
  const heard = [...loud].filter((value) => value > 1e-4);
  return medianOf(heard);
};
