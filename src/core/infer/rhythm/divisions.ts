import type { GridChoice } from '../../decisions/kinds/grid';
import type { Beat } from '../../model/beats';
import type { SwingMark } from '../../model/score';
import { pairOf, swungMoment } from '../../model/swing';
import { QUARTER, type Span, typeSpan } from '../../model/time';

/** One way to divide a beat, or several beats together. */
export interface Division {
  /** Slots a span; their count is also the division's name. */
  count: number;
  /** Beats that the span covers. */
  beats: number;
  /** Foreign to the meter: what a tuplet sign is for. */
  foreign: boolean;
  /** In a swung bar: played as it stands, as tuplets and runs of 16ths are (common practice). */
  literal: boolean;
  /** Where all attacks lie on multiples of this, a plainer division says the same; 0 for nowhere. */
  idle: Span;
  /** What it costs to assume it, in nats (common practice decides the order, measurement the size). */
  prior: number;
  /** Slots from the start of the span, as written. */
  offsets: readonly Span[];
  /** The same as they sound: swung, unless it is literal. */
  sounding: readonly Span[];
  /** For each slot what an attack there costs beyond the division itself. */
  weights: readonly number[];
}

const BINARY: readonly [count: number, prior: number][] = [
  [1, 0],
  [2, 0.3],
  [4, 1.2],
  [8, 4.5],
  [16, 9],
];
const BINARY_FOREIGN: readonly [count: number, prior: number][] = [
  [3, 0.3],
  [6, 3.5],
  [5, 7],
  [12, 8],
  [7, 10],
  [9, 11],
  [10, 11],
];
const TERNARY: readonly [count: number, prior: number][] = [
  [1, 0],
  [3, 0.3],
  [6, 1.2],
  [12, 4.5],
];
const TERNARY_FOREIGN: readonly [count: number, prior: number][] = [
  [2, 1.5],
  [4, 3],
  [5, 6],
  [9, 7],
];
/** Tuplets over several beats: quarter and half-note triplets. */
const WIDE: readonly [count: number, beats: 2 | 4, prior: number][] = [
  [3, 2, 2.5],
  [3, 4, 6],
];

/** In swung bars finer values than the swung one, and that one, cost this much more where they are played even. */
const EVEN = 3;
const EVEN_PAIR = 8;

/** An attack on the k-th level below the beat costs this much; 0 is the beat itself. */
const LEVELS = [0, 0.3, 1.1, 2.2, 3.5];

function weightsOf(count: number): number[] {
  return Array.from({ length: count }, (_, slot) => {
    if (slot === 0) return 0;
    if (count % 3 === 0) return slot % (count / 3) === 0 ? 0.35 : 1;
    if (count % 5 === 0 || count % 7 === 0) return 0.4;
    let level = 0;
    for (let size = count; size > 1; size /= 2) {
      level++;
      if (slot % (size / 2) === 0) break;
    }
    // The last quarter of a beat leads into the next one and is the more usual (dotted rhythm).
    const leadsOn = level === 2 && slot / count === 0.75 ? -0.35 : 0;
    return LEVELS[Math.min(level, LEVELS.length - 1)]! + leadsOn;
  });
}

/** Divisions by how many beats they cover: one, two, four. */
export type Divisions = Readonly<Record<1 | 2 | 4, readonly Division[]>>;

/** Made once for each choice, swing and kind of beat. */
const known = new WeakMap<GridChoice, WeakMap<object, Map<number, Divisions>>>();
const STRAIGHT = {};

/** The ways in which a beat, swung or not, may divide, under what was chosen for the part; the plainest first. */
export function divisionsOf(beat: Beat, choice: GridChoice, swing: SwingMark | undefined): Divisions {
  const bySwing = known.get(choice) ?? new WeakMap<object, Map<number, Divisions>>();
  known.set(choice, bySwing);
  const own = bySwing.get(swing ?? STRAIGHT) ?? new Map<number, Divisions>();
  bySwing.set(swing ?? STRAIGHT, own);
  const kind = (beat.length * 5 + Math.min(beat.run, 4)) * 2 + (beat.ternary ? 1 : 0);
  const found = own.get(kind);
  if (found) return found;
  const made = makeDivisions(beat, choice, beat.ternary ? undefined : swing);
  own.set(kind, made);
  return made;
}

function makeDivisions(beat: Beat, choice: GridChoice, swing: SwingMark | undefined): Divisions {
  const smallest = typeSpan(choice.smallest);
  const made: Record<1 | 2 | 4, Division[]> = { 1: [], 2: [], 4: [] };
  const offer = (
    count: number,
    beats: 1 | 2 | 4,
    prior: number,
    foreign: boolean,
    plain: Span,
    literal = foreign,
    idle = 0,
  ) => {
    const step = (beat.length * beats) / count;
    if (!Number.isInteger(step) || (foreign && !choice.triplets)) return;
    if (plain < smallest - 1e-6 && count > 1) return;
    const offsets = Array.from({ length: count }, (_, slot) => slot * step);
    const sounding = swing && !literal ? offsets.map((offset) => swungMoment(offset, 0, swing)) : offsets;
    made[beats].push({
      count,
      beats,
      foreign,
      literal,
      idle,
      prior,
      offsets,
      sounding,
      weights: weightsOf(count),
    });
  };
  // A tuplet's notes are written in the plain value that is next longer than they last.
  const plainOf = (step: Span): Span => QUARTER * 2 ** Math.ceil(Math.log2(step / QUARTER) - 1e-9);
  for (const [count, prior] of beat.ternary ? TERNARY : BINARY)
    offer(count, 1, prior, false, beat.length / count);
  for (const [count, prior] of beat.ternary ? TERNARY_FOREIGN : BINARY_FOREIGN)
    offer(count, 1, prior, true, plainOf(beat.length / count));
  if (swing) {
    const pair = pairOf(swing);
    for (const [count, prior] of BINARY) {
      const step = beat.length / count;
      if (step === pair / 2) offer(count, 1, prior + EVEN_PAIR, false, step, true, pair);
      else if (step < pair / 2) offer(count, 1, prior + EVEN, false, step, true, pair / 2);
    }
  }
  if (!beat.ternary)
    for (const [count, beats, prior] of WIDE)
      if (beat.run >= beats && beat.length >= QUARTER / 2)
        offer(count, beats, prior, true, plainOf((beat.length * beats) / count));
  for (const beats of [1, 2, 4] as const) made[beats].sort((a, b) => a.prior - b.prior);
  return made;
}
