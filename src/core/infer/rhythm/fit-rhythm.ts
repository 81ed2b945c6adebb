import { lastAtOrBefore } from '../../basics/search';
import type { Steps } from '../../basics/steps';
import type { GridChoice } from '../../decisions/kinds/grid';
import type { Beat } from '../../model/beats';
import type { Frame } from '../../model/frame';
import type { SwingMark } from '../../model/score';
import type { Attack } from '../../model/sketch';
import { pairOf, swungMoment } from '../../model/swing';
import type { Moment, Span } from '../../model/time';
import { soundTogether } from '../attacks/attacks';
import { exactPlace } from '../attacks/tidiness';
import { crushAhead, soundingOf, UNCOUNTED } from './crushed';
import { type Division, divisionsOf } from './divisions';
import {
  againstSwing,
  CERTAIN,
  type FittedSpan,
  fitSlots,
  type Played,
  type Reading,
  readSpan,
  supported,
} from './fit-span';
import type { Ensemble, RhythmFit, Support } from './known';

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
/**
 * On a first hearing nobody asks for alternatives. What costs more than another
 * reading of the same attacks by this cannot win: going to the other kind of division and back costs no more.
 */
const HASTY = TO_FOREIGN + FROM_FOREIGN;
const MOST_CUTS = 3;
/** Nobody plays or reads single notes closer than this, in seconds: over 20 a second (common practice). */
const HURRIED = 0.045;
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
/** Notes of a chord that is spread by hand are held together for at least this share. */
const ROLL_SHARE = 0.6;
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
  /** Drums: releases mean nothing, and a stroke just before another on the same piece is a flam. */
  drums: boolean;
  /** What is known of the other parts and of the piece's own rhythms; null on a first hearing. */
  ensemble: Ensemble | null;
}

/** A place at which the search may stand: a beat line, and the attacks cut there. */
interface Cut {
  /** Index of the beat that begins at the line, within the window. */
  line: number;
  /** The first attack after the cut. */
  attack: number;
  /** Its number among all cuts of the window, in order of their lines. */
  id: number;
}

interface Edge {
  reading: Reading;
  from: Cut;
  to: Cut;
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
 * Pinned attacks keep their places; the others are read as what may stand beside them.
 */
export function* fitRhythm(
  attacks: readonly Attack[],
  frame: Frame,
  beats: readonly Beat[],
  options: FitOptions,
): Steps<RhythmFit> {
  for (const attack of attacks) {
    if (attack.pinned === undefined) continue;
    attack.start = attack.pinned;
    attack.margin = Number.POSITIVE_INFINITY;
    attack.alternatives = [];
  }
  const free = attacks.filter((attack) => attack.pinned === undefined);
  const pinned = attacks.flatMap((attack) => attack.pinned ?? []).sort((a, b) => a - b);
  const played = describe(attacks, frame, options);
  const patterns = new Map<number, string>();
  // Beats without attacks between others tell nothing: each run of busy beats is searched by itself.
  for (const stretch of stretches(played, beats)) {
    let next = stretch.low;
    for (const window of windowsOf(stretch, played, beats)) {
      window.low = Math.min(window.low, next);
      next = search(free, played, pinned, beats, window, next, options, patterns);
      yield;
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

function describe(all: readonly Attack[], frame: Frame, options: FitOptions): Played[] {
  const played: Played[] = [];
  let graceBefore = false;
  let last: Attack | undefined;
  for (let index = 0; index < all.length; index++) {
    const attack = all[index]!;
    if (attack.pinned !== undefined) continue;
    const perUnit = options.secondsPerUnit(attack.tick);
    const grace = graceCost(
      attack,
      graceBefore ? undefined : all[index - 1],
      all[index + 1],
      perUnit,
      frame,
      options.drums,
    );
    graceBefore = grace < GRACE + GRACE_SURE;
    played.push({
      at: soundingOf(attack),
      spread: options.sigma / perUnit,
      hurried: HURRIED / perUnit,
      grace,
      collision: last ? collisionCost(last, attack, perUnit, options) : 0,
      ...crushOf(all, index, perUnit, played.at(-1)?.grace, options.drums),
      ...rollOf(last, played.at(-1), attack, perUnit, options),
    });
    last = attack;
  }
  return played;
}

function graceCost(
  attack: Attack,
  before: Attack | undefined,
  next: Attack | undefined,
  perUnit: number,
  frame: Frame,
  drums: boolean,
): number {
  const [note] = attack.notes;
  if (!next || !note || attack.notes.length > 1) return Number.POSITIVE_INFINITY;
  const length = (note.until - note.at) * perUnit;
  const isFlam = drums && next.notes.some((each) => each.key === note.key);
  if (length > GRACE_LONGEST && !isFlam) return Number.POSITIVE_INFINITY;
  if (!drums && next.notes.some((each) => each.key === note.key)) return Number.POSITIVE_INFINITY;
  if (attack.tick < frame.ticks[0]!) return GRACE;
  const at = soundingOf(attack);
  const ahead = (soundingOf(next) - at) * perUnit;
  if (ahead > 2 * GRACE_AHEAD + 0.01) return Number.POSITIVE_INFINITY;
  // A note of a run is as far from the one before as from the next.
  const inRun = before !== undefined && (at - soundingOf(before)) * perUnit < GRACE_APART * ahead;
  // The main note is the longer one.
  if (!isFlam && next.notes.every((each) => (each.until - each.at) * perUnit < length))
    return Number.POSITIVE_INFINITY;
  const z = (ahead - GRACE_AHEAD) / GRACE_SPREAD;
  // What stands on the fine grid to the tick was meant to stand there.
  const isExact = ahead > UNCOUNTED && exactPlace(at, frame) !== undefined;
  return GRACE + (inRun ? GRACE_IN_RUN : 0) + (isExact ? GRACE_EXACT : 0) + (z * z) / 2;
}

/** Where an attack is counted from if the note before, which may be a grace note, is crushed into it on its place. */
function crushOf(
  attacks: readonly Attack[],
  index: number,
  perUnit: number,
  grace: number | undefined,
  drums: boolean,
): Pick<Played, 'crushedAt'> {
  const attack = attacks[index]!;
  const isFree =
    attacks[index - 1]?.pinned === undefined && Number.isFinite(grace ?? Number.POSITIVE_INFINITY);
  const ahead = isFree ? crushAhead(attacks, index, perUnit, drums) : undefined;
  return ahead === undefined ? {} : { crushedAt: soundingOf(attack) - ahead };
}

/** Where the chord began of which an attack is a later note: nearer to the one before than notes of a line are played, and held with it. */
function rollOf(
  before: Attack | undefined,
  playedBefore: Played | undefined,
  attack: Attack,
  perUnit: number,
  { singleLine }: FitOptions,
): Pick<Played, 'rolledAt'> {
  if (singleLine || !before || !playedBefore) return {};
  const isRolled =
    (soundingOf(attack) - soundingOf(before)) * perUnit < HURRIED &&
    before.notes.every((note) =>
      attack.notes.every((other) => other.key !== note.key && soundTogether(note, other, ROLL_SHARE)),
    );
  return isRolled ? { rolledAt: playedBefore.rolledAt ?? playedBefore.at } : {};
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
  pinned: readonly Moment[],
  beats: readonly Beat[],
  window: Window,
  next: number,
  options: FitOptions,
  patterns: Map<number, string>,
): number {
  const { first } = window;
  const lines = cutsOf(played, beats, window);
  const edgesFrom: Edge[][] = lines.map(() => []);
  // Beats by themselves first: several are read together only where that does not explain them.
  const cheapest = new Float64Array(lines.length);
  for (const together of [1, 2, 4] as const)
    for (let from = 0; from + together < lines.length; from++) {
      const beat = beats[first + from]!;
      const divisions = divisionsOf(beat, options.choiceAt(beat), options.swingAt(beat.bar))[together];
      if (divisions.length === 0) continue;
      if (together > 1 && sumOf(cheapest, from, from + together) < EXPLAINED) continue;
      const span = {
        beat,
        index: first + from,
        start: beat.start,
        length: beat.length * together,
        divisions,
        pinned: pinnedIn(pinned, beat.start, beat.length * together),
        supports: supportsOf(options.ensemble, first + from, together),
      };
      let least = Number.POSITIVE_INFINITY;
      for (const low of lines[from]!)
        for (const high of lines[from + together]!) {
          if (high.attack < low.attack || (together > 1 && high.attack - low.attack < 2)) continue;
          const readings = readingsOf(played, low.attack, high.attack, span, options);
          let most = Number.POSITIVE_INFINITY;
          for (const { cost } of readings) {
            least = Math.min(least, cost);
            if (!options.ensemble) most = Math.min(most, cost + HASTY);
          }
          for (const reading of readings)
            if (reading.cost <= most) edgesFrom[from]!.push({ reading, from: low, to: high });
        }
      if (together === 1) cheapest[from] = least;
    }
  const edges = edgesFrom.flat();
  const end = lines.at(-1)![0]!;
  const { forward, steps } = forwardCosts(edges, end);
  const path = bestPath(steps, end, forward[2 * end.id + 1]! < forward[2 * end.id]! ? 1 : 0);
  const after = writePath(attacks, beats, window, next, path, patterns);
  // A first hearing is asked for its places only.
  if (options.ensemble)
    weighAlternatives(attacks, beats, first, edges, forward, backwardCosts(edges, end), next, after);
  return after;
}

/** Where pinned attacks stand within a span, as offsets from its start. */
function pinnedIn(pinned: readonly Moment[], start: Moment, length: Span): readonly Span[] {
  const from = lastAtOrBefore(pinned, start, (moment) => moment) + 1;
  let to = from;
  while (to < pinned.length && pinned[to]! < start + length) to++;
  return from === to ? NONE : pinned.slice(from, to).map((moment) => moment - start);
}

const NONE: readonly Span[] = [];

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

/** For each beat line the places at which the attacks may be cut there; one at both ends. */
function cutsOf(
  played: readonly Played[],
  beats: readonly Beat[],
  { first, end, low, high }: Stretch,
): Cut[][] {
  const lines: Cut[][] = [];
  let id = 0;
  const cut = (from: number, to: number) => {
    const cuts: Cut[] = [];
    for (let attack = from; attack <= to; attack++) cuts.push({ line: lines.length, attack, id: id++ });
    lines.push(cuts);
  };
  cut(low, low);
  let at = low;
  for (let index = first + 1; index < end; index++) {
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
    cut(from, latest);
  }
  cut(high, high);
  return lines;
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

/** A beat, or several from it on, and what is known of it. */
interface SpanOfBeats extends FittedSpan {
  beat: Beat;
  index: number;
}

/** All readings of the attacks `low` … `high` in a span, weighed by the piece's own rhythms where those are known. */
function readingsOf(
  played: readonly Played[],
  low: number,
  high: number,
  span: SpanOfBeats,
  options: FitOptions,
): Reading[] {
  const { ensemble } = options;
  const { beat, index, divisions, supports, length } = span;
  const beats = divisions[0]!.beats;
  if (low === high) return beats === 1 ? [EMPTY] : [];
  const readings = readSpan(played, low, high, span, ensemble ? CERTAIN : HASTY);
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

/** How a cut was best reached: along an edge, from a kind of reading. */
interface Step {
  edge: Edge;
  kind: number;
}

const unknown = (end: Cut): Float64Array => new Float64Array(2 * end.id + 2).fill(Number.POSITIVE_INFINITY);

/**
 * Costs from the start, and how each was reached. Both are by cut and kind: at
 * twice the cut's number for what goes by the meter, one after it for what is foreign to it.
 */
function forwardCosts(edges: readonly Edge[], end: Cut): { forward: Float64Array; steps: Step[] } {
  const forward = unknown(end);
  const steps: Step[] = new Array(forward.length);
  forward[0] = 0;
  for (const edge of edges) {
    const { reading, from, to } = edge;
    for (let before = 0; before < KINDS; before++) {
      const cost = forward[2 * from.id + before]! + reading.cost + change(reading, before);
      const at = 2 * to.id + kindAfter(reading, before);
      if (cost >= forward[at]!) continue;
      forward[at] = cost;
      steps[at] = { edge, kind: before };
    }
  }
  return { forward, steps };
}

/** Costs to the end by cut and kind. */
function backwardCosts(edges: readonly Edge[], end: Cut): Float64Array {
  const backward = unknown(end);
  backward[2 * end.id] = 0;
  backward[2 * end.id + 1] = 0;
  for (let index = edges.length - 1; index >= 0; index--) {
    const { reading, from, to } = edges[index]!;
    for (let before = 0; before < KINDS; before++) {
      const onward = backward[2 * to.id + kindAfter(reading, before)]!;
      const at = 2 * from.id + before;
      backward[at] = Math.min(backward[at]!, onward + reading.cost + change(reading, before));
    }
  }
  return backward;
}

/** By the meter, and foreign to it. */
const KINDS = 2;

/** What tells nothing leaves the kind as it was. */
const kindAfter = (reading: Reading, before: number): number =>
  reading.neutral ? before : reading.foreign ? 1 : 0;

function change(reading: Reading, before: number): number {
  if (reading.neutral) return 0;
  if (before === 0) return reading.foreign ? TO_FOREIGN : 0;
  return reading.foreign ? STAY_FOREIGN : FROM_FOREIGN;
}

/** The edges of the best reading, in order. */
function bestPath(steps: readonly Step[], end: Cut, endKind: number): Edge[] {
  const path: Edge[] = [];
  let step = steps[2 * end.id + endKind];
  while (step) {
    const { edge, kind } = step;
    path.push(edge);
    step = steps[2 * edge.from.id + kind];
  }
  return path.reverse();
}

/** Writes the attacks from `next` on up to the bar line where the window ends. @returns the first one after it */
function writePath(
  attacks: readonly Attack[],
  beats: readonly Beat[],
  { first, until }: Window,
  next: number,
  path: readonly Edge[],
  patterns: Map<number, string>,
): number {
  let after = next;
  for (const { reading, from, to } of path) {
    const index = first + from.line;
    if (index >= until) break;
    const { start, length } = beats[index]!;
    after = Math.max(after, to.attack);
    reading.offsets.forEach((offset, at) => {
      if (from.attack + at < next) return;
      const attack = attacks[from.attack + at]!;
      attack.grace = offset < 0;
      attack.start = start + Math.max(0, offset);
      attack.division = reading.count;
      if (reading.literal) standLiterally(attack);
    });
    if (reading.offsets.length > 0) patterns.set(index, patternOf(reading.offsets, length * reading.beats));
  }
  return after;
}

/** Tuplets and even 16ths are not swung. */
function standLiterally(attack: Attack): void {
  attack.at = attack.literal ?? attack.at;
  attack.even = attack.literal !== undefined;
  for (const note of attack.notes) Object.assign(note, note.literal);
}

/** A place where an attack may stand, −1 for a grace note, and what the best whole reading costs in which it does. */
interface Weighed {
  place: Moment;
  cost: number;
}

function weighAlternatives(
  attacks: readonly Attack[],
  beats: readonly Beat[],
  first: number,
  edges: readonly Edge[],
  forward: Float64Array,
  backward: Float64Array,
  next: number,
  after: number,
): void {
  const weighed = Array.from({ length: after - next }, (): Weighed[] => []);
  for (const { reading, from, to } of edges) {
    if (from.attack >= after || to.attack <= next) continue;
    let total = Number.POSITIVE_INFINITY;
    for (let before = 0; before < KINDS; before++) {
      const onward = backward[2 * to.id + kindAfter(reading, before)]!;
      total = Math.min(
        total,
        forward[2 * from.id + before]! + reading.cost + change(reading, before) + onward,
      );
    }
    if (!Number.isFinite(total)) continue;
    const { start } = beats[first + from.line]!;
    const { offsets } = reading;
    for (let at = 0; at < offsets.length; at++) {
      const own = weighed[from.attack + at - next];
      if (!own) continue;
      const place = offsets[at]! < 0 ? -1 : start + offsets[at]!;
      const known = own.find((each) => each.place === place);
      if (!known) own.push({ place, cost: total });
      else if (total < known.cost) known.cost = total;
    }
  }
  weighed.forEach((own, at) => {
    if (own.length === 0) return;
    const attack = attacks[next + at]!;
    const { start } = attack;
    const placed = attack.grace ? -1 : start;
    const least = own.find(({ place }) => place === placed)?.cost ?? 0;
    attack.alternatives = own
      .filter(({ place }) => place !== placed)
      .map(({ place, cost }) => ({ start: place < 0 ? start : place, grace: place < 0, worse: cost - least }))
      .sort((a, b) => a.worse - b.worse)
      .slice(0, ALTERNATIVES);
    attack.margin = attack.alternatives[0]?.worse ?? CERTAIN;
  });
}
