import { node } from '../../basics/graph';
import { remembered } from '../../basics/remember';
import { type Clock, secondsAt } from '../../model/clock';
import type { Performance, Strand } from '../../model/performance';
import { drawn, firstFrom, NEAR, type Onset } from './onsets';
import { type Backbeat, countedByKit, countedInFours, countedInSixteenths } from './recount';
import { steadied } from './steady';

/** Beats that were found: seconds, ascending; and which of them begin bars. */
export interface FoundBeats {
  seconds: number[];
  perBar: number;
  /** Index of the first beat that begins a bar. */
  first: number;
}

/** Below this the attacks lie anywhere in the beat: with so many at random it happens once in a million. */
const ENOUGH = 32;
const SCATTERED = 0.2;
/** Struck again so soon, in seconds, a key is rolled, and tells of no beat. */
const ROLLED = 0.1;

/**
 * How well attacks keep to beats, 0 to 1: the largest mean resultant length of
 * their phases within beats, halves, thirds and quarters of beats (Rayleigh's
 * test of uniformity on the circle). Null where there are too few to tell.
 *
 * @param places where each strand is struck, counted in beats
 */
export const keptTo = (places: readonly (readonly number[])[]): number | null =>
  regularityOf(places.map(phasesOf));

/** Attacks of a strand, each place once, and the sums of their phases within beats, halves, thirds and quarters of beats. */
interface Phases {
  attacks: number;
  sums: readonly (readonly [x: number, y: number])[];
}

function phasesOf(places: readonly number[]): Phases {
  const phases = new Set(places);
  const sums = [1, 2, 3, 4].map((count) => {
    let x = 0;
    let y = 0;
    for (const phase of phases) {
      const angle = 2 * Math.PI * count * phase;
      x += Math.cos(angle);
      y += Math.sin(angle);
    }
    return [x, y] as const;
  });
  return { attacks: phases.size, sums };
}

function regularityOf(strands: readonly Phases[]): number | null {
  const attacks = strands.reduce((sum, each) => sum + each.attacks, 0);
  if (attacks < ENOUGH) return null;
  const lengths = [0, 1, 2, 3].map((count) =>
    Math.hypot(
      strands.reduce((sum, { sums }) => sum + sums[count]![0], 0),
      strands.reduce((sum, { sums }) => sum + sums[count]![1], 0),
    ),
  );
  return Math.max(...lengths) / attacks;
}

/** How well attacks keep to the file's own beats; of rolls and tremolos, which lie evenly over them, the first stroke. */
export const gridStrength = ({ clock, strands }: Performance): number | null =>
  regularityOf(strands.map((strand) => remembered(strand, PHASES, { notes: strand.notes, clock })));

const PHASES = node('phases', ({ notes, clock }: { notes: Strand['notes']; clock: Clock }) => {
  const last = new Map<number, number>();
  const places: number[] = [];
  for (const { on, key } of notes) {
    const seconds = secondsAt(clock, on);
    const isRolled = seconds - (last.get(key) ?? Number.NEGATIVE_INFINITY) < ROLLED;
    last.set(key, seconds);
    if (!isRolled) places.push(on / clock.ticksPerQuarter);
  }
  return phasesOf(places);
});

/** Whether the file's beats say nothing about the music, as when it was played without a click. */
export const isGridUnusable = (performance: Performance): boolean => {
  const strength = gridStrength(performance);
  return strength !== null && strength < SCATTERED;
};

/** Resolution of the search, in seconds. */
const BIN = 0.01;
const SPREAD = 0.02;
const NO_KIT: Backbeat = { kicks: [], snares: [] };
/** Longest piece that is searched, in bins. */
const MOST_BINS = 180_000;
/** Beats from 200 to 43 a minute, in steps of 4 %. */
const PERIODS = Array.from({ length: 40 }, (_, at) => 0.3 * 1.04 ** at);
/** People tap about here (Parncutt 1994: a preferred pulse near 0.6 s), on an octave scale. */
const PREFERRED = 0.6;
const PREFERENCE = 0.35;
/** What a change of one step of period costs, and how many steps it may be at once. */
const BEND = 0.12;
const MOST_STEPS = 3;
/** An onset counts at most this much of the mean one. */
const LOUDEST = 2.5;
/**
 * Finds the beats of music played without a grid: dynamic programming over
 * time and period (after Ellis 2007, with the period a state of its own so
 * that tempo may bend). A beat gains what is struck there, in proportion to
 * its period so that slow and fast readings compare, and pays for changes of
 * period and for unusual ones.
 */
export function findBeats(onsets: readonly Onset[], backbeat: Backbeat = NO_KIT): FoundBeats | null {
  const last = onsets.at(-1)?.seconds ?? 0;
  const size = Math.ceil((last + 0.5) / BIN);
  if (onsets.length < 8 || size > MOST_BINS) return null;
  const strength = strengthOf(onsets, size);
  const count = PERIODS.length;
  const lengths = PERIODS.map((period) => Math.round(period / BIN));
  const taste = PERIODS.map((period) => PREFERENCE * Math.log2(period / PREFERRED) ** 2);
  const score = new Float32Array(size * count);
  const back = new Int8Array(size * count).fill(-1);
  for (let at = 0; at < size; at++)
    for (let period = 0; period < count; period++) {
      const length = lengths[period]!;
      const own = PERIODS[period]! * (strength[at]! - taste[period]!);
      let best = 0;
      let from = -1;
      if (at >= length) {
        const low = Math.max(0, period - MOST_STEPS);
        const high = Math.min(count - 1, period + MOST_STEPS);
        for (let before = low; before <= high; before++) {
          const bent = score[(at - length) * count + before]! - BEND * (before - period) ** 2;
          if (bent > best || from < 0) {
            best = bent;
            from = before;
          }
        }
      }
      score[at * count + period] = best + own;
      back[at * count + period] = from;
    }
  const seconds = trace(score, back, lengths, size).map((bin) => drawn(bin * BIN, onsets));
  const kept = seconds.filter((second, index) => index === 0 || second > seconds[index - 1]! + 0.1);
  if (kept.length < 4) return null;
  const recounted = countedInSixteenths(countedInFours(kept, onsets), onsets);
  const counted = steadied(countedByKit(recounted, onsets, backbeat), onsets);
  return { seconds: counted, ...findBars(counted, onsets) };
}

/** Onsets as a smooth curve whose usual peak is 1, less its mean. */
function strengthOf(onsets: readonly Onset[], size: number): Float32Array {
  const mean = onsets.reduce((sum, onset) => sum + onset.weight, 0) / onsets.length;
  const curve = new Float32Array(size);
  const reach = Math.ceil((3 * SPREAD) / BIN);
  for (const onset of onsets) {
    const weight = Math.min(LOUDEST, onset.weight / mean);
    const middle = Math.round(onset.seconds / BIN);
    for (let at = Math.max(0, middle - reach); at <= Math.min(size - 1, middle + reach); at++) {
      const z = (at * BIN - onset.seconds) / SPREAD;
      curve[at] = Math.max(curve[at]!, weight * Math.exp((-z * z) / 2));
    }
  }
  const base = curve.reduce((sum, value) => sum + value, 0) / size;
  return curve.map((value) => value - base);
}

/** The beats of the best path, as bins. */
function trace(score: Float32Array, back: Int8Array, lengths: readonly number[], size: number): number[] {
  const count = lengths.length;
  const longest = lengths.at(-1)!;
  let at = size - 1;
  let period = 0;
  let best = Number.NEGATIVE_INFINITY;
  for (let bin = Math.max(0, size - longest); bin < size; bin++)
    for (let each = 0; each < count; each++)
      if (score[bin * count + each]! > best) {
        best = score[bin * count + each]!;
        at = bin;
        period = each;
      }
  const bins: number[] = [];
  while (at >= 0) {
    bins.unshift(at);
    const from = back[at * count + period]!;
    if (from < 0) break;
    at -= lengths[period]!;
    period = from;
  }
  return bins;
}

/** Meters by how usual they are: what another must be better by. */
const BARS: readonly [perBar: number, usual: number][] = [
  [4, 0],
  [3, 0.06],
  [2, 0.08],
];

/** Which beats begin bars: those that are struck hardest at a regular distance. */
export function findBars(
  beats: readonly number[],
  onsets: readonly Onset[],
): { perBar: number; first: number } {
  const weights = beats.map((beat) => {
    let sum = 0;
    for (let at = firstFrom(onsets, beat - NEAR); at < onsets.length; at++) {
      if (onsets[at]!.seconds > beat + NEAR) break;
      sum += onsets[at]!.weight;
    }
    return sum;
  });
  const mean = weights.reduce((sum, weight) => sum + weight, 0) / weights.length || 1;
  let best = { perBar: 4, first: 0, worth: Number.NEGATIVE_INFINITY };
  for (const [perBar, usual] of BARS)
    for (let first = 0; first < perBar; first++) {
      let sum = 0;
      let count = 0;
      for (let at = first; at < weights.length; at += perBar) {
        sum += weights[at]!;
        count++;
      }
      const worth = sum / Math.max(1, count) / mean - usual;
      if (worth > best.worth) best = { perBar, first, worth };
    }
  return { perBar: best.perBar, first: best.first };
}
