import { tempoAt } from '../../model/clock';
import type { Frame } from '../../model/frame';
import type { Attack, SketchNote } from '../../model/sketch';
import { type Moment, QUARTER } from '../../model/time';

/** Notes further apart than this are not one chord, however it is rolled; seconds. */
const ROLL_STEP = 0.025;
const ROLL_TOTAL = 0.06;
/** Notes nearer than this are one chord in any playing; seconds. */
const TIGHT = 0.008;
const CHORDAL_SHARE = 0.1;
/** Notes of one chord sound together for at least this share of the shorter one. */
const SOUNDS_TOGETHER = 0.4;

/** What tells which notes attack together. */
type Timed = Pick<SketchNote, 'at' | 'on' | 'off' | 'key'> & { literal?: SketchNote['literal'] };

/**
 * Gathers notes that attack together, in order. In a written part only equal onsets do
 * (to the tick); in a played one a chord may be rolled a little.
 */
export function gathered<Note extends Timed>(
  notes: readonly Note[],
  frame: Frame,
  written: boolean,
): Note[][] {
  const sorted = [...notes].sort((a, b) => a.at - b.at || a.on - b.on || a.key - b.key);
  const step = isChordal(sorted, frame) ? ROLL_STEP : TIGHT;
  const groups: Note[][] = [];
  let group: Note[] = [];
  for (const note of sorted) {
    const first = group[0];
    const last = group.at(-1);
    const together =
      first &&
      last &&
      (written
        ? note.on - first.on <= 1
        : note.on === first.on ||
          (secondsBetween(last, note, frame) <= step &&
            secondsBetween(first, note, frame) <= ROLL_TOTAL &&
            group.every((other) => soundTogether(other, note))));
    if (together) group.push(note);
    else {
      group = [note];
      groups.push(group);
    }
  }
  return groups;
}

/** The attacks of notes. A key struck twice in one is one note with two sources. @see gathered */
export const gatherAttacks = (notes: readonly SketchNote[], frame: Frame, written: boolean): Attack[] =>
  gathered(notes, frame, written).map((group) =>
    attackOf(group[(group.length - 1) >> 1]!, mergeEqualKeys(group)),
  );

/** Whether many of the notes, in order of onset, come in tight chords; a line has a double stop now and then. */
export function isChordal(notes: readonly Timed[], frame: Frame): boolean {
  let tight = 0;
  notes.forEach((note, index) => {
    const before = notes[index - 1];
    if (before && soundTogether(before, note) && secondsBetween(before, note, frame) <= TIGHT) tight++;
  });
  return tight > CHORDAL_SHARE * notes.length;
}

/** Notes of a line, few of which may be double stops or held under later ones. */
const LINE_SHARE = 0.02;
const ENOUGH = 16;

/**
 * Whether notes that may run into each other are one line: hardly any are
 * struck together, and hardly any sounds on until the next has ended, as those
 * of chords that build up and of two voices do. Let ring, or played back with a gate that
 * is longer than the step, they are no second voice.
 */
export function isLine(notes: readonly SketchNote[], frame: Frame): boolean {
  const sorted = notes.toSorted((a, b) => a.on - b.on);
  let others = 0;
  sorted.forEach((note, index) => {
    const next = sorted[index + 1];
    if (!next || note.off <= next.on) return;
    const isHeld = note.off > next.off || (note.off === next.off && note.off - next.on > next.on - note.on);
    if (isHeld || secondsBetween(note, next, frame) <= ROLL_TOTAL) others++;
  });
  return sorted.length >= ENOUGH && others <= LINE_SHARE * sorted.length;
}

/**
 * Whether two notes, the later one second, sound like one chord: those of a run follow each other.
 *
 * @param share of the shorter one for which both must sound
 */
export function soundTogether(
  before: Pick<Timed, 'on' | 'off'>,
  note: Pick<Timed, 'on' | 'off'>,
  share = SOUNDS_TOGETHER,
): boolean {
  const shorter = Math.min(before.off - before.on, note.off - note.on);
  return before.off - note.on >= share * shorter;
}

function attackOf(middle: SketchNote, notes: SketchNote[]): Attack {
  return {
    tick: middle.on,
    at: middle.at,
    literal: middle.literal?.at,
    even: false,
    start: 0,
    grace: false,
    margin: Number.POSITIVE_INFINITY,
    alternatives: [],
    division: 1,
    notes,
  };
}

/** From one attack to a later one once leads are taken out. */
const secondsBetween = (before: Timed, note: Timed, { clock }: Frame): number =>
  (((note.literal ?? note).at - (before.literal ?? before).at) * tempoAt(clock, note.on)) / 1e6 / QUARTER;

function mergeEqualKeys(group: SketchNote[]): SketchNote[] {
  if (group.length === 1) return group;
  const byKey = new Map<number, SketchNote>();
  for (const note of group) {
    const found = byKey.get(note.key);
    if (!found) byKey.set(note.key, note);
    else {
      found.sources = [...found.sources, ...note.sources];
      found.off = Math.max(found.off, note.off);
      found.until = Math.max(found.until, note.until);
    }
  }
  return [...byKey.values()].sort((a, b) => a.key - b.key);
}

/**
 * Attacks that were fitted to the same place become one; none may stand on or
 * after the end of the score. Grace notes stay apart, before their note.
 */
export function joinAttacks(attacks: readonly Attack[], end: Moment): Attack[] {
  const joined: Attack[] = [];
  const sorted = attacks
    .map((attack) => ({ ...attack, start: Math.min(attack.start, end - QUARTER / 8) }))
    .sort((a, b) => a.start - b.start || Number(b.grace) - Number(a.grace));
  for (const attack of sorted) {
    const last = joined.at(-1);
    if (last && last.start === attack.start && !attack.grace && !last.grace) {
      // How long the notes of a spread chord are held is counted from its first one.
      for (const note of attack.notes) note.at = Math.min(note.at, last.at);
      last.notes = mergeEqualKeys([...last.notes, ...attack.notes]);
      last.margin = Math.min(last.margin, attack.margin);
    } else joined.push({ ...attack, notes: [...attack.notes] });
  }
  return joined;
}
