import type { Sound } from './sound';

/** Of each stretch of sound its lowest and highest sample, −127 to 127, and its energy: enough to draw it. */
export interface Levels {
  /** Stretches a second. */
  perSecond: number;
  low: Int8Array;
  high: Int8Array;
  /** Root mean square, 0–255 for 0–1. */
  loud: Uint8Array;
}

/** What there is to say of a sound before anybody listens to it. */
export interface SoundFacts {
  seconds: number;
  /** Highest sample, 0–1. */
  peak: number;
  /** Samples at the ceiling, as a share of all; what is clipped stands there in runs. */
  clipped: number;
  /** Samples that are no numbers, where there are any: silent. */
  lost?: number;
  /** Seconds of silence before the first and after the last that is heard. */
  silentBefore: number;
  silentAfter: number;
}

/** Ten milliseconds: finer than a pixel at any zoom that shows a bar. */
export const LEVELS_PER_SECOND = 100;
/** Two neighbours at this and above are clipped, common practice. */
const CEILING = 0.999;
/** Below −60 dB nothing is heard, common practice. */
const FLOOR = 0.001;

/** The outline of a sound, for drawing. */
export function levelsOf({ samples, rate }: Sound): Levels {
  const count = Math.ceil((samples.length / rate) * LEVELS_PER_SECOND);
  const levels: Levels = {
    perSecond: LEVELS_PER_SECOND,
    low: new Int8Array(count),
    high: new Int8Array(count),
    loud: new Uint8Array(count),
  };
  for (let index = 0; index < count; index++) {
    const from = Math.floor((index * rate) / LEVELS_PER_SECOND);
    const to = Math.min(samples.length, Math.floor(((index + 1) * rate) / LEVELS_PER_SECOND));
    let [low, high, sum] = [0, 0, 0];
    for (let at = from; at < to; at++) {
      const value = samples[at]!;
      if (value < low) low = value;
      if (value > high) high = value;
      sum += value * value;
    }
    levels.low[index] = Math.round(Math.max(-1, low) * 127);
    levels.high[index] = Math.round(Math.min(1, high) * 127);
    levels.loud[index] = Math.round(Math.min(1, Math.sqrt(sum / Math.max(1, to - from))) * 255);
  }
  return levels;
}

/** Length, level, clipping and silence of a sound. */
export function factsOf({ samples, rate, lost }: Sound): SoundFacts {
  let [peak, clipped, first, last] = [0, 0, samples.length, -1];
  for (let at = 0; at < samples.length; at++) {
    const size = Math.abs(samples[at]!);
    if (size > peak) peak = size;
    if (size >= CEILING && Math.abs(samples[at + 1] ?? 0) >= CEILING) clipped++;
    if (size < FLOOR) continue;
    first = Math.min(first, at);
    last = at;
  }
  return {
    seconds: samples.length / rate,
    peak: Math.min(1, peak),
    clipped: samples.length === 0 ? 0 : clipped / samples.length,
    ...(lost && { lost }),
    silentBefore: first / rate,
    silentAfter: (samples.length - 1 - last) / rate,
  };
}
