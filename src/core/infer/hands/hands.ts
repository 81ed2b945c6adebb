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
/** Notes that one hand strikes together and lets go at different times, so that it needs a second voice. */
const MIXED = 1;
/** Of the longest of them, a note that is let go before this is let go earlier. */
const EARLIER = 0.6;
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

/** A way to divide an attack: which path it goes on from, and how many of its notes go to the left. */
interface Way {
  cost: number;
  from: number;
  split: number;
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
    const splits = splitsOf(notes);
    const mixed = mixedAt(notes);
    const held = paths.map(({ left, right }) => ({
      left: sounding(left.held, at),
      right: sounding(right.held, at),
    }));
    // Costs first: of all ways only those that are kept are made.
    const ways: Way[] = [];
    for (const [from, path] of paths.entries()) {
      const { left, right } = held[from]!;
      for (const split of splits) {
        const cost =
          path.cost +
          handCost(notes, 0, split, left, path.left.centre, -1) +
          handCost(notes, split, notes.length, right, path.right.centre, 1) +
          (isTorn(notes, split) ? TORN : 0) +
          MIXED * (mixed[split] ?? 0) +
          CROSSING * crossed(notes, split, left, right);
        ways.push({ cost, from, split });
      }
    }
    ways.sort((a, b) => a.cost - b.cost);
    paths = ways.slice(0, BEAM).map(({ cost, from, split }) => {
      const back = paths[from]!;
      const { left, right } = held[from]!;
      return {
        cost,
        left: movedTo(back.left, notes.slice(0, split), left),
        right: movedTo(back.right, notes.slice(split), right),
        split,
        back,
      };
    });
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

/** In how many hands, for each way to cut an attack, notes are let go at different times. */
function mixedAt(notes: readonly SketchNote[]): readonly number[] {
  if (notes.length < 2) return NO_HANDS;
  const isMixed = (from: number, to: number): number => {
    let shortest = Number.POSITIVE_INFINITY;
    let longest = 0;
    for (let at = from; at < to; at++) {
      const length = notes[at]!.until - notes[at]!.at;
      shortest = Math.min(shortest, length);
      longest = Math.max(longest, length);
    }
    return shortest < EARLIER * longest ? 1 : 0;
  };
  return Array.from(
    { length: notes.length + 1 },
    (_, split) => isMixed(0, split) + isMixed(split, notes.length),
  );
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
const NO_HANDS: readonly number[] = [];
const isHeld = (note: SketchNote, at: Moment): boolean => note.until - at > 0.3 * (note.until - note.at);

const movedTo = (hand: Hand, notes: readonly SketchNote[], held: readonly SketchNote[]): Hand =>
  notes.length === 0
    ? { centre: hand.centre, held }
    : { centre: mean(notes), held: held.length === 0 ? notes : [...held, ...notes].slice(-FINGERS) };

const isTorn = (notes: readonly SketchNote[], split: number): boolean =>
  split > 0 && split < notes.length && notes.at(-1)!.key - notes[0]!.key <= OCTAVE;

const mean = (notes: readonly SketchNote[]): number => meanOf(notes, 0, notes.length);

function meanOf(notes: readonly SketchNote[], from: number, to: number): number {
  let sum = 0;
  for (let at = from; at < to; at++) sum += notes[at]!.key;
  return sum / (to - from);
}

/** Semitones by which the left hand's highest note lies over the right hand's lowest. */
function crossed(
  notes: readonly SketchNote[],
  split: number,
  heldLeft: readonly SketchNote[],
  heldRight: readonly SketchNote[],
): number {
  if (split + heldLeft.length === 0 || notes.length - split + heldRight.length === 0) return 0;
  let top = 0;
  for (let at = 0; at < split; at++) top = Math.max(top, notes[at]!.key);
  for (const { key } of heldLeft) top = Math.max(top, key);
  let bottom = 127;
  for (let at = split; at < notes.length; at++) bottom = Math.min(bottom, notes[at]!.key);
  for (const { key } of heldRight) bottom = Math.min(bottom, key);
  return Math.max(0, top - bottom);
}

/**
 * What the notes `from` … `to` (exclusive) of an attack cost a hand.
 *
 * @param side 1 for the right hand, which belongs above middle C, −1 for the left
 */
function handCost(
  notes: readonly SketchNote[],
  from: number,
  to: number,
  held: readonly SketchNote[],
  centre: number,
  side: 1 | -1,
): number {
  if (from === to) return 0;
  let low = notes[from]!.key;
  let high = notes[to - 1]!.key;
  for (const { key } of held) {
    low = Math.min(low, key);
    high = Math.max(high, key);
  }
  const own = meanOf(notes, from, to);
  return (
    STRETCH * Math.max(0, high - low - HAND_SPAN) +
    SPAN * (high - low) +
    MOVEMENT * Math.abs(own - centre) +
    WRONG_SIDE * Math.max(0, (MIDDLE_C - own) * side)
  );
}
