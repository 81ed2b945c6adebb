import { meanOf } from '../../basics/average';
import type { Hearing } from '../hearing';
import { LOWEST_KEY, MODEL_KEYS } from '../model-form';
import type { Onsets } from '../onsets';

/** The row of onsets of the whole. */
const WHOLE = 12;
/** What sounds on and off within so many seconds about a moment is its background. */
const BACKGROUND = 0.6;
/** Attacks are as sharp as this; seconds (standard deviation of a bell curve). */
const SHARP = 0.02;
/** Beats a minute that are looked for, the likeliest, and how many octaves others are away as a rule (Ellis 2007). */
const SLOWEST = 40;
const QUICKEST = 220;
const USUAL = 105;
const OCTAVES = 0.6;
/** How much it costs to leave the pace, against the strength of attacks. */
const TIGHT = 100;
/** The best of so many paces are followed to the end. */
const PACES = 4;

/** Beats that a sound may have. Seconds. */
export interface Beats {
  seconds: number[];
  /** How far they are apart on the whole. */
  period: number;
  /** How well attacks agree with them, and how usual their pace is: the more the better. */
  worth: number;
}

/** What begins between beats speaks against them, by these shares: they may be too slow by two, or off by a third. */
const HALFWAY = 0.5;
const THIRDS = 0.8;
/** How much the bass says of beats, against all that begins. */
const BASS_SAYS = 1;

/**
 * The beats of a sound: the path from attack to attack that is strong and keeps its pace, by dynamic programming
 * over the strength of what begins, at the pace that the attacks repeat most.
 * Source of the method: D. Ellis, "Beat Tracking by Dynamic Programming" (2007), from memory; that the bass begins on
 * beats rather than between them is common practice.
 *
 * @returns none where nothing begins often enough
 */
export function beatsIn(onsets: Onsets, hearing: Hearing): Beats[] {
  const { perSecond } = onsets;
  const all = standing(onsets.rows[WHOLE]!, perSecond);
  const bass = standing(bassOnsets(hearing, all.length, perSecond), perSecond);
  const strength = all.map((value, at) => value + BASS_SAYS * bass[at]!);
  if (strength.length < 4 * perSecond || all.every((value) => value === 0)) return [];
  return pacesOf(strength, perSecond).flatMap((lag): Beats[] => {
    const path = followed(strength, lag);
    if (path.length < FEWEST) return [];
    const near = (share: number) =>
      meanOf(path.slice(1).map((at, index) => nearby(strength, path[index]! + share * (at - path[index]!))));
    const agreement = near(1) - HALFWAY * near(1 / 2) - THIRDS * Math.min(near(1 / 3), near(2 / 3));
    const seconds = evened(path.map((at) => at / perSecond));
    const period = (seconds.at(-1)! - seconds[0]!) / (seconds.length - 1);
    return [{ seconds, period, worth: agreement * priorOf(lag, perSecond) }];
  });
}

/** Beats on either side by which one is evened, and how far it may be moved by that, in seconds. */
const BESIDE = 6;
const FARTHEST = 0.025;

/** Beats as even as their neighbours say, within what an attack can be told: nobody plays to the hundredth of a second. */
function evened(seconds: readonly number[]): number[] {
  return seconds.map((own, at) => {
    const side = Math.min(BESIDE, at, seconds.length - 1 - at);
    const [first, last] =
      side > 0
        ? [at - side, at + side]
        : [Math.max(0, at - BESIDE), Math.min(seconds.length - 1, at + BESIDE)];
    const count = last - first + 1;
    const middle = (first + last) / 2;
    let [mean, slope, spread] = [0, 0, 0];
    for (let each = first; each <= last; each++) mean += seconds[each]! / count;
    for (let each = first; each <= last; each++) {
      slope += (each - middle) * (seconds[each]! - mean);
      spread += (each - middle) ** 2;
    }
    const even = mean + (spread > 0 ? (slope / spread) * (at - middle) : 0);
    return Math.abs(even - own) <= FARTHEST ? Math.max(0, even) : own;
  });
}

/** Fewer beats are none. */
const FEWEST = 8;

/** The most that begins about a moment. */
function nearby(strength: Float32Array, at: number): number {
  const middle = Math.round(at);
  return Math.max(
    strength[middle - 2] ?? 0,
    strength[middle - 1] ?? 0,
    strength[middle] ?? 0,
    strength[middle + 1] ?? 0,
    strength[middle + 2] ?? 0,
  );
}

/** How much begins among low keys, at another number of moments a second. */
function bassOnsets(hearing: Hearing, count: number, perSecond: number): Float32Array {
  const made = new Float32Array(count);
  for (let at = 0; at < hearing.count; at++) {
    let sum = 0;
    for (let key = BASS_LOW; key <= BASS_HIGH; key++)
      sum += hearing.onsets[at * MODEL_KEYS + key - LOWEST_KEY]! ** 2;
    const place = Math.round((at / hearing.perSecond) * perSecond);
    if (place < count) made[place] = Math.max(made[place]!, sum);
  }
  return made;
}

/** Keys of a bass. */
const [BASS_LOW, BASS_HIGH] = [26, 48];

/** How strongly something begins, moment by moment, above its background; its standard deviation is 1. */
function standing(whole: Float32Array, perSecond: number): Float32Array {
  const wide = Math.round(BACKGROUND * perSecond);
  const sums = new Float64Array(whole.length + 1);
  for (let at = 0; at < whole.length; at++) sums[at + 1] = sums[at]! + whole[at]!;
  const sharp = new Float32Array(whole.length);
  const bell = Math.max(1, Math.round(2 * SHARP * perSecond));
  for (let at = 0; at < whole.length; at++) {
    let [sum, weights] = [0, 0];
    for (let by = -bell; by <= bell; by++) {
      const weight = Math.exp(-0.5 * (by / perSecond / SHARP) ** 2);
      sum += weight * (whole[at + by] ?? 0);
      weights += weight;
    }
    const [from, to] = [Math.max(0, at - wide), Math.min(whole.length, at + wide + 1)];
    sharp[at] = Math.max(0, sum / weights - (sums[to]! - sums[from]!) / (to - from));
  }
  const mean = sharp.reduce((all, value) => all + value, 0) / sharp.length;
  const spread = Math.sqrt(sharp.reduce((all, value) => all + (value - mean) ** 2, 0) / sharp.length);
  return spread > 0 ? sharp.map((value) => value / spread) : sharp;
}

/** How likely a pace is by itself. @param lag in moments */
const priorOf = (lag: number, perSecond: number): number =>
  Math.exp(-0.5 * (Math.log2((60 * perSecond) / lag / USUAL) / OCTAVES) ** 2);

/** The distances at which attacks repeat, in moments, and others that go with these. */
function pacesOf(strength: Float32Array, perSecond: number): number[] {
  const [shortest, longest] = [
    Math.round((60 * perSecond) / QUICKEST),
    Math.round((60 * perSecond) / SLOWEST),
  ];
  const alike = new Float64Array(2 * longest + 2);
  for (let lag = shortest; lag < alike.length; lag++) {
    let sum = 0;
    for (let at = lag; at < strength.length; at++) sum += strength[at]! * strength[at - lag]!;
    alike[lag] = sum / (strength.length - lag);
  }
  const worths = Array.from({ length: longest + 1 }, (_, lag) =>
    lag < shortest ? 0 : (alike[lag]! + 0.5 * alike[2 * lag]!) * priorOf(lag, perSecond),
  );
  const found = worths
    .map((worth, lag) => ({ worth, lag }))
    .filter(
      ({ worth, lag }) => worth > 0 && worth >= (worths[lag - 1] ?? 0) && worth > (worths[lag + 1] ?? 0),
    )
    .sort((one, other) => other.worth - one.worth)
    .slice(0, PACES)
    .flatMap(({ lag }) => RELATED.map((times) => Math.round(times * lag)));
  return [...new Set(found)].filter((lag) => lag >= shortest && lag <= longest);
}

/** Paces that are taken for each other: half, twice, by threes. */
const RELATED = [1, 2, 1 / 2, 3 / 2, 2 / 3, 3, 1 / 3];

/** The best path at a pace, as moments. */
function followed(strength: Float32Array, lag: number): number[] {
  const total = new Float64Array(strength.length);
  const before = new Int32Array(strength.length).fill(-1);
  const [nearest, farthest] = [Math.round(lag / 2), Math.round(2 * lag)];
  const costs = Float64Array.from({ length: farthest + 1 }, (_, by) =>
    by < nearest ? 0 : -TIGHT * Math.log(by / lag) ** 2,
  );
  for (let at = 0; at < strength.length; at++) {
    let best = Number.NEGATIVE_INFINITY;
    for (let by = nearest; by <= farthest && by <= at; by++) {
      const score = total[at - by]! + costs[by]!;
      if (score > best) {
        best = score;
        before[at] = at - by;
      }
    }
    // A path may begin where nothing came before.
    if (best <= 0) before[at] = -1;
    total[at] = strength[at]! + Math.max(0, best);
  }
  let last = strength.length - 1;
  for (let at = Math.max(0, strength.length - farthest); at < strength.length; at++)
    if (total[at]! > total[last]!) last = at;
  const path: number[] = [];
  for (let at = last; at >= 0; at = before[at]!) path.push(at);
  return trimmed(path.reverse(), strength);
}

/** A beat of less, against the usual one, is none at the ends. */
const FAINT = 0.3;

/** Without beats in the silence before and after the music. */
function trimmed(path: number[], strength: Float32Array): number[] {
  const usual = meanOf(path.map((at) => nearby(strength, at)));
  let [from, to] = [0, path.length];
  while (from < to && nearby(strength, path[from]!) < FAINT * usual) from++;
  while (to > from && nearby(strength, path[to - 1]!) < FAINT * usual) to--;
  return path.slice(from, to);
}
