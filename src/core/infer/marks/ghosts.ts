import { medianOf } from '../../basics/average';
import type { SketchNote } from '../../model/sketch';
import { type Moment, QUARTER } from '../../model/time';

/** A stroke far softer than the others on its drum: its head stands in parentheses. */
export interface Ghost {
  at: Moment;
  key: number;
  /** Its velocity, and the usual one of full strokes. */
  heard: [own: number, usual: number];
  /** By how many deviations of either kind it is on the soft side of the middle between them. */
  margin: number;
}

/** Snares, toms and hand drums (General MIDI Level 1 percussion): soft strokes of cymbals and feet are dynamics. */
const DRUMS: ReadonlySet<number> = new Set([37, 38, 40, 41, 43, 45, 47, 48, 50, 60, 61, 62, 63, 64, 65, 66]);
/** Of fewer strokes nothing can be said. */
const FEWEST = 8;
/** Ghost notes are at most so loud, as a share of full strokes, and so many velocities softer. */
const SOFT = 0.62;
const SOFTER = 25;
/** The two ways of striking are so many deviations apart. */
const APART = 4;
/** Deviations are never taken for less: programmed strokes have none. */
const LEAST_SPREAD = 3;
/** So near before and after a ghost note its drum is struck in full. */
const AROUND = 4 * QUARTER;
/** More than this share of soft strokes is a soft passage. */
const MOST = 0.75;

/**
 * Ghost notes of each drum: strokes divide into two ways of striking, far apart
 * and each close in itself (two means, started from the ends).
 */
export function findGhosts(notes: readonly SketchNote[]): Ghost[] {
  const byKey = new Map<number, SketchNote[]>();
  for (const note of notes)
    if (DRUMS.has(note.key) && !note.grace) byKey.set(note.key, [...(byKey.get(note.key) ?? []), note]);
  return [...byKey.values()].flatMap(ghostsOf).sort((a, b) => a.at - b.at);
}

function ghostsOf(strokes: readonly SketchNote[]): Ghost[] {
  if (strokes.length < FEWEST) return [];
  const velocities = strokes.map(({ velocity }) => velocity);
  let [low, high] = [Math.min(...velocities), Math.max(...velocities)];
  let [soft, full]: [number[], number[]] = [[], []];
  for (let round = 0; round < 20; round++) {
    const middle = (low + high) / 2;
    soft = velocities.filter((velocity) => velocity < middle);
    full = velocities.filter((velocity) => velocity >= middle);
    if (soft.length === 0) return [];
    const next = [meanOf(soft), meanOf(full)] as const;
    if (next[0] === low && next[1] === high) break;
    [low, high] = next;
  }
  const spread = Math.max(LEAST_SPREAD, spreadOf(soft), spreadOf(full));
  const isApart = high - low >= APART * spread && high - low >= SOFTER && low <= SOFT * high;
  if (!isApart || soft.length > MOST * velocities.length) return [];
  const middle = (low + high) / 2;
  const usual = medianOf(full);
  const sorted = strokes.toSorted((a, b) => a.start - b.start);
  return sorted.flatMap(({ start, key, velocity }): Ghost[] =>
    velocity < middle && isAmongFull(sorted, start, middle)
      ? [{ at: start, key, heard: [velocity, usual], margin: (middle - velocity) / spread }]
      : [],
  );
}

/** Whether full strokes stand before and after a soft one, where there are strokes at all: else the passage is soft. */
function isAmongFull(strokes: readonly SketchNote[], at: Moment, middle: number): boolean {
  const before = strokes.filter(({ start }) => start >= at - AROUND && start < at);
  const after = strokes.filter(({ start }) => start > at && start <= at + AROUND);
  const isFull = (own: readonly SketchNote[]) => own.some(({ velocity }) => velocity >= middle);
  const sides = [before, after].filter((own) => own.length > 0);
  return sides.length > 0 && sides.every(isFull);
}

const meanOf = (values: readonly number[]): number =>
  values.reduce((sum, value) => sum + value, 0) / values.length;

function spreadOf(values: readonly number[]): number {
  const mean = meanOf(values);
  return Math.sqrt(meanOf(values.map((value) => (value - mean) ** 2)));
}
