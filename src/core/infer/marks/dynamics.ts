import { meanOf, medianOf } from '../../basics/average';
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
const FEWEST = 12;
const LEAST_RANGE = 8;
/** Most files stay within less than players do: what is heard is stretched to this range, so many times at most. */
const RANGE = 45;
const MOST_STRETCHED = 2.5;
/** Loud files are loud by default: how far the middle of what is heard counts. */
const MIDDLE = (VELOCITIES.mp! + VELOCITIES.mf!) / 2;
const BELIEVED = 0.5;
/** Where the softest and loudest passages begin, as shares of all attacks. */
const EDGES = [0.05, 0.95] as const;
/** Nobody plays more evenly than this, and within one dynamic so much more is usual; velocities. */
const LEAST_SPREAD = 2;
const WITHIN = 4;
/** One attack says no more than so many deviations. */
const KNEE = 2.5;

/** What a change costs, in nats: at all; less after a rest and where a bar begins, more off the beat; and that it is gradual. */
const CHANGE = 10;
const AFTER_REST = -4;
const AT_BAR = -2;
const OFF_BEAT = 4;
const GRADUAL = 3;
/** A passage has so many attacks at most before it is looked at anew. */
const LONGEST_PASSAGE = 300;
/** A hairpin has so many attacks and lasts so long, in which it goes over so much of the way to the next dynamic. */
const FEWEST_IN_RAMP = 4;
const MOST_IN_RAMP = 64;
const LONGEST = 24 * QUARTER;
const SHORTEST = 2 * QUARTER;
const LEAST_WAY = 0.8;
const MOST_STEPS = 4;
/** Passages less apart than this, of the way from one dynamic to the next, are one. */
const ALIKE = 0.6;
/** A rest after which a player is told again. */
const LONG_REST = 16 * QUARTER;

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
  ensemble: Pick<Ensemble, 'low' | 'high'>,
  over: number,
): Steps<ReadDynamics> {
  const levels = all.map(({ level }) => level);
  const smooth = runningMedian(levels);
  const [low, high] = edgesOf(smooth);
  const spread = spreadOf(levels);
  if (all.length < FEWEST || high - low < LEAST_RANGE)
    return { steps: [], hairpins: [], explained: smooth, spread };
  const scale = scaleOf(ensemble, over);
  const clipped = levels.map((level, at) =>
    Math.min(smooth[at]! + KNEE * spread, Math.max(smooth[at]! - KNEE * spread, level)),
  );
  const sums = new Sums(
    all.map(({ at }) => at / QUARTER),
    clipped,
  );
  const variance = spread ** 2 + (WITHIN / scale.stretch) ** 2;
  const changes = all.map((_, index) => reluctance * changeCost(all, index, bars));
  const flat = yield* cutUp(all, sums, 2 * variance, changes);
  const pieces = sloped(flat, all, sums, 2 * variance, changes, reluctance * GRADUAL, LEAST_WAY * scale.step);
  const settled = barwise(joined(pieces, all, bars, sums, scale), all, bars);
  return readPieces(settled, all, sums, scale, { variance, spread });
}

/** How loud the parts of a piece are together. */
export interface Ensemble {
  /** The softest and the loudest passages, balance aside; velocities. */
  low: number;
  high: number;
  /** By how much each part is louder than the others at the same time. */
  over: readonly number[];
}

/** What is soft in one part is so in all, but that a mixer, or a player, may have one louder than the others. */
export function ensembleOf(parts: readonly (readonly Loudness[])[], bars: readonly Bar[]): Ensemble {
  const inBars = parts.map((all) => {
    const levels = bars.map((): number[] => []);
    for (const { at, level } of all) levels[barIndexOf(bars, at)]!.push(level);
    return levels.map((own) => (own.length > 0 ? medianOf(own) : null));
  });
  const together = bars.map((_, bar) => medianOf(inBars.flatMap((own) => own[bar] ?? [])));
  const over = inBars.map((own) =>
    medianOf(own.flatMap((level, bar) => (level === null ? [] : [level - together[bar]!]))),
  );
  const levels = parts.flatMap((all, index) =>
    runningMedian(all.map(({ level }) => level)).map((level) => level - over[index]!),
  );
  const [low, high] = edgesOf(levels);
  return { low, high, over };
}

/** What all parts show together. */
export interface Tutti extends ReadDynamics {
  all: readonly Loudness[];
}

/** All parts as one: how loud they are at each moment together, balance aside. */
export function tuttiOf(parts: readonly (readonly Loudness[])[], { over }: Ensemble): Loudness[] {
  const moments = new Map<Moment, Loudness[]>();
  parts.forEach((all, part) => {
    for (const each of all) {
      const own = { ...each, level: each.level - over[part]!, heard: each.heard - over[part]! };
      const known = moments.get(each.at);
      if (known) known.push(own);
      else moments.set(each.at, [own]);
    }
  });
  return [...moments.entries()]
    .map(([at, own]) => ({
      at,
      until: own.reduce((last, { until }) => Math.max(last, until), 0),
      heard: meanOf(own.map(({ heard }) => heard)),
      level: meanOf(own.map(({ level }) => level)),
    }))
    .sort((a, b) => a.at - b.at);
}

/**
 * A part's dynamics are those of all together where these explain it about as
 * well as its own do: players of one piece are told one thing (common practice),
 * and what all show together is clearer than what each does.
 */
export function alongWith(
  own: ReadDynamics,
  tutti: Tutti,
  all: readonly Loudness[],
  over: number,
): ReadDynamics {
  if (tutti.steps.length === 0 || all.length === 0) return own;
  const twice = 2 * (own.spread ** 2 + WITHIN ** 2);
  const explained = all.map(
    ({ at }) =>
      over +
      tutti.explained[
        Math.max(
          0,
          lastAtOrBefore(tutti.all, at, (each) => each.at),
        )
      ]!,
  );
  const constant = own.steps.length === 0 ? medianOf(all.map(({ level }) => level)) : null;
  const off = (values: (index: number) => number) =>
    all.reduce(
      (sum, { level }, index) => sum + Math.min((level - values(index)) ** 2 / twice, (KNEE * KNEE) / 2),
      0,
    );
  const marks = own.steps.filter(({ margin }) => Number.isFinite(margin)).length + own.hairpins.length;
  const costOfOwn = off((index) => constant ?? own.explained[index]!) + CHANGE * marks;
  if (off((index) => explained[index]!) > costOfOwn) return own;
  return { ...followed(tutti, all, over), explained, spread: own.spread };
}

/** The marks of all together as far as a part plays under them. */
function followed(
  tutti: ReadDynamics,
  all: readonly Loudness[],
  over: number,
): Pick<ReadDynamics, 'steps' | 'hairpins'> {
  const steps: DynamicStep[] = [];
  const hairpins: Hairpin[] = [];
  for (const hairpin of tutti.hairpins) {
    const under = all.filter(({ at, until }) => until > hairpin.from && at < hairpin.to);
    const [first] = under;
    if (!first) continue;
    const from = Math.max(hairpin.from, first.at);
    const to = Math.min(hairpin.to, Math.max(...under.map(({ until }) => until)));
    if (to - from >= SHORTEST)
      hairpins.push({ ...hairpin, from, to, heard: [hairpin.heard[0] + over, hairpin.heard[1] + over] });
  }
  let said: string | null = null;
  tutti.steps.forEach((step, index) => {
    const next = tutti.steps[index + 1]?.at ?? Number.POSITIVE_INFINITY;
    const isGoal = hairpins.some(({ to }) => to === step.at);
    all.forEach(({ at }, each) => {
      if (at < step.at || at >= next) return;
      const isLate = each > 0 && restBefore(all, each) >= LONG_REST;
      if (said === step.dynamic && !isLate && !(isGoal && at === step.at)) return;
      const margin = at === step.at ? step.margin : Number.POSITIVE_INFINITY;
      said = step.dynamic;
      steps.push({ at, dynamic: step.dynamic, heard: step.heard + over, margin });
    });
  });
  return { steps, hairpins };
}

const edgesOf = (smooth: readonly number[]): [low: number, high: number] => [
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

function scaleOf({ low, high }: Pick<Ensemble, 'low' | 'high'>, over: number): Scale {
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
const restBefore = (all: readonly Loudness[], index: number): Span =>
  all[index]!.at - Math.max(...all.slice(Math.max(0, index - 4), index).map(({ until }) => until));

/** Sums over attacks, so that what a straight line leaves is found at once. */
class Sums {
  private readonly sums: readonly Float64Array[];
  constructor(
    readonly times: readonly number[],
    readonly values: readonly number[],
  ) {
    const terms = values.map((x, at) => [x, x * x, times[at]!, times[at]! ** 2, x * times[at]!]);
    this.sums = [0, 1, 2, 3, 4].map((term) => {
      const out = new Float64Array(values.length + 1);
      terms.forEach((own, at) => {
        out[at + 1] = out[at]! + own[term]!;
      });
      return out;
    });
  }

  private over(term: number, from: number, to: number): number {
    const sum = this.sums[term]!;
    return sum[to]! - sum[from]!;
  }

  mean = (from: number, to: number): number => this.over(0, from, to) / (to - from);

  /** Squared distances of the attacks `from` … `to` (exclusive) from their mean. */
  flat = (from: number, to: number): number =>
    Math.max(0, this.over(1, from, to) - this.over(0, from, to) ** 2 / (to - from));

  /** The same from a line through `start` at the first of them, rising by `slope` a quarter note. */
  off(from: number, to: number, start: number, slope: number): number {
    const base = start - slope * (this.times[from] ?? 0);
    const [x, xx, t, tt, xt] = [0, 1, 2, 3, 4].map((term) => this.over(term, from, to)) as Five;
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

type Five = [number, number, number, number, number];

/** Attacks `from` … `to` (exclusive) that have one loudness, or get louder or softer. */
interface Piece {
  from: number;
  to: number;
  ramp: boolean;
}

function* cutUp(
  all: readonly Loudness[],
  sums: Sums,
  twice: number,
  changes: readonly number[],
): Steps<Piece[]> {
  const costs = new Float64Array(all.length + 1);
  const from = new Int32Array(all.length + 1);
  for (let to = 1; to <= all.length; to++) {
    if (to % YIELD_EVERY === 0) yield;
    costs[to] = Number.POSITIVE_INFINITY;
    for (let start = to - 1; start >= Math.max(0, to - LONGEST_PASSAGE); start--) {
      const base = costs[start]! + (start === 0 ? 0 : changes[start]!);
      if (base >= costs[to]!) continue;
      const cost = base + sums.flat(start, to) / twice;
      if (cost >= costs[to]!) continue;
      costs[to] = cost;
      from[to] = start;
    }
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
  gain: number;
}

/**
 * Puts ramps between passages where a straight way from one to another
 * explains what is heard better than the steps between them.
 */
function sloped(
  pieces: readonly Piece[],
  all: readonly Loudness[],
  sums: Sums,
  twice: number,
  changes: readonly number[],
  gradual: number,
  step: number,
): Piece[] {
  const ramps: Ramp[] = [];
  for (let first = 0; first + 1 < pieces.length; first++)
    for (let last = first + 1; last <= Math.min(pieces.length - 1, first + MOST_STEPS); last++) {
      const ramp = bestRamp(pieces, first, last, all, sums, twice, changes, gradual, step);
      if (ramp) ramps.push(ramp);
    }
  ramps.sort((a, b) => b.gain - a.gain);
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
  all: readonly Loudness[],
  sums: Sums,
  twice: number,
  changes: readonly number[],
  gradual: number,
  step: number,
): Ramp | null {
  const [a, b] = [pieces[first]!, pieces[last]!];
  const means = pieces.slice(first, last + 1).map(({ from, to }) => sums.mean(from, to));
  const way = means.at(-1)! - means[0]!;
  if (Math.abs(way) < step) return null;
  if (means.some((mean, at) => at > 0 && (mean - means[at - 1]!) * way < 0)) return null;
  // Stairs are no ramp because they are many: it must explain what they do by itself.
  let steps = last - first > 1 ? 0 : changes[b.from]!;
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
      const gain = steps - cost - gradual - (last - first > 1 ? 0 : Math.min(changes[from]!, changes[to]!));
      if (gain > (best?.gain ?? 0) && Math.abs(goal - start) >= step) best = { first, last, from, to, gain };
    }
  }
  return best;
}

/**
 * Passages that follow each other and are alike made into one; also what is
 * shorter than a bar between two that are alike: that is a figure with its accents, no dynamic.
 */
function joined(
  pieces: readonly Piece[],
  all: readonly Loudness[],
  bars: readonly Bar[],
  sums: Sums,
  { step }: Scale,
): Piece[] {
  const means = pieces.map(({ from, to }) => sums.mean(from, to));
  const isFigure = (index: number): boolean => {
    const [before, piece, after] = [pieces[index - 1], pieces[index]!, pieces[index + 1]];
    if (!before || !after || before.ramp || piece.ramp || after.ramp) return false;
    const { at } = all[piece.from]!;
    const { length } = bars[barIndexOf(bars, at)]!;
    return all[piece.to]!.at - at < length && Math.abs(means[index - 1]! - means[index + 1]!) < ALIKE * step;
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
