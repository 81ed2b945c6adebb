import type { Steps } from '../basics/steps';
import { QUARTER } from '../model/time';
import type { Side } from './reading';

/** Places in a bar are told apart to this; a note between two of them counts for both in shares, so that none falls over an edge. */
const SLOT = QUARTER / 4;
/** How much it speaks for two bars being one that the same keys sound in them, and that anything sounds at the same moments: a part may have been transposed. */
const BY_KEYS = 0.75;
const BY_MOMENTS = 0.25;
/** What two bars of silence have in common, and what two bars must have at least to be one. */
const SILENCE = 0.6;
const LEAST = 0.3;
/** What it costs to leave bars out, at all and for each: a cut is one thing, however long. */
const CUT = 0.35;
const PER_BAR = 0.02;
/** Bars are looked for this far from where they would be. */
const BAND = 96;
/** Played twice, the same music is this much alike at least. */
const AS_ALIKE = 0.12;
/** Bars that come again agree to this share. */
const AGAIN = 0.85;

/** A stretch of one reading that is compared as a whole: a bar, a beat, or up to the next attack. Moments. */
export interface Unit {
  start: number;
  length: number;
  /** Only what sounds in it counts, not when. */
  timeless?: true;
}

/** One unit of a reading against one of the other; null where the other has none. */
export interface UnitPair {
  one: number | null;
  two: number | null;
  /** Where both have one: how much alike they sound, 0 to 1. */
  alike?: number;
  /** Where the other has none: the unit of the same reading that sounds alike and has one. */
  again?: number;
}

export interface Alignment {
  pairs: UnitPair[];
  /** What the pairs have in common, of all that both readings have: 0 to 1. */
  share: number;
}

/** What sounds in a unit: how much of it at which place, by keys and by places alone. */
interface Sound {
  keys: Bag;
  moments: Bag;
}

/** Weights by ascending numbers. */
interface Bag {
  ids: Int32Array;
  weights: Float64Array;
  total: number;
}

/**
 * Which bars of two readings are the same music: the path through both that has
 * most in common, where leaving out or putting in bars has its price (Needleman
 * and Wunsch 1970, with Gotoh's prices for gaps, 1982).
 *
 * @param transposed semitones that each line of the first sounds higher in the other
 */
export function* alignUnits(
  one: Side,
  two: Side,
  units: readonly [Unit[], Unit[]],
  transposed: (line: number) => number = () => 0,
): Steps<Alignment> {
  const a = soundsOf(one, units[0], transposed);
  yield;
  const b = soundsOf(two, units[1], () => 0);
  const pairs = gapsLate(yield* walk(a, b), a, b);
  let common = 0;
  const weighed = pairs.map((pair): UnitPair => {
    const { one: i, two: j } = pair;
    if (i === null || j === null) return pair;
    common += inCommon(a[i]!.keys, b[j]!.keys);
    return { ...pair, alike: likeness(a[i]!.keys, b[j]!.keys) };
  });
  const all = (sounds: readonly Sound[]) => sounds.reduce((sum, { keys }) => sum + keys.total, 0);
  return { pairs: withAgain(weighed, a, b), share: (2 * common) / Math.max(1e-9, all(a) + all(b)) };
}

/** The sound of each unit; a note in the last slot of one counts in part for the next. */
function soundsOf({ lines }: Side, units: readonly Unit[], transposed: (line: number) => number): Sound[] {
  const keys = units.map(() => new Map<number, number>());
  const moments = units.map(() => new Map<number, number>());
  const put = (unit: number, slot: number, key: number, weight: number) => {
    const own = keys[unit]!;
    const id = slot * 128 + key;
    own.set(id, (own.get(id) ?? 0) + weight);
    moments[unit]!.set(slot, (moments[unit]!.get(slot) ?? 0) + weight);
  };
  for (const [line, { notes }] of lines.entries()) {
    const higher = transposed(line);
    let unit = 0;
    for (const { start, key, grace } of notes) {
      if (grace) continue;
      while (unit + 1 < units.length && units[unit + 1]!.start <= start) unit++;
      const own = units[unit];
      if (!own) continue;
      const place = own.timeless ? 0 : Math.max(0, start - own.start) / SLOT;
      const slot = Math.floor(place);
      const late = place - slot;
      const sounding = Math.min(127, Math.max(0, key + higher));
      if (late < 1) put(unit, slot, sounding, 1 - late);
      if (late === 0) continue;
      const isOver = (slot + 1) * SLOT >= own.length && unit + 1 < units.length;
      put(isOver ? unit + 1 : unit, isOver ? 0 : slot + 1, sounding, late);
    }
  }
  return units.map((_, unit) => ({ keys: bagOf(keys[unit]!), moments: bagOf(moments[unit]!) }));
}

function bagOf(weights: ReadonlyMap<number, number>): Bag {
  const ids = Int32Array.from(weights.keys()).sort();
  const own = Float64Array.from(ids, (id) => weights.get(id)!);
  return { ids, weights: own, total: own.reduce((sum, each) => sum + each, 0) };
}

/** What two bags share. */
function inCommon(one: Bag, two: Bag): number {
  let sum = 0;
  for (let i = 0, j = 0; i < one.ids.length && j < two.ids.length; ) {
    const [a, b] = [one.ids[i]!, two.ids[j]!];
    if (a === b) sum += Math.min(one.weights[i++]!, two.weights[j++]!);
    else if (a < b) i++;
    else j++;
  }
  return sum;
}

const likeness = (one: Bag, two: Bag): number =>
  one.total + two.total === 0 ? SILENCE : (2 * inCommon(one, two)) / (one.total + two.total);

const alike = (one: Sound, two: Sound): number =>
  one.keys.total + two.keys.total === 0
    ? SILENCE
    : BY_KEYS * likeness(one.keys, two.keys) + BY_MOMENTS * likeness(one.moments, two.moments);

/** What a unit can be worth at most, whatever it is paired with. */
const mostOf = ({ keys }: Sound): number => (keys.total === 0 ? SILENCE : 1) - LEAST;

/**
 * Whether no path can be better than one unit after the other: any other leaves out at least one unit of each reading,
 * which costs more than what these pairs have less in common than the units of the first can have at most.
 */
function* areSideBySide(a: readonly Sound[], b: readonly Sound[]): Steps<boolean> {
  if (a.length !== b.length) return false;
  let lacking = 0;
  for (const [at, own] of a.entries()) {
    lacking += mostOf(own) - (alike(own, b[at]!) - LEAST);
    if (lacking >= 2 * CUT) return false;
    if (at % UNITS_AT_A_TIME === 0) yield;
  }
  return true;
}

/** Units that are compared without giving way. */
const UNITS_AT_A_TIME = 256;

/** So many units are left of a reading that goes on in silence long after the other has ended. */
function lengthOf(own: readonly Sound[], other: readonly Sound[]): number {
  if (own.length - other.length <= BAND) return own.length;
  const last = own.findLastIndex(({ keys }) => keys.total > 0);
  return Math.max(last + 1, other.length);
}

/** The best path; where one of the readings goes on in silence long after the other, that is left over. */
function* walk(a: readonly Sound[], b: readonly Sound[]): Steps<UnitPair[]> {
  const [n, m] = [lengthOf(a, b), lengthOf(b, a)];
  const pairs = yield* bestPath(a.slice(0, n), b.slice(0, m));
  for (let one = n; one < a.length; one++) pairs.push({ one, two: null });
  for (let two = m; two < b.length; two++) pairs.push({ one: null, two });
  return pairs;
}

/** The best path, from the end back; only ways near the diagonal are thought of, and only these take room. */
function* bestPath(a: readonly Sound[], b: readonly Sound[]): Steps<UnitPair[]> {
  if (yield* areSideBySide(a, b)) return a.map((_, at) => ({ one: at, two: at }));
  const [n, m] = [a.length, b.length];
  const reach = BAND + Math.abs(n - m);
  // A row holds what lies within reach of the diagonal, or all where that is less.
  const isBanded = 2 * reach < m;
  const width = isBanded ? 2 * reach + 1 : m + 1;
  const placeOf = (i: number, j: number) => (isBanded ? j - i + reach : j);
  const cellAt = (i: number, j: number) => i * width + placeOf(i, j);
  // By how many places a row lies to the left of the one before it.
  const shift = isBanded ? 1 : 0;
  // Three ways to stand at a place: both went on, only the one did, only the other did.
  const from = [0, 1, 2].map(() => new Uint8Array((n + 1) * width));
  const [fromBoth, fromOne, fromTwo] = [from[0]!, from[1]!, from[2]!];
  let [last, now] = [rowOf(width), rowOf(width)];
  clear(last);
  last.both[MARGIN + placeOf(0, 0)] = 0;
  for (let j = 1; j <= Math.min(m, reach); j++) {
    last.two[MARGIN + placeOf(0, j)] = -(CUT + PER_BAR * j);
    fromTwo[cellAt(0, j)] = j === 1 ? 0 : 2;
  }
  // Written out, as it is done for every cell: of three ways the best, the first among equals.
  for (let i = 1; i <= n; i++) {
    clear(now);
    for (let j = Math.max(0, i - reach); j <= Math.min(m, i + reach); j++) {
      const place = placeOf(i, j);
      const cell = i * width + place;
      const here = MARGIN + place;
      if (j > 0) {
        const before = here - 1 + shift;
        const [byBoth, byOne, byTwo] = [last.both[before]!, last.one[before]!, last.two[before]!];
        const way = byBoth >= byOne && byBoth >= byTwo ? 0 : byOne >= byTwo ? 1 : 2;
        const best = way === 0 ? byBoth : way === 1 ? byOne : byTwo;
        now.both[here] = best + alike(a[i - 1]!, b[j - 1]!) - LEAST;
        fromBoth[cell] = way;
        const fresh = now.both[here - 1]! - CUT;
        const turned = now.one[here - 1]! - CUT;
        const longer = now.two[here - 1]!;
        const side = fresh >= turned && fresh >= longer ? 0 : turned >= longer ? 1 : 2;
        now.two[here] = (side === 0 ? fresh : side === 1 ? turned : longer) - PER_BAR;
        fromTwo[cell] = side;
      }
      const over = here + shift;
      const fresh = last.both[over]! - CUT;
      const longer = last.one[over]!;
      const turned = last.two[over]! - CUT;
      const up = fresh >= longer && fresh >= turned ? 0 : longer >= turned ? 1 : 2;
      now.one[here] = (up === 0 ? fresh : up === 1 ? longer : turned) - PER_BAR;
      fromOne[cell] = up;
    }
    [last, now] = [now, last];
    yield;
  }
  const pairs: UnitPair[] = [];
  const end = placeOf(n, m);
  const ends = [last.both, last.one, last.two].map((row) => row[MARGIN + end]!);
  let way = ends.indexOf(Math.max(...ends));
  for (let i = n, j = m; i > 0 || j > 0; ) {
    const next = from[way]![cellAt(i, j)];
    if (way === 0) pairs.push({ one: --i, two: --j });
    else if (way === 1) pairs.push({ one: --i, two: null });
    else pairs.push({ one: null, two: --j });
    way = next === 1 || next === 2 ? next : 0;
  }
  return pairs.reverse();
}

/** What a row of places is worth, by the way in which one stands there. */
interface Row {
  both: Float64Array;
  one: Float64Array;
  two: Float64Array;
}

/** Before and after a row stands one place that nobody reaches. */
const MARGIN = 1;

const rowOf = (width: number): Row => ({
  both: new Float64Array(width + 2 * MARGIN),
  one: new Float64Array(width + 2 * MARGIN),
  two: new Float64Array(width + 2 * MARGIN),
});

/** Nothing of a row can be reached yet. */
function clear({ both, one, two }: Row): void {
  for (const each of [both, one, two]) each.fill(Number.NEGATIVE_INFINITY);
}

/**
 * Where music comes again, the second time is the one that the other reading lacks:
 * gaps go on as long as what they would let go of is as alike as what they take.
 */
function gapsLate(found: readonly UnitPair[], a: readonly Sound[], b: readonly Sound[]): UnitPair[] {
  const pairs = [...found];
  const isGap = (pair: UnitPair | undefined, side: 'one' | 'two') =>
    pair !== undefined && pair[side] === null;
  for (const side of ['one', 'two'] as const) {
    const other = side === 'one' ? 'two' : 'one';
    const likeAt = (pair: UnitPair) => alike(a[pair.one!]!, b[pair.two!]!);
    for (let from = pairs.length - 1; from >= 0; from--) {
      if (!isGap(pairs[from], side) || isGap(pairs[from - 1], side)) continue;
      for (let start = from; ; start++) {
        let next = start;
        while (isGap(pairs[next], side)) next++;
        const after = pairs[next];
        const first = pairs[start]!;
        if (!after || after.one === null || after.two === null) break;
        const instead: UnitPair = { ...first, [side]: after[side] };
        if (likeAt(instead) < likeAt(after) - AS_ALIKE) break;
        // The first of the gap is paired, the last of it is what was.
        pairs[start] = instead;
        for (let at = start + 1; at <= next; at++)
          pairs[at] = { one: null, two: null, [other]: first[other]! + at - start };
      }
    }
  }
  return pairs;
}

/** Units without a partner that sound as ones with a partner do: the nearest before, else after. */
function withAgain(pairs: readonly UnitPair[], a: readonly Sound[], b: readonly Sound[]): UnitPair[] {
  const paired = (side: 'one' | 'two') =>
    pairs.flatMap(({ one, two, [side]: own }) => (one !== null && two !== null ? [own!] : []));
  const known = { one: paired('one'), two: paired('two') };
  return pairs.map((pair): UnitPair => {
    const side = pair.two === null ? 'one' : pair.one === null ? 'two' : null;
    if (!side) return pair;
    const own = pair[side]!;
    const sounds = side === 'one' ? a : b;
    if (sounds[own]!.keys.total === 0) return pair;
    const again = known[side]
      .filter((each) => likeness(sounds[each]!.keys, sounds[own]!.keys) >= AGAIN)
      .sort((x, y) => Number(x > own) - Number(y > own) || Math.abs(x - own) - Math.abs(y - own))[0];
    return again === undefined ? pair : { ...pair, again };
  });
}
