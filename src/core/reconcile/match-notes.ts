import { type Moment, QUARTER, type Span } from '../model/time';
import type { LinePair } from './match-lines';
import type { ReadNote, Side } from './reading';
import type { TimeMap } from './time-map';

/** A note is looked for this far from where it should attack. */
const REACH = QUARTER;
/** Another key at the same moment may be the note, this far away at most. */
const FURTHEST = 24;
/** What another key costs beside a quarter note of time, at all and for each semitone. */
const OTHER_KEY = 0.3;
const PER_SEMITONE = 1 / 24;
/** What costs no more than this agrees but for how it was played. */
const AGREES = 1 / 8;
/** A note at the same place in another part is the same note, moved. */
const ELSEWHERE: Span = QUARTER / 32;

/** A note of the one reading, of the other, or both where they are the same. */
export interface NotePair {
  one: ReadNote | null;
  two: ReadNote | null;
  /** They belong to lines that are not each other's. */
  elsewhere?: true;
  /** Semitones that the other's line sounds higher as a whole. */
  transposed: number;
  /** Where in the other reading the one's note should stand. */
  at: Moment | null;
  /** How much longer the other reading is there. */
  scale: number;
}

interface Candidate {
  one: number;
  two: number;
  transposed: number;
  cost: number;
}

/**
 * Which notes of two readings are the same: those that agree best first. A note
 * that has its key at its moment is taken before one that has another key or
 * moment; what is left may have gone to another part.
 */
export function matchNotes(one: Side, two: Side, lines: readonly LinePair[], time: TimeMap): NotePair[] {
  const here = one.lines.flatMap(({ notes }) => notes.map((note) => ({ note, at: time.at(note.start) })));
  const there = two.lines.flatMap(({ notes }) => notes);
  const firstOf = offsetsOf(one);
  const firstThere = offsetsOf(two);
  const taken = { one: new Int32Array(here.length).fill(-1), two: new Uint8Array(there.length) };
  const elsewhere = new Set<number>();
  const shifts = new Map<number, number>();
  const take = ({ one: a, two: b, transposed }: Candidate): boolean => {
    if (taken.one[a]! >= 0 || taken.two[b]!) return false;
    taken.one[a] = b;
    taken.two[b] = 1;
    shifts.set(a, transposed);
    return true;
  };
  const candidates = lines.map(({ one: a, two: b, transposed }) => {
    const own: Candidate[] = [];
    const other = two.lines[b]!.notes;
    const placed = one.lines[a]!.notes.map((note, index) => ({
      note,
      index: firstOf[a]! + index,
      at: here[firstOf[a]! + index]!.at,
    }))
      .filter((each): each is typeof each & { at: Moment } => each.at !== null)
      .sort((x, y) => x.at - y.at);
    let low = 0;
    for (const { note, index, at } of placed) {
      while (low < other.length && other[low]!.start < at - REACH) low++;
      for (let next = low; next < other.length && other[next]!.start <= at + REACH; next++) {
        const cost = costOf(note, at, other[next]!, transposed);
        if (cost !== null) own.push({ one: index, two: firstThere[b]! + next, transposed, cost });
      }
    }
    return own.sort((x, y) => x.cost - y.cost || x.one - y.one || x.two - y.two);
  });
  // What agrees in every line first: a note that is wrong in one may be right in another that was merged with it.
  for (const most of [AGREES, Number.POSITIVE_INFINITY])
    for (const isWhole of [true, false])
      lines.forEach(({ whole }, index) => {
        if (whole !== isWhole) return;
        for (const candidate of candidates[index]!) {
          if (candidate.cost > most) break;
          if (take(candidate) && !isWhole) elsewhere.add(candidate.one);
        }
      });
  takeElsewhere(here, there, taken, (candidate) => {
    if (take(candidate)) elsewhere.add(candidate.one);
  });
  const shiftOf = new Map(lines.filter(({ whole }) => whole).map((pair) => [pair.one, pair.transposed]));
  return [
    ...here.map(({ note, at }, index): NotePair => {
      const partner = taken.one[index]!;
      return {
        one: note,
        two: partner < 0 ? null : there[partner]!,
        ...(elsewhere.has(index) && { elsewhere: true as const }),
        transposed: shifts.get(index) ?? shiftOf.get(note.line) ?? 0,
        at,
        scale: time.scale(note.start),
      };
    }),
    ...there.flatMap((note, index): NotePair[] =>
      taken.two[index] ? [] : [{ one: null, two: note, transposed: 0, at: note.start, scale: 1 }],
    ),
  ];
}

/** Index of the first note of each line among all. */
function offsetsOf({ lines }: Side): number[] {
  const offsets: number[] = [];
  let next = 0;
  for (const { notes } of lines) {
    offsets.push(next);
    next += notes.length;
  }
  return offsets;
}

/** How unlike two notes are, in quarter notes; null where they are not the same note. */
function costOf(one: ReadNote, at: Moment, two: ReadNote, transposed: number): number | null {
  const away = Math.abs(two.start - at) / QUARTER;
  const semitones = Math.abs(two.key - one.key - transposed);
  // Of equal ones the one that is as long.
  const length = Math.min(1, Math.abs(two.end - two.start - (one.end - one.start)) / QUARTER) / 1000;
  const kind = one.grace === two.grace ? 0 : 0.1;
  if (semitones === 0) return away + length + kind;
  if (away > 1 / 8 || semitones > FURTHEST) return null;
  return OTHER_KEY + semitones * PER_SEMITONE * (semitones % 12 === 0 ? 0.5 : 1) + away + length + kind;
}

/** What is left on both sides with the same key at the same moment. */
function takeElsewhere(
  here: readonly { note: ReadNote; at: Moment | null }[],
  there: readonly ReadNote[],
  taken: { one: Int32Array; two: Uint8Array },
  take: (candidate: Candidate) => void,
): void {
  const left = new Map<string, number[]>();
  const slotOf = (moment: Moment) => Math.round(moment / ELSEWHERE);
  there.forEach((note, index) => {
    if (taken.two[index]) return;
    const name = `${slotOf(note.start)} ${note.key}`;
    left.set(name, [...(left.get(name) ?? []), index]);
  });
  here.forEach(({ note, at }, index) => {
    if (taken.one[index]! >= 0 || at === null) return;
    const found = [0, -1, 1]
      .flatMap((by) => left.get(`${slotOf(at) + by} ${note.key}`) ?? [])
      .find((each) => !taken.two[each]);
    if (found !== undefined) take({ one: index, two: found, transposed: 0, cost: 0 });
  });
}
