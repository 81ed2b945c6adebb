import type { SketchNote, SketchOrnament } from '../../model/sketch';
import { type Moment, QUARTER } from '../../model/time';

/** A few quick strokes about a note that are written as a sign over it. */
export interface Mordent {
  from: Moment;
  to: Moment;
  /** The note that is written. */
  main: SketchNote;
  ornament: SketchOrnament;
  notes: SketchNote[];
}

/** From stroke to stroke it takes no longer, and no shorter, in seconds (common practice of players). */
const SLOWEST = 0.14;
const QUICKEST = 0.025;
/** What lasts less on paper is too quick to be meant as written. */
const SHORT: Moment = QUARTER / 4;
/** The note lasts so many times as long as a stroke. */
const LASTS = 2;

/**
 * Mordents (main, neighbour, main) and turns (above, main, below, main) among
 * the notes of one line: strokes too quick to be read one by one, the last of
 * them held. One alone between longer notes is an ornament; more are a run.
 *
 * @param notes of one staff, played one at a time; @param seconds of a tick
 */
export function findMordents(notes: readonly SketchNote[], seconds: (tick: number) => number): Mordent[] {
  const inOrder = [...notes].sort((a, b) => a.on - b.on || a.key - b.key);
  const times = inOrder.map(({ on }) => seconds(on));
  const isQuick = (note: SketchNote) => note.grace === true || note.end - note.start < SHORT;
  const found: Mordent[] = [];
  for (let at = 0; at < inOrder.length; at++) {
    const shape = shapeAt(inOrder, at);
    if (!shape) continue;
    const own = inOrder.slice(at, at + shape.count);
    const main = own.at(-1)!;
    const steps = own.slice(1).map((_, index) => times[at + index + 1]! - times[at + index]!);
    const stroke = steps.reduce((sum, step) => sum + step, 0) / steps.length;
    const isRun =
      (inOrder[at - 1] !== undefined && times[at]! - times[at - 1]! < SLOWEST && isQuick(inOrder[at - 1]!)) ||
      isQuick(main);
    if (
      isRun ||
      main.grace ||
      !own.slice(0, -1).every(isQuick) ||
      !steps.every((step) => step <= SLOWEST && step >= QUICKEST) ||
      seconds(main.off) - seconds(main.on) < LASTS * stroke
    )
      continue;
    const from = Math.min(...own.flatMap(({ grace, start }) => (grace ? [] : [start])));
    found.push({ from, to: main.end, main, ornament: shape.ornament, notes: own });
    at += shape.count - 1;
  }
  return found;
}

/** The ornament whose strokes begin with a note, by the keys alone. */
function shapeAt(
  notes: readonly SketchNote[],
  at: number,
): { count: number; ornament: SketchOrnament } | null {
  const key = (after: number) => notes[at + after]?.key;
  const by = (a: number | undefined, b: number | undefined): 1 | 2 | null => {
    const apart = a === undefined || b === undefined ? 0 : a - b;
    return apart === 1 || apart === 2 ? apart : null;
  };
  const [first, second, third, fourth] = [key(0), key(1), key(2), key(3)];
  if (second === fourth && second !== undefined) {
    const [above, below] = [by(first, second), by(second, third)];
    if (above && below) return { count: 4, ornament: { name: 'turn', above, below } };
    const [over, under] = [by(third, second), by(second, first)];
    if (over && under) return { count: 4, ornament: { name: 'inverted-turn', above: over, below: under } };
  }
  if (first === third && first !== undefined) {
    const above = by(second, first);
    if (above) return { count: 3, ornament: { name: 'inverted-mordent', above } };
    const below = by(first, second);
    if (below) return { count: 3, ornament: { name: 'mordent', below } };
  }
  return null;
}

/** Makes one note of each; it has all its strokes for sources. */
export function foldMordents(notes: readonly SketchNote[], mordents: readonly Mordent[]): SketchNote[] {
  const folded = new Set(mordents.flatMap((each) => each.notes));
  const heads = mordents.map(({ main, from, to, ornament, notes: own }): SketchNote => {
    const { staccato: _, legato: __, ...plain } = main;
    return {
      ...plain,
      start: from,
      end: to,
      ornament,
      sources: [...main.sources, ...own.slice(0, -1).flatMap((note) => note.sources)],
    };
  });
  return [...notes.filter((note) => !folded.has(note)), ...heads].sort((a, b) => a.start - b.start);
}
