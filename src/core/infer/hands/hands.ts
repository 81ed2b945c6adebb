import type { Steps } from '../../basics/steps';
import type { Attack, SketchNote } from '../../model/sketch';
import type { Moment } from '../../model/time';

/** A ninth: what a hand spans without trouble, in semitones. */
const HAND_SPAN = 14;
const MIDDLE_C = 60;
/** Costs: each semitone of stretch, of span, of movement, on the wrong side of middle C. */
const STRETCH = 1.5;
const SPAN = 0.1;
const MOVEMENT = 0.03;
const WRONG_SIDE = 0.08;
/** What one hand can hold is rather not torn between two. */
const TORN = 0.5;
const OCTAVE = 12;
/** Each semitone by which the left hand reaches over the right. */
const CROSSING = 0.6;
/** More than this no hand holds. */
const FINGERS = 6;
/** Alternatives kept while searching. */
const BEAM = 24;

interface Hand {
  /** Middle of what it played last. */
  centre: number;
  /** What it may still hold. */
  held: readonly SketchNote[];
}

interface Path {
  cost: number;
  left: Hand;
  right: Hand;
  split: number;
  back: Path | null;
}

/** So many attacks are weighed between two pauses. */
const PAUSE = 200;

/**
 * Gives keyboard and harp notes to two staves. For each attack the lowest
 * `split` notes go to the left hand; a search over the whole part weighs the
 * span of each hand with what it still holds, its movement, its side of
 * middle C, and hands that cross.
 */
export function* splitHands(attacks: readonly Attack[]): Steps<void> {
  const start = { cost: 0, split: 0, back: null };
  let paths: Path[] = [{ ...start, left: { centre: 48, held: [] }, right: { centre: 72, held: [] } }];
  for (const [index, attack] of attacks.entries()) {
    if (index % PAUSE === PAUSE - 1) yield;
    const { notes, at } = attack;
    const next: Path[] = [];
    for (const path of paths) {
      const heldLeft = sounding(path.left.held, at);
      const heldRight = sounding(path.right.held, at);
      for (const split of splitsOf(notes)) {
        const low = notes.slice(0, split);
        const high = notes.slice(split);
        const cost =
          path.cost +
          handCost(low, heldLeft, path.left.centre, -1) +
          handCost(high, heldRight, path.right.centre, 1) +
          (torn(low, high) ? TORN : 0) +
          CROSSING * crossed([...low, ...heldLeft], [...high, ...heldRight]);
        next.push({
          cost,
          left: movedTo(path.left, low, heldLeft),
          right: movedTo(path.right, high, heldRight),
          split,
          back: path,
        });
      }
    }
    next.sort((a, b) => a.cost - b.cost);
    paths = next.slice(0, BEAM);
  }
  let path: Path | null = paths[0]!;
  for (let index = attacks.length - 1; index >= 0 && path; index--) {
    const { split } = path;
    attacks[index]!.notes.forEach((note, at) => {
      note.staff = at < split ? 2 : 1;
    });
    path = path.back;
  }
}

/** Where an attack may be cut; more notes than two hands have fingers are cut at middle C. */
function splitsOf(notes: readonly SketchNote[]): number[] {
  if (notes.length > 2 * FINGERS) return [notes.filter((note) => note.key < MIDDLE_C).length];
  return Array.from({ length: notes.length + 1 }, (_, split) => split);
}

/** Notes that go on for a good while after a moment: a legato overlap is not held. */
const sounding = (notes: readonly SketchNote[], at: Moment): readonly SketchNote[] =>
  notes.some((note) => isHeld(note, at)) ? notes.filter((note) => isHeld(note, at)) : NONE;

const NONE: readonly SketchNote[] = [];
const isHeld = (note: SketchNote, at: Moment): boolean => note.until - at > 0.3 * (note.until - note.at);

const movedTo = (hand: Hand, notes: readonly SketchNote[], held: readonly SketchNote[]): Hand =>
  notes.length === 0
    ? { centre: hand.centre, held }
    : { centre: mean(notes), held: held.length === 0 ? notes : [...held, ...notes].slice(-FINGERS) };

const torn = (low: readonly SketchNote[], high: readonly SketchNote[]): boolean =>
  low.length > 0 && high.length > 0 && high.at(-1)!.key - low[0]!.key <= OCTAVE;

const mean = (notes: readonly SketchNote[]): number =>
  notes.reduce((sum, note) => sum + note.key, 0) / notes.length;

/** Semitones by which the left hand's highest note lies over the right hand's lowest. */
function crossed(left: readonly SketchNote[], right: readonly SketchNote[]): number {
  if (left.length === 0 || right.length === 0) return 0;
  const top = left.reduce((most, note) => Math.max(most, note.key), 0);
  const bottom = right.reduce((least, note) => Math.min(least, note.key), 127);
  return Math.max(0, top - bottom);
}

/** @param side 1 for the right hand, which belongs above middle C, −1 for the left */
function handCost(
  notes: readonly SketchNote[],
  held: readonly SketchNote[],
  centre: number,
  side: 1 | -1,
): number {
  if (notes.length === 0) return 0;
  let low = notes[0]!.key;
  let high = notes.at(-1)!.key;
  for (const note of held) {
    low = Math.min(low, note.key);
    high = Math.max(high, note.key);
  }
  const own = mean(notes);
  return (
    STRETCH * Math.max(0, high - low - HAND_SPAN) +
    SPAN * (high - low) +
    MOVEMENT * Math.abs(own - centre) +
    WRONG_SIDE * Math.max(0, (MIDDLE_C - own) * side)
  );
}
