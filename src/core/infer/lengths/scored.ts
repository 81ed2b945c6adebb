import { medianOf } from '../../basics/average';
import { type Frame, frameEnd } from '../../model/frame';
import type { Attack, SketchNote } from '../../model/sketch';
import type { Moment, Span } from '../../model/time';
import { FINE_STEPS, nearestPlace, type Tidiness, tickTolerance } from '../attacks/tidiness';
import { piecesOf } from './pieces';
import { shortPassages, type Touch } from './touch';

/** Fewer notes tell nothing of how a part was played. */
const ENOUGH = 12;
/** So many run into the next by a little, where a program plays slurs. */
const FEWEST_JOINED = 3;
/** They do by no more than this, and all but a few by the same, in seconds. */
const LONGEST_OVERLAP = 0.07;
const SAME_OVERLAP = 0.004;
/** So large a part of the notes is held to the next attack or into it: a part that is gated holds none so. */
const HELD = 0.25;
/** Of the notes of such a part so many end to the tick where one of its ways of holding notes has them end. */
const NEARLY_ALL = 0.97;
/** The share of its value that a staccato note is held (common practice of programs that play scores: half). */
const STACCATO = 0.5;
/** What a staccato dot costs on paper, in nats, as rests and symbols do. */
const DOT = 3.5;
/** Costs of beginning and ending a passage of dots, in nats. */
const BEGIN = 2;
const END = 1;

/** Where a note can end. */
interface Ends {
  note: SketchNote;
  /** As it sounds; null where it ends nowhere to the tick. */
  full: Moment | null;
  /** Where it is staccato; null where that would be past the next attack. */
  short: Moment | null;
}

/**
 * Ends the notes of a part that a program played from a score: to the tick as they are written,
 * those under slurs a little into the next, those with dots for half of their values. Whether half of a value is
 * that, or a value of its own with a rest after it, is told by what is plainer on paper, passage by passage.
 *
 * @param attacks of a body in order, grace notes apart
 * @param costOf what an end at a place costs on paper, in nats
 * @returns whether the part is such a one; if not, nothing is ended
 */
export function endAsScored(
  attacks: readonly Attack[],
  frame: Frame,
  tidiness: Tidiness,
  secondsPerUnit: (tick: number) => number,
  costOf: (index: number, end: Moment) => number,
): boolean {
  if (!tidiness.attacks) return false;
  const tolerance = tickTolerance(frame.clock.ticksPerQuarter);
  const overlaps: number[] = [];
  let held = 0;
  let told = 0;
  let all = 0;
  const ends = attacks.map((attack, index) =>
    attack.notes.map((note): Ends => {
      const next = nextStart(attacks, index, note.until, LONGEST_OVERLAP / secondsPerUnit(attack.tick));
      const over = next === null ? 0 : note.until - next;
      const isJoined = next !== null && over > tolerance;
      const place = isJoined ? next : nearestPlace(note.until, FINE_STEPS);
      const isTold = isJoined || (Math.abs(place - note.until) <= tolerance && place > attack.start);
      all++;
      if (isTold) told++;
      if (isJoined) overlaps.push(over * secondsPerUnit(attack.tick));
      if (isJoined || place === attacks[index + 1]?.start) held++;
      const full = isTold ? place : null;
      return { note, full, short: isJoined ? null : staccatoEnd(attacks, index, full, frame) };
    }),
  );
  const usual = medianOf(overlaps);
  const alike = overlaps.filter((each) => Math.abs(each - usual) <= SAME_OVERLAP).length;
  const isScored =
    all >= ENOUGH &&
    told >= NEARLY_ALL * all &&
    held >= HELD * all &&
    alike >= FEWEST_JOINED &&
    alike >= NEARLY_ALL * overlaps.length;
  if (!isScored) return false;
  const touches = ends.map((own, index): Touch => {
    const cost = (place: Moment | null) => (place === null ? Number.POSITIVE_INFINITY : costOf(index, place));
    const least = (places: readonly (Moment | null)[]) => Math.min(...places.map(cost));
    return {
      usual: least(own.map(({ full }) => full)),
      short: own.every(({ short }) => short !== null) ? DOT + least(own.map(({ short }) => short)) : UNLIKELY,
    };
  });
  const passages = shortPassages(touches.map(finite), { begin: BEGIN, end: END });
  const limit = frameEnd(frame);
  for (const [index, own] of ends.entries())
    for (const { note, full, short } of own) {
      const isShort = passages[index]! && short !== null;
      note.start = attacks[index]!.start;
      note.end = Math.min(limit, (isShort ? short : full) ?? nearestPlace(note.until, FINE_STEPS));
      if (note.end <= note.start) note.end = Math.min(limit, note.start + FINE_STEPS[0]!);
      if (isShort) note.staccato = true;
    }
  return true;
}

const UNLIKELY = 60;
const finite = ({ usual, short }: Touch): Touch => ({
  usual: Math.min(UNLIKELY, usual),
  short: Math.min(UNLIKELY, short),
});

/** The last later attack at or before a release, no further from it than an overlap is long. */
function nextStart(attacks: readonly Attack[], index: number, until: Moment, overlap: Span): Moment | null {
  let found: Moment | null = null;
  const { start } = attacks[index]!;
  for (let at = index + 1; at < attacks.length && attacks[at]!.start <= until; at++)
    if (attacks[at]!.start > start && until - attacks[at]!.start <= overlap) found = attacks[at]!.start;
  return found;
}

/** Where a note ends that is held for half of its value: not after the next attack, and in one symbol, since no dot stands on a tie. */
function staccatoEnd(
  attacks: readonly Attack[],
  index: number,
  full: Moment | null,
  frame: Frame,
): Moment | null {
  const { start } = attacks[index]!;
  if (full === null) return null;
  const end = start + Math.round((full - start) / STACCATO);
  const next = attacks[index + 1]?.start ?? frameEnd(frame);
  return end <= next && piecesOf(frame, start, end) === 1 ? end : null;
}
