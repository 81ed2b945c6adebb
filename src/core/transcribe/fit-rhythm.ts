import type { GridChoice } from '../brief/decisions';
import type { Moment, Span } from '../score/time';
import type { Beat } from './beats';
import { type Division, divisionsOf } from './divisions';
import type { Ensemble } from './ensemble';
import { soundTogether } from './attacks';
import { fitSlots, type Played, type Reading, readSpan } from './fit-span';
import type { Frame } from './frame';
import type { Attack } from './sketch';

/** Foreign divisions come in runs: beginning one, staying in it, going back (nats). */
const TO_FOREIGN = 2.6;
const STAY_FOREIGN = 0.6;
const FROM_FOREIGN = 0.6;
/** An attack this many deviations from a beat line may belong to either side. */
const REACH = 3.5;
const MOST_CUTS = 4;
/** A grace note: its rarity, and how far before its note it comes, in seconds (common practice). */
const GRACE = 4.5;
const GRACE_AHEAD = 0.07;
const GRACE_SPREAD = 0.03;
const GRACE_LONGEST = 0.13;
const GRACE_APART = 1.6;
/** Two attacks of a line at one place; two attacks of one key; two of a chord that came apart. */
const LINE_COLLISION = 14;
const KEY_COLLISION = 14;
const CHORD_COLLISION = 0.7;
/** How far the notes of a chord come apart, in seconds: in chords and several voices, and in a line's few double stops. */
const CHORD_WIDTH = 0.045;
const STOP_WIDTH = 0.008;
/** How many alternatives are kept for an attack, and how bad they may be. */
const ALTERNATIVES = 4;
const WORST = 14;

export interface FitOptions {
  /** Standard deviation of an attack, in seconds. */
  sigma: number;
  secondsPerUnit: (tick: number) => number;
  /** What may be used at a beat. */
  choiceAt: (beat: Beat) => GridChoice;
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
  for (const [first, end, low, high] of stretches(played, beats))
    search(free, played, beats, first, end, low, high, options, patterns);
  hangGraces(attacks);
  return { patterns };
}

/** A grace note stands before the attack that follows it; one with nothing to follow stands for itself. */
function hangGraces(attacks: readonly Attack[]): void {
  let next: Attack | undefined;
  for (const attack of attacks.toReversed()) {
    if (attack.grace && next) attack.start = next.start;
    else attack.grace = false;
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
    const before = free[index - 1];
    const place = order.get(attack)!;
    const grace = graceCost(attack, graceBefore ? undefined : all[place - 1], all[place + 1], perUnit, frame);
    graceBefore = Number.isFinite(grace);
    return {
      at: attack.at,
      spread: options.sigma / perUnit,
      grace,
      collision: before ? collisionCost(before, attack, perUnit, options) : 0,
    };
  });
}

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
  const ahead = (next.at - attack.at) * perUnit;
  if (ahead > 2 * GRACE_AHEAD + 0.01) return Number.POSITIVE_INFINITY;
  // A note of a run is as far from the one before as from the next.
  if (before && (attack.at - before.at) * perUnit < GRACE_APART * ahead) return Number.POSITIVE_INFINITY;
  // The main note is the longer one.
  const main = Math.max(...next.notes.map((note) => note.until - note.at)) * perUnit;
  if (main < longest) return Number.POSITIVE_INFINITY;
  const z = (ahead - GRACE_AHEAD) / GRACE_SPREAD;
  return GRACE + (z * z) / 2;
}

function collisionCost(before: Attack, attack: Attack, perUnit: number, options: FitOptions): number {
  if (before.notes.some((note) => attack.notes.some((other) => other.key === note.key))) return KEY_COLLISION;
  if (options.singleLine || !before.notes.every((note) => soundTogether(note, attack.notes[0]!)))
    return LINE_COLLISION;
  const z = ((attack.at - before.at) * perUnit) / (options.chordal ? CHORD_WIDTH : STOP_WIDTH);
  return Math.min(LINE_COLLISION, CHORD_COLLISION + (z * z) / 2);
}

/** Runs of beats that hold attacks, with the attacks of each: [first beat, end, first attack, end]. */
function stretches(
  played: readonly Played[],
  beats: readonly Beat[],
): [first: number, end: number, low: number, high: number][] {
  const out: [number, number, number, number][] = [];
  if (played.length === 0) return out;
  let first = -1;
  let empty = 0;
  let low = 0;
  let at = 0;
  beats.forEach((beat, index) => {
    const from = at;
    while (at < played.length && (played[at]!.at < beat.start + beat.length || index === beats.length - 1)) at++;
    const isBusy = at > from;
    if (isBusy && first < 0) {
      // An attack just before a beat line may belong to the beat after, and the first one to the one before.
      first = Math.max(0, index);
      low = from;
    }
    empty = isBusy ? 0 : empty + 1;
    if (first >= 0 && empty >= 2) {
      out.push([first, index, low, at]);
      first = -1;
    }
  });
  if (first >= 0) out.push([first, beats.length, low, at]);
  return out;
}

function search(
  attacks: readonly Attack[],
  played: readonly Played[],
  beats: readonly Beat[],
  first: number,
  end: number,
  low: number,
  high: number,
  options: FitOptions,
  patterns: Map<number, string>,
): void {
  const cuts = cutsOf(played, beats, first, end, low, high);
  const size = cuts.length;
  const edges: Edge[][] = cuts.map(() => []);
  for (let from = 0; from + 1 < size; from++) {
    const beat = beats[first + from]!;
    const divisions = divisionsOf(beat, options.choiceAt(beat));
    for (const beatsTogether of [1, 2, 4]) {
      const to = from + beatsTogether;
      const fitting = divisions.filter((division) => division.beats === beatsTogether);
      if (to >= size || fitting.length === 0) continue;
      cuts[from]!.forEach((low, cutFrom) => {
        cuts[to]!.forEach((high, cutTo) => {
          if (high < low || (beatsTogether > 1 && high - low < 2)) return;
          for (const reading of readingsOf(played, low, high, beat, first + from, fitting, options))
            edges[from]!.push({ reading, from, cutFrom, to, cutTo });
        });
      });
    }
  }
  const { forward, backward, best } = costs(cuts, edges);
  const [byMeter, foreign] = forward.at(-1)![0]! as [number, number];
  writeBest(attacks, beats, first, cuts, best, foreign < byMeter ? 1 : 0, patterns);
  weighAlternatives(attacks, beats, first, cuts, edges, forward, backward);
}

/** For each beat line the indices at which the attacks may be cut there. */
function cutsOf(
  played: readonly Played[],
  beats: readonly Beat[],
  first: number,
  end: number,
  low: number,
  high: number,
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
    const reach = (each: Played) => Math.min(REACH * each.spread, 0.4 * beats[index]!.length);
    while (from > low && line - played[from - 1]!.at <= reach(played[from - 1]!)) from--;
    while (to < high && played[to]!.at - line <= reach(played[to]!)) to++;
    from = Math.max(from, at - MOST_CUTS);
    to = Math.min(to, at + MOST_CUTS);
    cuts.push(Array.from({ length: to - from + 1 }, (_, step) => from + step));
  }
  return cuts;
}

const EMPTY: Reading = { cost: 0, offsets: [], count: 1, beats: 1, foreign: false, neutral: true };

/** All readings of a span, weighed by the piece's own rhythms where those are known. */
function readingsOf(
  played: readonly Played[],
  low: number,
  high: number,
  beat: Beat,
  index: number,
  divisions: readonly Division[],
  options: FitOptions,
): Reading[] {
  const { ensemble } = options;
  const beats = divisions[0]!.beats;
  if (low === high) return beats === 1 ? [EMPTY] : [];
  const length = beat.length * beats;
  const bonus = ensemble ? (moment: Moment) => ensemble.support(moment) : null;
  const readings = readSpan(played, low, high, beat.start, length, divisions, bonus);
  if (!ensemble) return readings;
  const seen = new Set<string>();
  for (const reading of readings) {
    const pattern = patternOf(reading.offsets, length);
    seen.add(pattern);
    reading.cost += ensemble.surprise(pattern, index, priorOf(reading, divisions, length));
  }
  // Rhythms that the piece uses are tried even where no division came to them by itself.
  for (const { pattern, offsets, division } of ensemble.familiar(beat, beats)) {
    if (seen.has(pattern) || offsets.length > high - low) continue;
    const from = divisions.find((each) => each.count === division);
    if (!from) continue;
    const weights = offsets.map((offset) => from.weights[Math.round((offset * from.count) / length)] ?? 0);
    const weighed = bonus ? weights.map((weight, at) => weight - bonus(beat.start + offsets[at]!)) : weights;
    const fitted = fitSlots(played, low, high, beat.start, offsets, weighed);
    if (!fitted || patternOf(fitted.offsets, length) !== pattern) continue;
    const base = from.prior + weights.reduce((sum, weight) => sum + weight, 0);
    readings.push({
      cost: fitted.cost + from.prior + ensemble.surprise(pattern, index, base),
      offsets: fitted.offsets,
      count: from.count,
      beats,
      foreign: from.foreign,
      neutral: false,
    });
  }
  return readings;
}

/** What a reading costs before anything is heard: its division and its places. */
function priorOf(reading: Reading, divisions: readonly Division[], length: Span): number {
  const division = divisions.find((each) => each.count === reading.count)!;
  let cost = division.prior;
  for (const offset of new Set(reading.offsets))
    if (offset >= 0) cost += division.weights[Math.round((offset * division.count) / length)] ?? 0;
  return cost;
}

/** A rhythm by its places within the span, whatever it is divided in. */
export function patternOf(offsets: readonly number[], length: Span): string {
  return `${length}:${[...new Set(offsets.filter((offset) => offset >= 0))].join(' ')}`;
}

/** Costs from the start and to the end for each boundary, cut and kind (0 by the meter, 1 foreign to it). */
function costs(cuts: readonly number[][], edges: readonly Edge[][]) {
  const fresh = () => cuts.map((each) => each.map(() => [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY]));
  const forward = fresh();
  const backward = fresh();
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
  return { forward, backward, best };
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

function writeBest(
  attacks: readonly Attack[],
  beats: readonly Beat[],
  first: number,
  cuts: readonly number[][],
  best: readonly { edge: Edge; kind: number }[][][],
  endKind: number,
  patterns: Map<number, string>,
): void {
  let boundary = cuts.length - 1;
  let cut = 0;
  let kind = endKind;
  while (boundary > 0) {
    const step = best[boundary]![cut]![kind];
    if (!step) break;
    const { edge } = step;
    const { reading } = edge;
    const { start, length } = beats[first + edge.from]!;
    const low = cuts[edge.from]![edge.cutFrom]!;
    reading.offsets.forEach((offset, at) => {
      const attack = attacks[low + at]!;
      attack.grace = offset < 0;
      attack.start = start + Math.max(0, offset);
      attack.division = reading.count;
    });
    if (reading.offsets.length > 0)
      patterns.set(first + edge.from, patternOf(reading.offsets, length * reading.beats));
    boundary = edge.from;
    cut = edge.cutFrom;
    kind = step.kind;
  }
}

function weighAlternatives(
  attacks: readonly Attack[],
  beats: readonly Beat[],
  first: number,
  cuts: readonly number[][],
  edges: readonly Edge[][],
  forward: readonly number[][][],
  backward: readonly number[][][],
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
    const attack = attacks[index]!;
    const own = costs.get(attack.grace ? -1 : attack.start) ?? 0;
    attack.alternatives = [...costs]
      .filter(([place]) => place !== (attack.grace ? -1 : attack.start))
      .map(([place, cost]) => ({ start: place < 0 ? attack.start : place, grace: place < 0, worse: cost - own }))
      .filter((each) => each.worse < WORST)
      .sort((a, b) => a.worse - b.worse)
      .slice(0, ALTERNATIVES);
    attack.margin = attack.alternatives[0]?.worse ?? WORST;
  }
}
