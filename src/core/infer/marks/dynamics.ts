import { medianOf } from '../../basics/average';
import { lastAtOrBefore } from '../../basics/search';
import type { Steps } from '../../basics/steps';
import { VELOCITIES } from '../../model/marks';
import { type Bar, barIndexOf } from '../../model/score';
import { type Moment, QUARTER, type Span } from '../../model/time';
import { type Loudness, placeInBar, runningMedian } from './loudness';

/** A dynamic from an attack on. */
export interface DynamicStep {
  at: Moment;
  dynamic: string;
  /** How loud it is heard from there on, on the scale of velocities. */
  heard: number;
  /** How much better it explains what is heard than going on as before, in nats; infinite where it only says again what holds. */
  margin: number;
}

/** A hairpin from one attack to another. */
export interface Hairpin {
  from: Moment;
  to: Moment;
  opens: boolean;
  /** How loud it begins and ends. */
  heard: [from: number, to: number];
  /** How much better it explains what is heard than a step, in nats. */
  margin: number;
}

/** The softest and the loudest passages of a piece, balance aside; velocities. */
export interface Range {
  low: number;
  high: number;
}

export interface ReadDynamics {
  steps: DynamicStep[];
  hairpins: Hairpin[];
  /** What the dynamics explain of each attack, on the scale of velocities. */
  explained: number[];
  /** Standard deviation of what they do not. */
  spread: number;
}

const NAMES = ['ppp', 'pp', 'p', 'mp', 'mf', 'f', 'ff', 'fff'] as const;

/** Fewer attacks, or less between the softest and the loudest passages, tell of no dynamics. */
export const FEWEST = 12;
export const LEAST_RANGE = 8;
/** Most files stay within less than players do: what is heard is stretched to this range, so many times at most. */
const RANGE = 55;
const MOST_STRETCHED = 2.5;
/** Loud files are loud by default: how far the middle of what is heard counts. */
const MIDDLE = (VELOCITIES.mp! + VELOCITIES.mf!) / 2;
const BELIEVED = 0.5;
/** Where the softest and loudest passages begin, as shares of all attacks. */
const EDGES = [0.01, 0.99] as const;
/** Nobody plays more evenly than this, and within one dynamic so much more is usual; velocities. */
const LEAST_SPREAD = 2;
export const WITHIN = 4;
/** One attack says no more than so many deviations. */
export const KNEE = 2.5;

/** What a change costs, in nats: at all; less after a rest and where a bar begins, more off the beat; and that it is gradual. */
export const CHANGE = 10;
const AFTER_REST = -4;
const AT_BAR = -2;
const OFF_BEAT = 4;
const GRADUAL = 3;
/** A hairpin has so many attacks and lasts so long, in which it goes over so much of the way to the next dynamic. */
const FEWEST_IN_RAMP = 4;
const MOST_IN_RAMP = 64;
const LONGEST = 24 * QUARTER;
export const SHORTEST = 2 * QUARTER;
const LEAST_WAY = 0.8;
const MOST_STEPS = 4;
/** Passages less apart than this, of the way from one dynamic to the next, are one. */
const ALIKE = 0.6;
/** So many passages shorter than a bar, by turns loud and soft, are a figure. */
const FIGURE = 4;
/** A rest after which a player is told again. */
export const LONG_REST = 16 * QUARTER;

const YIELD_EVERY = 256;

/**
 * Reads dynamics and hairpins from the loudness of a part: it is cut into
 * passages of one loudness and straight ramps so that these explain it best
 * for what each costs (dynamic programming over attacks; penalized piecewise
 * linear regression). Names are the part's own: what files hold is stretched to
 * what players do.
 *
 * @param reluctance how much more than usual a mark must explain; 1 for as usual
 * @param over by how much the part is louder than the others at the same time
 */
export function* readDynamics(
  all: readonly Loudness[],
  bars: readonly Bar[],
  reluctance: number,
  range: Range,
  over: number,
): Steps<ReadDynamics> {
  const levels = all.map(({ level }) => level);
  const smooth = runningMedian(levels);
  const [low, high] = edgesOf(smooth);
  const spread = spreadOf(levels);
  if (all.length < FEWEST || high - low < LEAST_RANGE)
    return { steps: [], hairpins: [], explained: smooth, spread };
  const scale = scaleOf(range, over);
  const clipped = levels.map((level, at) =>
    Math.min(smooth[at]! + KNEE * spread, Math.max(smooth[at]! - KNEE * spread, level)),
  );
  const sums = new Sums(
    all.map(({ at }) => at / QUARTER),
    clipped,
  );
  const variance = spread ** 2 + (WITHIN / scale.stretch) ** 2;
  const changes = all.map((_, index) => reluctance * changeCost(all, index, bars));
  const search: Search = {
    all,
    sums,
    changes,
    twice: 2 * variance,
    gradual: reluctance * GRADUAL,
    least: LEAST_WAY * scale.step,
  };
  const flat = yield* cutUp(search);
  const pieces = sloped(flat, search);
  const settled = barwise(joined(pieces, all, bars, sums, scale), all, bars);
  return readPieces(settled, all, sums, scale, { variance, spread });
}

export const edgesOf = (smooth: readonly number[]): [low: number, high: number] => [
  quantile(smooth, EDGES[0]),
  quantile(smooth, EDGES[1]),
];

function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
}

/** Deviation of attacks from what lies between their neighbours. */
function spreadOf(levels: readonly number[]): number {
  const apart = levels.slice(1, -1).map((level, at) => Math.abs(level - (levels[at]! + levels[at + 2]!) / 2));
  // Of normal deviations half are less than 0.674 of the standard one; the mean of two others adds half of their variance.
  return Math.max(LEAST_SPREAD, medianOf(apart) / 0.674 / Math.sqrt(1.5));
}

/** How the part's own loudness goes with dynamics. */
interface Scale {
  /** Velocities from one dynamic to the next. */
  step: number;
  stretch: number;
  nameOf: (level: number) => string;
}

/** Names of dynamics by how loud a part is among others. */
export const namesIn = (range: Range, over: number): ((loudness: number) => string) =>
  scaleOf(range, over).nameOf;

function scaleOf({ low, high }: Range, over: number): Scale {
  const middle = (low + high) / 2;
  const centre = MIDDLE + BELIEVED * (middle - MIDDLE);
  const stretch = Math.min(MOST_STRETCHED, Math.max(1, RANGE / Math.max(1, high - low)));
  return {
    stretch,
    step: (VELOCITIES.mf! - VELOCITIES.mp!) / stretch,
    nameOf: (level) => {
      const velocity = centre + stretch * (level - over - middle);
      return NAMES.reduce((best, name) =>
        Math.abs(VELOCITIES[name]! - velocity) < Math.abs(VELOCITIES[best]! - velocity) ? name : best,
      );
    },
  };
}

function changeCost(all: readonly Loudness[], index: number, bars: readonly Bar[]): number {
  const { at } = all[index]!;
  const rested = index > 0 && restBefore(all, index) >= QUARTER;
  const place = placeInBar(bars, at);
  return CHANGE + (rested ? AFTER_REST : 0) + (place === 0 ? AT_BAR : place === 2 && !rested ? OFF_BEAT : 0);
}

/** Silence before an attack; notes under the one before may still sound. */
export const restBefore = (all: readonly Pick<Loudness, 'at' | 'until'>[], index: number): Span =>
  all[index]!.at - Math.max(...all.slice(Math.max(0, index - 4), index).map(({ until }) => until));

/** Sums over attacks, so that what a straight line leaves is found at once. */
class Sums {
  private readonly x: Float64Array;
  private readonly xx: Float64Array;
  private readonly t: Float64Array;
  private readonly tt: Float64Array;
  private readonly xt: Float64Array;
  constructor(
    readonly times: readonly number[],
    readonly values: readonly number[],
  ) {
    const running = (term: (at: number) => number) => {
      const out = new Float64Array(values.length + 1);
      for (let at = 0; at < values.length; at++) out[at + 1] = out[at]! + term(at);
      return out;
    };
    this.x = running((at) => values[at]!);
    this.xx = running((at) => values[at]! ** 2);
    this.t = running((at) => times[at]!);
    this.tt = running((at) => times[at]! ** 2);
    this.xt = running((at) => values[at]! * times[at]!);
  }

  mean(from: number, to: number): number {
    return (this.x[to]! - this.x[from]!) / (to - from);
  }

  /** Squared distances of the attacks `from` … `to` (exclusive) from their mean. */
  flat(from: number, to: number): number {
    const x = this.x[to]! - this.x[from]!;
    return Math.max(0, this.xx[to]! - this.xx[from]! - (x * x) / (to - from));
  }

  /** The same from a line through `start` at the first of them, rising by `slope` a quarter note. */
  off(from: number, to: number, start: number, slope: number): number {
    const base = start - slope * (this.times[from] ?? 0);
    const x = this.x[to]! - this.x[from]!;
    const xx = this.xx[to]! - this.xx[from]!;
    const t = this.t[to]! - this.t[from]!;
    const tt = this.tt[to]! - this.tt[from]!;
    const xt = this.xt[to]! - this.xt[from]!;
    return Math.max(
      0,
      xx -
        2 * base * x -
        2 * slope * xt +
        (to - from) * base * base +
        2 * base * slope * t +
        slope * slope * tt,
    );
  }
}

/** Attacks `from` … `to` (exclusive) that have one loudness, or get louder or softer. */
interface Piece {
  from: number;
  to: number;
  ramp: boolean;
}

/** What the search goes by. */
interface Search {
  all: readonly Loudness[];
  sums: Sums;
  /** What a change at each attack costs, and that a way is gradual, in nats. */
  changes: readonly number[];
  gradual: number;
  /** Twice the variance of attacks around what explains them. */
  twice: number;
  /** A ramp goes over so much at least, in velocities. */
  least: number;
}

function* cutUp({ all, sums, changes, twice }: Search): Steps<Piece[]> {
  const costs = new Float64Array(all.length + 1);
  const from = new Int32Array(all.length + 1);
  // Where the passage that ends here may have begun: what is worse than beginning anew stays so (Killick et al. 2012).
  let starts: number[] = [];
  for (let to = 1; to <= all.length; to++) {
    if (to % YIELD_EVERY === 0) yield;
    starts.push(to - 1);
    costs[to] = Number.POSITIVE_INFINITY;
    const ends = starts.map((start) => {
      const cost = costs[start]! + (start === 0 ? 0 : changes[start]!) + sums.flat(start, to) / twice;
      if (cost < costs[to]!) {
        costs[to] = cost;
        from[to] = start;
      }
      return cost;
    });
    const anew = costs[to]! + (changes[to] ?? 0);
    starts = starts.filter((_, at) => ends[at]! <= anew);
  }
  const out: Piece[] = [];
  for (let to = all.length; to > 0; to = from[to]!) out.push({ from: from[to]!, to, ramp: false });
  return out.reverse();
}

/** A ramp that may stand between two passages, and what it gains over steps, in nats. */
interface Ramp {
  first: number;
  last: number;
  from: number;
  to: number;
  /** What it gains over the steps between, and these, which it spares, in nats. */
  gain: number;
  spared: number;
}

/**
 * Puts ramps between passages where a straight way from one to another
 * explains what is heard better than the steps between them.
 */
function sloped(pieces: readonly Piece[], search: Search): Piece[] {
  const ramps: Ramp[] = [];
  for (let first = 0; first + 1 < pieces.length; first++)
    for (let last = first + 1; last <= Math.min(pieces.length - 1, first + MOST_STEPS); last++) {
      const ramp = bestRamp(pieces, first, last, search);
      if (ramp) ramps.push(ramp);
    }
  ramps.sort((a, b) => b.gain + b.spared - a.gain - a.spared);
  const taken = new Uint8Array(pieces.length);
  const chosen: Ramp[] = [];
  for (const ramp of ramps) {
    // A passage may lie between two ramps, if both leave some of it.
    const isFree = chosen.every(
      (other) =>
        ramp.last < other.first || ramp.first > other.last || ramp.from > other.to || ramp.to < other.from,
    );
    if (!isFree || taken.slice(ramp.first + 1, ramp.last).some((each) => each === 1)) continue;
    chosen.push(ramp);
    taken.fill(1, ramp.first + 1, ramp.last);
  }
  chosen.sort((a, b) => a.from - b.from);
  const out: Piece[] = [];
  for (const piece of pieces) {
    let { from } = piece;
    for (const ramp of chosen) {
      if (ramp.to <= from || ramp.from >= piece.to) continue;
      if (ramp.from > from) out.push({ from, to: ramp.from, ramp: false });
      if (out.at(-1)?.from !== ramp.from) out.push({ from: ramp.from, to: ramp.to, ramp: true });
      from = ramp.to;
    }
    if (from < piece.to) out.push({ from, to: piece.to, ramp: false });
  }
  return out;
}

function bestRamp(
  pieces: readonly Piece[],
  first: number,
  last: number,
  { all, sums, changes, twice, gradual, least }: Search,
): Ramp | null {
  const [a, b] = [pieces[first]!, pieces[last]!];
  const means = pieces.slice(first, last + 1).map(({ from, to }) => sums.mean(from, to));
  const way = means.at(-1)! - means[0]!;
  if (Math.abs(way) < least) return null;
  if (means.some((mean, at) => at > 0 && (mean - means[at - 1]!) * way < 0)) return null;
  // Stairs are no ramp because they are many: it must explain what they do by itself.
  const isStairs = last - first > 1;
  let spared = 0;
  for (const { from } of pieces.slice(first + 1, last + 1)) spared += changes[from]!;
  let steps = isStairs ? 0 : spared;
  for (const { from, to } of pieces.slice(first, last + 1)) steps += sums.flat(from, to) / twice;
  let best: Ramp | null = null;
  for (let from = Math.max(a.from + 1, a.to - MOST_IN_RAMP); from <= a.to; from++) {
    const start = sums.mean(a.from, from);
    const left = sums.flat(a.from, from);
    for (let to = Math.max(b.from, from + FEWEST_IN_RAMP); to < Math.min(b.to, from + MOST_IN_RAMP); to++) {
      const length = all[to]!.at - all[from]!.at;
      if (length < SHORTEST) continue;
      if (length > LONGEST) break;
      const goal = sums.mean(to, b.to);
      const slope = (goal - start) / (sums.times[to]! - sums.times[from]!);
      const cost = (left + sums.off(from, to, start, slope) + sums.flat(to, b.to)) / twice;
      const gain = steps - cost - gradual - (isStairs ? 0 : Math.min(changes[from]!, changes[to]!));
      if (gain > (best?.gain ?? 0) && Math.abs(goal - start) >= least)
        best = { first, last, from, to, gain, spared: isStairs ? spared : 0 };
    }
  }
  return best;
}

/**
 * Passages that follow each other and are alike made into one; also what is
 * shorter than a bar between two that are alike, again and again: that is a figure with its accents, no dynamic.
 */
function joined(
  pieces: readonly Piece[],
  all: readonly Loudness[],
  bars: readonly Bar[],
  sums: Sums,
  { step }: Scale,
): Piece[] {
  const means = pieces.map(({ from, to }) => sums.mean(from, to));
  const isShort = (index: number): boolean => {
    const [before, piece, after] = [pieces[index - 1], pieces[index], pieces[index + 1]];
    if (!before || !piece || !after || before.ramp || piece.ramp || after.ramp) return false;
    const { at } = all[piece.from]!;
    const { length } = bars[barIndexOf(bars, at)]!;
    return all[piece.to]!.at - at < length && Math.abs(means[index - 1]! - means[index + 1]!) < ALIKE * step;
  };
  // A few are dynamics all the same; a figure comes again and again.
  const isFigure = (index: number): boolean => {
    let [from, to] = [index, index];
    while (isShort(from - 1)) from--;
    while (isShort(to + 1)) to++;
    return isShort(index) && to - from + 1 >= FIGURE;
  };
  const out: Piece[] = [];
  for (const [index, piece] of pieces.entries()) {
    const last = out.at(-1);
    if (last && isFigure(index)) {
      last.to = piece.to;
      continue;
    }
    const isAlike =
      last &&
      !last.ramp &&
      !piece.ramp &&
      Math.abs(sums.mean(last.from, last.to) - sums.mean(piece.from, piece.to)) < ALIKE * step;
    if (isAlike) last.to = piece.to;
    else out.push({ ...piece });
  }
  return out;
}

/** Changes near a bar line, with something to play on it, stand there (common practice). */
function barwise(pieces: readonly Piece[], all: readonly Loudness[], bars: readonly Bar[]): Piece[] {
  const out = pieces.map((piece) => ({ ...piece }));
  out.forEach((piece, index) => {
    const before = out[index - 1];
    if (!before) return;
    const { at } = all[piece.from]!;
    const bar = barIndexOf(bars, at);
    const { start, length } = bars[bar]!;
    const near = Math.min(QUARTER, length / 4);
    const line = [start, start + length].find((each) => Math.abs(each - at) <= near);
    if (line === undefined) return;
    const on = lastAtOrBefore(all, line, (each) => each.at);
    if (all[on]?.at !== line || on <= before.from || on >= piece.to) return;
    before.to = on;
    piece.from = on;
  });
  return out;
}

function readPieces(
  pieces: readonly Piece[],
  all: readonly Loudness[],
  sums: Sums,
  { nameOf }: Scale,
  { variance, spread }: { variance: number; spread: number },
): ReadDynamics {
  const steps: DynamicStep[] = [];
  const hairpins: Hairpin[] = [];
  const explained: number[] = [];
  let said: string | null = null;
  const say = (index: number, heard: number, margin: number) => {
    said = nameOf(heard);
    steps.push({ at: all[index]!.at, dynamic: said, heard, margin });
  };
  pieces.forEach(({ from, to, ramp }, index) => {
    const before = pieces[index - 1];
    if (ramp) {
      const at = all[from]!.at;
      const end = all[to]!.at;
      const goal = pieces[index + 1]!;
      const start = sums.mean(before!.from, before!.to);
      const last = sums.mean(goal.from, goal.to);
      let step = Number.POSITIVE_INFINITY;
      for (let cut = from; cut <= to; cut++)
        step = Math.min(step, sums.off(from, cut, start, 0) + sums.off(cut, to, last, 0));
      const slope = (last - start) / (sums.times[to]! - sums.times[from]!);
      hairpins.push({
        from: at,
        to: end,
        opens: last > start,
        heard: [start, last],
        margin: (step - sums.off(from, to, start, slope)) / (2 * variance),
      });
      for (let each = from; each < to; each++)
        explained.push(start + slope * (sums.times[each]! - sums.times[from]!));
      return;
    }
    const heard = sums.mean(from, to);
    if (nameOf(heard) !== said || before?.ramp) {
      const apart = before ? heard - (before.ramp ? heard : sums.mean(before.from, before.to)) : 0;
      const margin = apart === 0 ? Number.POSITIVE_INFINITY : (apart ** 2 * (to - from)) / (2 * variance);
      say(from, heard, margin);
    }
    for (let each = from; each < to; each++) {
      explained.push(heard);
      if (each > from && restBefore(all, each) >= LONG_REST) say(each, heard, Number.POSITIVE_INFINITY);
    }
  });
  return { steps, hairpins, explained, spread };
}
