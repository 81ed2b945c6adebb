import { secondsAt } from '../performance/clock';
import { type Moment, QUARTER } from '../score/time';
import type { Frame } from './frame';
import type { Attack, SketchNote } from './sketch';

/** Notes further apart than this are not one chord, however it is rolled; seconds. */
const ROLL_STEP = 0.025;
const ROLL_TOTAL = 0.06;

/**
 * Step 5: gathers notes that attack together. In a written part only equal
 * onsets are (to the tick); in a played one a chord may be rolled a little.
 * A key struck twice in one attack is one note with two sources.
 */
export function gatherAttacks(notes: readonly SketchNote[], frame: Frame, written: boolean): Attack[] {
  const sorted = [...notes].sort((a, b) => a.on - b.on || a.key - b.key);
  const attacks: Attack[] = [];
  let group: SketchNote[] = [];
  const close = () => {
    if (group.length === 0) return;
    const members = mergeEqualKeys(group);
    const onsets = group.map((note) => note.on);
    attacks.push({ tick: onsets[onsets.length >> 1]!, start: 0, notes: members });
    group = [];
  };
  for (const note of sorted) {
    const first = group[0];
    const last = group.at(-1);
    const together =
      first &&
      last &&
      (written
        ? note.on - first.on <= 1
        : note.on === first.on ||
          (seconds(frame, last.on, note.on) <= ROLL_STEP && seconds(frame, first.on, note.on) <= ROLL_TOTAL));
    if (!together) close();
    group.push(note);
  }
  close();
  return attacks;
}

const seconds = (frame: Frame, from: number, to: number): number =>
  secondsAt(frame.clock, to) - secondsAt(frame.clock, from);

function mergeEqualKeys(group: readonly SketchNote[]): SketchNote[] {
  const byKey = new Map<number, SketchNote>();
  for (const note of group) {
    const found = byKey.get(note.key);
    if (!found) byKey.set(note.key, note);
    else {
      found.sources.push(...note.sources);
      found.off = Math.max(found.off, note.off);
    }
  }
  return [...byKey.values()].sort((a, b) => a.key - b.key);
}

/** Attacks that were fitted to the same place become one; none may stand on or after the end of the score. */
export function joinAttacks(attacks: readonly Attack[], end: Moment): Attack[] {
  for (const attack of attacks) attack.start = Math.min(attack.start, end - QUARTER / 8);
  const joined: Attack[] = [];
  for (const attack of attacks) {
    const last = joined.at(-1);
    if (last && last.start >= attack.start) last.notes = mergeEqualKeys([...last.notes, ...attack.notes]);
    else joined.push({ ...attack });
  }
  return joined;
}
