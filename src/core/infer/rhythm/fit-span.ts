import { gcd, type Moment, type Span } from '../../model/time';
import type { Division } from './divisions';
import type { Support } from './known';

/** A played attack as the fit sees it. */
export interface Played {
  /** Score time as played, swing left in. */
  at: Moment;
  /** Score time of one standard deviation of its jitter. */
  spread: Span;
  /** Score time by which no single notes are played apart. */
  hurried: Span;
  /** What it costs to read it as a grace note before the next attack; infinite where it cannot be one. */
  grace: number;
  /** What it costs to stand at one place with the attack before it. */
  collision: number;
  /** Where it is counted from if the attack before is a note crushed into it on its place; absent where that is none. */
  crushedAt?: Moment;
  /** Where the chord began whose next note this is, spread by hand; absent where it is none. */
  rolledAt?: Moment;
}

/** One reading of a span. */
export interface Reading {
  cost: number;
  /** Place of each attack, as an offset from the start of the span; −1 for a grace note. */
  offsets: number[];
  count: number;
  beats: number;
  foreign: boolean;
  /** Read with its swing left in. */
  literal: boolean;
  /** Nothing in it tells one kind of division from another. */
  neutral: boolean;
}

/** Beyond this many deviations, each further one costs the same: one slip must not decide a beat. */
const KNEE = 3;

export function deviationCost(away: Span, spread: Span): number {
  const z = Math.abs(away) / spread;
  return z <= KNEE ? (z * z) / 2 : (KNEE * KNEE) / 2 + KNEE * (z - KNEE);
}

/** An attack that is counted from the note that is crushed into it, or that begins its chord, costs this much (nats). */
const CRUSHED = 0.5;
const ROLLED = 0.5;

/**
 * What an attack on a place costs by its deviation, from where it sounds or
 * from the note crushed into it. That the latter stands there itself as well
 * is told by what it costs to share a place.
 */
function placeCost({ at, spread, crushedAt }: Played, place: Moment): number {
  const own = deviationCost(at - place, spread);
  return crushedAt === undefined ? own : Math.min(own, CRUSHED + deviationCost(crushedAt - place, spread));
}

/** What a later note of a spread chord costs at a place with the others: it is counted from the first one. */
const rolledCost = ({ rolledAt, spread }: Played, place: Moment): number =>
  rolledAt === undefined ? Number.POSITIVE_INFINITY : ROLLED + deviationCost(rolledAt - place, spread);

/** Scratch space of `fitSlots`: two rows of costs and the way back, kept between calls. */
let rows: [Float64Array, Float64Array] = [new Float64Array(32), new Float64Array(32)];
let backs = new Int16Array(1024);

/**
 * The best reading of the attacks `from` … `to` (exclusive) in one division of
 * a span: attacks go to slots in order, some as grace notes. Dynamic
 * programming over attacks × slots.
 *
 * @param offsets slots as offsets from the span's start as written, ascending
 * @param sounding the same as they sound
 * @param weights what an attack on each slot costs
 * @param most no reading that costs more is looked for
 */
export function fitSlots(
  played: readonly Played[],
  from: number,
  to: number,
  start: Moment,
  offsets: readonly number[],
  sounding: readonly number[],
  weights: readonly number[],
  most = Number.POSITIVE_INFINITY,
): { cost: number; offsets: number[] } | null {
  // Column 0 stands for "no slot used yet".
  const width = offsets.length + 1;
  if (rows[0].length < width) rows = [new Float64Array(width), new Float64Array(width)];
  if (backs.length < width * (to - from)) backs = new Int16Array(2 * width * (to - from));
  let [row, next] = rows;
  row.fill(Number.POSITIVE_INFINITY, 0, width);
  row[0] = 0;
  for (let index = from; index < to; index++) {
    const attack = played[index]!;
    const { grace, collision } = attack;
    const line = (index - from) * width;
    let least = Number.POSITIVE_INFINITY;
    let leastAt = 0;
    for (let slot = 0; slot < width; slot++) {
      const before = row[slot]!;
      let cost = Number.POSITIVE_INFINITY;
      let back = 0;
      if (slot > 0) {
        const fresh = least + weights[slot - 1]!;
        const place = start + sounding[slot - 1]!;
        const own = placeCost(attack, place);
        const shared = before + collision + Math.min(own, rolledCost(attack, place));
        cost = Math.min(fresh + own, shared);
        back = fresh + own <= shared ? leastAt : slot;
      }
      if (before + grace < cost) {
        cost = before + grace;
        back = -1 - slot;
      }
      next[slot] = cost;
      backs[line + slot] = back;
      if (before < least) {
        least = before;
        leastAt = slot;
      }
    }
    [row, next] = [next, row];
  }
  let slot = 0;
  for (let each = 1; each < width; each++) if (row[each]! < row[slot]!) slot = each;
  const cost = row[slot]!;
  if (cost > most || !Number.isFinite(cost)) return null;
  const places: number[] = new Array(to - from);
  for (let index = to - from - 1; index >= 0; index--) {
    const back = backs[index * width + slot]!;
    if (back < 0) {
      places[index] = -1;
      slot = -1 - back;
    } else {
      places[index] = offsets[slot - 1]!;
      slot = back;
    }
  }
  return { cost, offsets: places };
}

/** A reading this much worse than the best of its span is not kept: its margin tells nothing more. */
export const CERTAIN = 7;

/** A beat, or several together. */
export interface FittedSpan {
  start: Moment;
  length: Span;
  divisions: readonly Division[];
  /** Where attacks of it stand already, as offsets from its start. */
  pinned: readonly Span[];
  /** What speaks for attacks at moments (subtracted). */
  supports: readonly Support[];
}

/**
 * The best reading of a span's attacks in each division.
 *
 * @param certain readings this much worse than the best are not looked for
 */
export function readSpan(
  played: readonly Played[],
  from: number,
  to: number,
  { start, length, divisions, pinned, supports }: FittedSpan,
  certain: number,
): Reading[] {
  const readings: Reading[] = [];
  const { hurried } = played[from]!;
  let best = Number.POSITIVE_INFINITY;
  const most = supports.reduce((sum, { bonus }) => sum + bonus, 0);
  for (const division of divisions) {
    const { count, beats, foreign, literal, idle, prior, offsets, sounding } = division;
    // Divisions come from the plainest on: a rare one cannot win where a plain one fits.
    if (prior > best + certain) break;
    const isEven = sounding === offsets;
    if (isEven && prior - most + leastCost(played, from, to, start, offsets) > best + certain) continue;
    const weights = supported(division.weights, offsets, start, supports);
    const fitted = fitSlots(played, from, to, start, offsets, sounding, weights, best + certain - prior);
    if (!fitted) continue;
    const neutral = fitted.offsets.every((offset) => offset <= 0);
    // A division of which only the beat is used is the undivided beat again.
    if (neutral && count > 1) continue;
    if (idle > 0 && fitted.offsets.every((offset) => offset < 0 || offset % idle === 0)) continue;
    if (beats > 1 && placesUsed(fitted.offsets) < 2) continue;
    // Of a rare tuplet most places are struck: one late attack is none.
    if (isRare(count) && placesUsed(fitted.offsets) * 2 <= count) continue;
    // Nor is one that is late by less than anybody plays, or reads, apart.
    const isFine = pinned.length > 0 || (offsets[1] ?? length) < hurried;
    if (isFine && standsAlone(fitted.offsets, pinned, length, hurried)) continue;
    if (isKnown(readings, foreign, literal, fitted.offsets)) continue;
    best = Math.min(best, fitted.cost + prior);
    readings.push({
      cost: fitted.cost + prior,
      offsets: fitted.offsets,
      count,
      beats,
      foreign,
      literal,
      neutral,
    });
  }
  return readings;
}

/** Whether equal places were found in a plainer division of the same kind: a finer one says nothing new. */
function isKnown(
  readings: readonly Reading[],
  foreign: boolean,
  literal: boolean,
  offsets: readonly number[],
): boolean {
  for (const known of readings) {
    if (known.foreign !== foreign || known.literal !== literal) continue;
    let at = 0;
    while (at < offsets.length && known.offsets[at] === offsets[at]) at++;
    if (at === offsets.length) return true;
  }
  return false;
}

/** The slot nearest to a place in the span; slots lie a step apart. */
const nearestOf = (offsets: readonly Span[], place: Span, step: Span): Span =>
  offsets[Math.min(Math.max(0, Math.round(place / step)), offsets.length - 1)]!;

/** What the deviations cost at least: each attack on its nearest slot, whatever the others do. */
function leastCost(
  played: readonly Played[],
  from: number,
  to: number,
  start: Moment,
  offsets: readonly Span[],
): number {
  const step = offsets[1] ?? Number.POSITIVE_INFINITY;
  let cost = 0;
  for (let index = from; index < to; index++) {
    const attack = played[index]!;
    const { at, grace, crushedAt } = attack;
    let least = Math.min(grace, placeCost(attack, start + nearestOf(offsets, at - start, step)));
    if (attack.rolledAt !== undefined)
      least = Math.min(least, rolledCost(attack, start + nearestOf(offsets, attack.rolledAt - start, step)));
    if (crushedAt !== undefined)
      least = Math.min(least, placeCost(attack, start + nearestOf(offsets, crushedAt - start, step)));
    cost += least;
  }
  return cost;
}

/** The weights of places, less what speaks for each; the same array where nothing does. */
export function supported(
  weights: readonly number[],
  offsets: readonly Span[],
  start: Moment,
  supports: readonly Support[],
): readonly number[] {
  let out: number[] | null = null;
  for (const { moment, bonus } of supports) {
    const slot = offsets.indexOf(moment - start);
    if (slot < 0) continue;
    out ??= [...weights];
    out[slot]! -= bonus;
  }
  return out ?? weights;
}

/**
 * A triplet, or half of one, of which in each pair only the first and last place are taken is rather swung.
 *
 * @param pair how long a swung pair is
 */
export const isHollow = ({ offsets, count }: Reading, pair: Span): boolean =>
  count % 3 === 0 &&
  offsets.every((offset) => offset < 0 || offset % pair === 0 || offset % pair === (2 * pair) / 3);

/** In swung bars a triplet without its middle note is a swung pair again; a second quarter of a pair without the fourth is a triplet. */
const SWUNG_HOLLOW = 4;
const SWUNG_SECOND = 4.5;

/** What speaks against a reading of a swung beat beyond its cost, in nats. */
export function againstSwing(reading: Reading, length: Span, pair: Span): number {
  if (isHollow(reading, pair)) return SWUNG_HOLLOW;
  const { count, literal, offsets } = reading;
  if (literal || count % 3 === 0 || (length / count) * 4 > pair) return 0;
  const phases = offsets.map((offset) => offset % pair);
  return phases.includes(pair / 4) && !phases.includes((3 * pair) / 4) ? SWUNG_SECOND : 0;
}

/** Neither halves nor thirds divide it. */
const isRare = (count: number): boolean => [5, 7, 9, 10].includes(count);

/** Whether one attack alone divides the span so finely that it is less than `hurried` away from a plainer place. */
function standsAlone(own: readonly number[], pinned: readonly Span[], length: Span, hurried: Span): boolean {
  const places = [...own, ...pinned].filter((place) => place > 0);
  const step = places.reduce(gcd, length);
  if (step >= hurried) return false;
  const isFine = (place: number) => place > 0 && place % (2 * step) !== 0;
  return own.some(isFine) && places.filter(isFine).length === 1;
}

/** How many different slots hold attacks; places come in order. */
function placesUsed(offsets: readonly number[]): number {
  let count = 0;
  let last = -1;
  for (const offset of offsets) {
    if (offset >= 0 && offset !== last) count++;
    if (offset >= 0) last = offset;
  }
  return count;
}
