import type { GridChoice } from '../brief/decisions';
import type { SwingMark } from '../score/score';
import { pairOf, swungMoment } from '../score/swing';
import type { Moment, Span } from '../score/time';
import { lastAtOrBefore } from '../search';
import { soundTogether } from './attacks';
import type { Beat } from './beats';
import { type Division, divisionsOf } from './divisions';
import type { Ensemble, Support } from './ensemble';
import { againstSwing, CERTAIN, fitSlots, type Played, type Reading, readSpan, supported } from './fit-span';
import type { Frame } from './frame';
import type { Attack } from './sketch';
import { exactPlace } from './tidiness';

/** Foreign divisions come in runs: beginning one, staying in it, going back (nats). */
const TO_FOREIGN = 2.6;
const STAY_FOREIGN = 0.6;
const FROM_FOREIGN = 0.6;
/** An attack this many deviations from a beat line, or this share of a beat, may belong to either side; the finest slots lie this deep. */
const REACH = 4;
const SLIP = 1 / 12;
const FINEST = 8;
/** Beats that cost no more than this together need no tuplet over all of them. */
const EXPLAINED = 3;
/** On a first hearing nobody asks for alternatives: only what may well win is looked for. */
const HASTY = 4.5;
const MOST_CUTS = 3;
/** A beat with more attacks than this is no rhythm: it is cut where it stands. */
const CROWDED = 24;
/** A grace note: its rarity, and how far before its note it comes, in seconds (common practice). */
const GRACE = 4.5;
const GRACE_AHEAD = 0.07;
const GRACE_SPREAD = 0.03;
const GRACE_LONGEST = 0.13;
const GRACE_APART = 1.6;
const GRACE_IN_RUN = 6;
const GRACE_EXACT = 2;
/** Where one this good comes before, two may stand in a row. */
const GRACE_SURE = 1.5;
/** Two attacks of a line at one place; two attacks of one key; two of a chord that came apart. */
const LINE_COLLISION = 14;
const KEY_COLLISION = 14;
const CHORD_COLLISION = 0.7;
/** How far the notes of a chord come apart, in seconds: in chords and several voices, and in a line's few double stops. */
const CHORD_WIDTH = 0.045;
const STOP_WIDTH = 0.008;
/** For how much of the shorter one they sound together at least. */
const CHORD_SHARE = 0.1;
const STOP_SHARE = 0.4;
/** How many alternatives are kept for an attack. */
const ALTERNATIVES = 4;

export interface FitOptions {
  /** Standard deviation of an attack, in seconds. */
  sigma: number;
  secondsPerUnit: (tick: number) => number;
  /** What may be used at a beat. */
  choiceAt: (beat: Beat) => GridChoice;
  /** The swing that holds in a bar (index), if one does. */
  swingAt: (bar: number) => SwingMark | undefined;
  /** The instrument plays one note at a time. */
  singleLine: boolean;
  /** Chords are usual in this body of notes. */
  chordal: boolean;
  /** What is known of the other parts and of the piece's own rhythms; null on a first hearing. */
  ensemble: Ensemble | null;
}

/** What the fit of one body of notes came to. */
export interface RhythmFit {
  /** For each beat that holds attacks the pattern that was read, by index of the beat. */
  patterns: Map<number, string>;
}

interface Edge {
  reading: Reading;
  /** Boundary and cut at both ends. */
  from: number;
  cutFrom: number;
  to: number;
  cutTo: number;
}

/**
 * Finds the written place of every attack: a search (semi-Markov Viterbi) over
 * all ways to cut the attacks at beat lines, to divide each beat or several
 * together, and to put each attack on a slot. A reading costs the deviation of
 * its attacks under the part's jitter, the rarity of its divisions and places,
 * changes of division; agreement with other parts and with the piece's own
 * rhythms is cheaper. Every attack gets the margin to its next-best place
 * (difference of the best whole readings, by forward and backward costs).
 *
 * Pinned attacks keep their places and take no part.
 */
export function fitRhythm(
  attacks: readonly Attack[],
  frame: Frame,
  beats: readonly Beat[],
  options: FitOptions,
): RhythmFit {
  for (const attack of attacks) {
    if (attack.pinned === undefined) continue;
    attack.start = attack.pinned;
    attack.margin = Number.POSITIVE_INFINITY;
    attack.alternatives = [];
  }
  const free = attacks.filter((attack) => attack.pinned === undefined);
  const played = describe(attacks, free, frame, options);
  const patterns = new Map<number, string>();
  // Beats without attacks between others tell nothing: each run of busy beats is searched by itself.
  for (const stretch of stretches(played, beats)) {
    let next = stretch.low;
    for (const window of windowsOf(stretch, played, beats)) {
      window.low = Math.min(window.low, next);
      next = search(free, played, beats, window, next, options, patterns);
    }
  }
  hangGraces(attacks);
  return { patterns };
}

/** A grace note stands before the attack that follows it; one with nothing to follow stands for itself. */
function hangGraces(attacks: readonly Attack[]): void {
  let next: Attack | undefined;
  for (const attack of attacks.toReversed()) {
    if (attack.grace && next && attack.pinned === undefined) attack.start = next.start;
    else if (attack.pinned === undefined) attack.grace = false;
    next = attack;
  }
}

function describe(
  all: readonly Attack[],
  free: readonly Attack[],
  frame: Frame,
  options: FitOptions,
): Played[] {
  const order = new Map(all.map((attack, index) => [attack, index]));
  let graceBefore = false;
  return free.map((attack, index): Played => {
    const perUnit = options.secondsPerUnit(attack.tick);
    const place = order.get(attack)!;
    const before = graceBefore ? undefined : all[place - 1];
    const grace = graceCost(attack, before, all[place + 1], perUnit, frame);
    graceBefore = grace < GRACE + GRACE_SURE;
    return {
      at: soundingOf(attack),
      spread: options.sigma / perUnit,
      grace,
      collision: index > 0 ? collisionCost(free[index - 1]!, attack, perUnit, options) : 0,
    };
  });
}

/** Where an attack sounds, lead taken out. */
const soundingOf = ({ at, literal }: Attack): Moment => literal ?? at;

function graceCost(
  attack: Attack,
  before: Attack | undefined,
  next: Attack | undefined,
  perUnit: number,
  frame: Frame,
): number {
  const longest = Math.max(...attack.notes.map((note) => note.until - note.at)) * perUnit;
  if (!next || attack.notes.length > 1 || longest > GRACE_LONGEST) return Number.POSITIVE_INFINITY;
  if (next.notes.some((note) => note.key === attack.notes[0]!.key)) return Number.POSITIVE_INFINITY;
  if (attack.tick < frame.ticks[0]!) return GRACE;
  const at = soundingOf(attack);
  const ahead = (soundingOf(next) - at) * perUnit;
  if (ahead > 2 * GRACE_AHEAD + 0.01) return Number.POSITIVE_INFINITY;
  // A note of a run is as far from the one before as from the next.
  const inRun = before !== undefined && (at - soundingOf(before)) * perUnit < GRACE_APART * ahead;
  // The main note is the longer one.
  const main = Math.max(...next.notes.map((note) => note.until - note.at)) * perUnit;
  if (main < longest) return Number.POSITIVE_INFINITY;
  const z = (ahead - GRACE_AHEAD) / GRACE_SPREAD;
  // What stands on the fine grid to the tick was meant to stand there.
  const isExact = exactPlace(at, frame) !== undefined;
  return GRACE + (inRun ? GRACE_IN_RUN : 0) + (isExact ? GRACE_EXACT : 0) + (z * z) / 2;
}

function collisionCost(before: Attack, attack: Attack, perUnit: number, options: FitOptions): number {
  if (before.notes.some((note) => attack.notes.some((other) => other.key === note.key))) return KEY_COLLISION;
  const share = options.chordal ? CHORD_SHARE : STOP_SHARE;
  if (options.singleLine || !before.notes.every((note) => soundTogether(note, attack.notes[0]!, share)))
    return LINE_COLLISION;
  const z =
    ((soundingOf(attack) - soundingOf(before)) * perUnit) / (options.chordal ? CHORD_WIDTH : STOP_WIDTH);
  return Math.min(LINE_COLLISION, CHORD_COLLISION + (z * z) / 2);
}

/** Beats from `first` up to `end`, and their attacks from `low` up to `high` (indices). */
interface Stretch {
  first: number;
  end: number;
  low: number;
  high: number;
}

/** Beats that are searched at once. What is found counts up to the bar line `until`; the rest is only looked ahead at. */
interface Window extends Stretch {
  until: number;
}

/** Runs of beats that hold attacks. */
function stretches(played: readonly Played[], beats: readonly Beat[]): Stretch[] {
  const out: Stretch[] = [];
  if (played.length === 0) return out;
  let first = -1;
  let empty = 0;
  let low = 0;
  let at = 0;
  beats.forEach((beat, index) => {
    const from = at;
    while (at < played.length && (played[at]!.at < beat.start + beat.length || index === beats.length - 1))
      at++;
    const isBusy = at > from;
    if (isBusy && first < 0) {
      // An attack just before a beat line may belong to the beat after, and the first one to the one before.
      first = index;
      low = from;
    }
    empty = isBusy ? 0 : empty + 1;
    if (first >= 0 && empty >= 2) {
      out.push({ first, end: index, low, high: at });
      first = -1;
    }
  });
  if (first >= 0) out.push({ first, end: beats.length, low, high: at });
  return out;
}

/** So many beats are searched at once, with so many more before and after: those settle what is near a seam. */
const WINDOW = 128;
const LAP = 8;

/** Cuts a long stretch at bar lines, since a search over all of it holds too much at a time. */
function windowsOf(stretch: Stretch, played: readonly Played[], beats: readonly Beat[]): Window[] {
  const out: Window[] = [];
  /** The attack that comes first in a beat, by itself. */
  const attackOf = (beat: number): number => {
    const line = beats[beat]!.start - beats[beat]!.length / (2 * FINEST);
    return Math.max(stretch.low, lastAtOrBefore(played, line, ({ at }) => at) + 1);
  };
  for (let core = stretch.first; core < stretch.end; ) {
    let until = Math.min(stretch.end, core + WINDOW);
    while (until < stretch.end && beats[until]!.bar === beats[until - 1]!.bar) until++;
    if (stretch.end - until < LAP) until = stretch.end;
    const first = Math.max(stretch.first, core - LAP);
    const end = Math.min(stretch.end, until + LAP);
    out.push({
      first,
      end,
      low: first === stretch.first ? stretch.low : attackOf(first),
      high: end === stretch.end ? stretch.high : attackOf(end),
      until,
    });
    core = until;
  }
  return out;
}

/**
 * Finds the best reading of a window and writes it from the attack `next` on.
 *
 * @returns the first attack that is left for the next window
 */
function search(
  attacks: readonly Attack[],
  played: readonly Played[],
  beats: readonly Beat[],
  window: Window,
  next: number,
  options: FitOptions,
  patterns: Map<number, string>,
): number {
  const { first } = window;
  const cuts = cutsOf(played, beats, window);
  const size = cuts.length;
  const edges: Edge[][] = cuts.map(() => []);
  // Beats by themselves first: several are read together only where that does not explain them.
  const cheapest = new Float64Array(size);
  for (const together of [1, 2, 4] as const)
    for (let from = 0; from + together < size; from++) {
      const beat = beats[first + from]!;
      const divisions = divisionsOf(beat, options.choiceAt(beat), options.swingAt(beat.bar))[together];
      if (divisions.length === 0) continue;
      const to = from + together;
      if (together > 1 && sumOf(cheapest, from, to) < EXPLAINED) continue;
      const supports = supportsOf(options.ensemble, first + from, together);
      let least = Number.POSITIVE_INFINITY;
      cuts[from]!.forEach((low, cutFrom) => {
        cuts[to]!.forEach((high, cutTo) => {
          if (high < low || (together > 1 && high - low < 2)) return;
          for (const reading of readingsOf(
            played,
            low,
            high,
            beat,
            first + from,
            divisions,
            supports,
            options,
          )) {
            least = Math.min(least, reading.cost);
            edges[from]!.push({ reading, from, cutFrom, to, cutTo });
          }
        });
      });
      if (together === 1) cheapest[from] = least;
    }
  const { forward, best } = forwardCosts(cuts, edges);
  const [byMeter, foreign] = forward.at(-1)![0]! as [number, number];
  const path = bestPath(best, foreign < byMeter ? 1 : 0);
  const after = writePath(attacks, beats, window, next, cuts, path, patterns);
  // A first hearing is asked for its places only.
  if (options.ensemble)
    weighAlternatives(attacks, beats, first, cuts, edges, forward, backwardCosts(cuts, edges), next, after);
  return after;
}

/** What speaks for attacks in a span of beats. */
function supportsOf(ensemble: Ensemble | null, beat: number, together: number): readonly Support[] {
  if (!ensemble) return [];
  if (together === 1) return ensemble.support(beat);
  return Array.from({ length: together }, (_, at) => ensemble.support(beat + at)).flat();
}

const sumOf = (values: Float64Array, from: number, to: number): number => {
  let sum = 0;
  for (let at = from; at < to; at++) sum += values[at]!;
  return sum;
};

/** For each beat line the indices at which the attacks may be cut there. */
function cutsOf(
  played: readonly Played[],
  beats: readonly Beat[],
  { first, end, low, high }: Stretch,
): number[][] {
  const cuts: number[][] = [];
  let at = low;
  for (let index = first; index <= end; index++) {
    if (index === first) {
      cuts.push([low]);
      continue;
    }
    if (index === end) {
      cuts.push([high]);
      continue;
    }
    const line = beats[index]!.start;
    while (at < high && played[at]!.at < line) at++;
    let from = at;
    let to = at;
    // What goes to the left of the line stands at least a fine slot before it.
    const slot = beats[index - 1]!.length / FINEST;
    const least = beats[index]!.length * SLIP;
    while (from > low && line - played[from - 1]!.at <= Math.max(least, REACH * played[from - 1]!.spread))
      from--;
    while (to < high && slot + played[to]!.at - line <= Math.max(least, REACH * played[to]!.spread)) to++;
    const nearby = beats[index]!.length;
    const isCrowded =
      (played[at + CROWDED]?.at ?? Number.POSITIVE_INFINITY) < line + nearby ||
      (played[at - CROWDED]?.at ?? Number.NEGATIVE_INFINITY) > line - nearby;
    from = isCrowded ? at : Math.max(from, at - MOST_CUTS);
    to = isCrowded ? at : Math.min(to, at + MOST_CUTS);
    // What lies too near the line to have a slot before it goes to the right in any case.
    let latest = to;
    while (latest > from && latest <= at) {
      const before = played[latest - 1]!;
      if (slot - (line - before.at) <= REACH * before.spread) break;
      latest--;
    }
    cuts.push(Array.from({ length: latest - from + 1 }, (_, step) => from + step));
  }
  return cuts;
}

const EMPTY: Reading = {
  cost: 0,
  offsets: [],
  count: 1,
  beats: 1,
  foreign: false,
  literal: false,
  neutral: true,
};

/** All readings of a span, weighed by the piece's own rhythms where those are known. */
function readingsOf(
  played: readonly Played[],
  low: number,
  high: number,
  beat: Beat,
  index: number,
  divisions: readonly Division[],
  supports: readonly Support[],
  options: FitOptions,
): Reading[] {
  const { ensemble } = options;
  const beats = divisions[0]!.beats;
  if (low === high) return beats === 1 ? [EMPTY] : [];
  const length = beat.length * beats;
  const readings = readSpan(played, low, high, beat.start, divisions, supports, ensemble ? CERTAIN : HASTY);
  const swing = options.swingAt(beat.bar);
  if (swing) for (const reading of readings) reading.cost += againstSwing(reading, length, pairOf(swing));
  if (!ensemble) return readings;
  const seen = new Set<string>();
  for (const reading of readings) {
    const pattern = patternOf(reading.offsets, length);
    seen.add(pattern);
    reading.cost += ensemble.surprise(pattern, index, priorOf(reading, divisions, length));
  }
  // Rhythms that the piece uses are tried even where no division came to them by itself.
  for (const { pattern, offsets, division } of ensemble.familiar(beat, beats)) {
    // In a line every attack has a place of its own; the notes of chords may share one.
    const fewest = options.chordal ? Math.ceil((high - low) / 2) : high - low;
    if (seen.has(pattern) || offsets.length > high - low || offsets.length < fewest) continue;
    const from = divisions.find((each) => each.count === division);
    if (!from) continue;
    const weights = offsets.map((offset) => from.weights[Math.round((offset * from.count) / length)] ?? 0);
    const weighed = supported(weights, offsets, beat.start, supports);
    const sounding =
      swing && !from.literal ? offsets.map((offset) => swungMoment(offset, 0, swing)) : offsets;
    const fitted = fitSlots(played, low, high, beat.start, offsets, sounding, weighed);
    if (!fitted || patternOf(fitted.offsets, length) !== pattern) continue;
    const base = from.prior + weights.reduce((sum, weight) => sum + weight, 0);
    readings.push({
      cost: fitted.cost + from.prior + ensemble.surprise(pattern, index, base),
      offsets: fitted.offsets,
      count: from.count,
      beats,
      foreign: from.foreign,
      literal: from.literal,
      neutral: false,
    });
  }
  return readings;
}

/** What a reading costs before anything is heard: its division and its places. */
function priorOf(reading: Reading, divisions: readonly Division[], length: Span): number {
  const division = divisions.find(
    (each) => each.count === reading.count && each.literal === reading.literal,
  )!;
  let cost = division.prior;
  for (const offset of new Set(reading.offsets))
    if (offset >= 0) cost += division.weights[Math.round((offset * division.count) / length)] ?? 0;
  return cost;
}

/** A rhythm by its places within the span, whatever it is divided in. */
export function patternOf(offsets: readonly number[], length: Span): string {
  let pattern = `${length}:`;
  let last = -1;
  for (const offset of offsets) {
    // Places come in order; attacks may share one.
    if (offset < 0 || offset === last) continue;
    pattern += last < 0 ? offset : ` ${offset}`;
    last = offset;
  }
  return pattern;
}

const unknown = (cuts: readonly number[][]): number[][][] =>
  cuts.map((each) => each.map(() => [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY]));

/** Costs from the start for each boundary, cut and kind (0 by the meter, 1 foreign to it), and how each was reached. */
function forwardCosts(cuts: readonly number[][], edges: readonly Edge[][]) {
  const forward = unknown(cuts);
  const best: { edge: Edge; kind: number }[][][] = cuts.map((each) => each.map(() => []));
  forward[0]![0] = [0, Number.POSITIVE_INFINITY];
  edges.forEach((list, from) => {
    for (const edge of list) {
      const before = forward[from]![edge.cutFrom]!;
      const after = forward[edge.to]![edge.cutTo]!;
      for (const kindBefore of KINDS)
        for (const kind of kindsAfter(edge.reading, kindBefore)) {
          const cost = before[kindBefore]! + edge.reading.cost + change(edge.reading, kindBefore, kind);
          if (cost >= after[kind]!) continue;
          after[kind] = cost;
          best[edge.to]![edge.cutTo]![kind] = { edge, kind: kindBefore };
        }
    }
  });
  return { forward, best };
}

/** Costs to the end for each boundary, cut and kind. */
function backwardCosts(cuts: readonly number[][], edges: readonly Edge[][]): number[][][] {
  const backward = unknown(cuts);
  backward.at(-1)![0] = [0, 0];
  for (let from = edges.length - 1; from >= 0; from--)
    for (const edge of edges[from]!) {
      const after = backward[edge.to]![edge.cutTo]!;
      const before = backward[from]![edge.cutFrom]!;
      for (const kindBefore of KINDS)
        for (const kind of kindsAfter(edge.reading, kindBefore)) {
          const cost = after[kind]! + edge.reading.cost + change(edge.reading, kindBefore, kind);
          if (cost < before[kindBefore]!) before[kindBefore] = cost;
        }
    }
  return backward;
}

const KINDS = [0, 1] as const;
const SAME: readonly (readonly number[])[] = [[0], [1]];

/** What tells nothing leaves the kind as it was. */
const kindsAfter = (reading: Reading, before: 0 | 1): readonly number[] =>
  reading.neutral ? SAME[before]! : SAME[reading.foreign ? 1 : 0]!;

function change(reading: Reading, before: number, after: number): number {
  if (reading.neutral) return 0;
  if (before === 0) return after === 0 ? 0 : TO_FOREIGN;
  return after === 0 ? FROM_FOREIGN : STAY_FOREIGN;
}

/** The edges of the best reading, in order. */
function bestPath(best: readonly { edge: Edge; kind: number }[][][], endKind: number): Edge[] {
  const path: Edge[] = [];
  let boundary = best.length - 1;
  let cut = 0;
  let kind = endKind;
  while (boundary > 0) {
    const step = best[boundary]![cut]![kind];
    if (!step) break;
    path.unshift(step.edge);
    boundary = step.edge.from;
    cut = step.edge.cutFrom;
    kind = step.kind;
  }
  return path;
}

/** Writes the attacks from `next` on up to the bar line where the window ends. @returns the first one after it */
function writePath(
  attacks: readonly Attack[],
  beats: readonly Beat[],
  { first, until }: Window,
  next: number,
  cuts: readonly number[][],
  path: readonly Edge[],
  patterns: Map<number, string>,
): number {
  let after = next;
  for (const { reading, from, cutFrom, to, cutTo } of path) {
    if (first + from >= until) break;
    const { start, length } = beats[first + from]!;
    const low = cuts[from]![cutFrom]!;
    after = Math.max(after, cuts[to]![cutTo]!);
    reading.offsets.forEach((offset, at) => {
      if (low + at < next) return;
      const attack = attacks[low + at]!;
      attack.grace = offset < 0;
      attack.start = start + Math.max(0, offset);
      attack.division = reading.count;
      if (reading.literal) standLiterally(attack);
    });
    if (reading.offsets.length > 0)
      patterns.set(first + from, patternOf(reading.offsets, length * reading.beats));
  }
  return after;
}

/** Tuplets and even 16ths are not swung. */
function standLiterally(attack: Attack): void {
  attack.at = attack.literal ?? attack.at;
  attack.even = attack.literal !== undefined;
  for (const note of attack.notes) Object.assign(note, note.literal);
}

function weighAlternatives(
  attacks: readonly Attack[],
  beats: readonly Beat[],
  first: number,
  cuts: readonly number[][],
  edges: readonly Edge[][],
  forward: readonly number[][][],
  backward: readonly number[][][],
  next: number,
  after: number,
): void {
  const places = new Map<number, Map<Moment, number>>();
  for (const list of edges)
    for (const edge of list) {
      const { reading, from, cutFrom, to, cutTo } = edge;
      let total = Number.POSITIVE_INFINITY;
      for (const before of KINDS)
        for (const kind of kindsAfter(reading, before))
          total = Math.min(
            total,
            forward[from]![cutFrom]![before]! +
              reading.cost +
              change(reading, before, kind) +
              backward[to]![cutTo]![kind]!,
          );
      if (!Number.isFinite(total)) continue;
      const { start } = beats[first + from]!;
      const low = cuts[from]![cutFrom]!;
      reading.offsets.forEach((offset, at) => {
        const place = offset < 0 ? -1 : start + offset;
        const known = places.get(low + at) ?? new Map<Moment, number>();
        places.set(low + at, known);
        known.set(place, Math.min(known.get(place) ?? Number.POSITIVE_INFINITY, total));
      });
    }
  for (const [index, costs] of places) {
    if (index < next || index >= after) continue;
    const attack = attacks[index]!;
    const own = costs.get(attack.grace ? -1 : attack.start) ?? 0;
    attack.alternatives = [...costs]
      .filter(([place]) => place !== (attack.grace ? -1 : attack.start))
      .map(([place, cost]) => ({
        start: place < 0 ? attack.start : place,
        grace: place < 0,
        worse: cost - own,
      }))
      .sort((a, b) => a.worse - b.worse)
      .slice(0, ALTERNATIVES);
    attack.margin = attack.alternatives[0]?.worse ?? CERTAIN;
  }
}
