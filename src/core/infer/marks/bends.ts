import { lastAtOrBefore } from '../../basics/search';
import type { SketchNote } from '../../model/sketch';

/** A move of the pitch bend, in ticks and semitones. */
export interface BendMove {
  tick: number;
  semitones: number;
}

/** How a bent note is read: it comes from below or above, falls or rises off, or slides into the next. */
export interface Bend {
  note: SketchNote;
  mark: 'scoop' | 'plop' | 'fall' | 'doit' | 'slide';
  /** Of a slide: where it goes. */
  to?: SketchNote;
  /** How far it is bent, in semitones. */
  by: number;
}

/** Semitones: a bend of less is vibrato or colour; into a note, and off one. */
const INTO = 0.7;
const OFF = 0.9;
/** What holds of a note is bent no further than this: more is another pitch. */
const STEADY = 0.35;
/** A bend takes no longer than this share of its note, or so many seconds. */
const SHARE = 0.5;
const LONGEST = 0.35;
/** Seconds: within so little of an end the bend is the note's; before a bend that goes back at once to nothing. */
const EDGE = 0.012;
/** A slide arrives so near to the next note, which begins so soon after. Semitones and seconds. */
const ARRIVES = 0.6;
const SOON = 0.06;
/** Places at which a note is looked at. */
const LOOKS = 24;

/**
 * Bends of single notes from the pitch bend of their strand. What a note does
 * for most of its time is its pitch; before and after that it may come or go. A
 * bend goes one way: what swings to and fro is vibrato.
 *
 * @param notes of one line, in order
 * @param moves of the bend, in order; @param seconds of a tick
 */
export function findBends(
  notes: readonly SketchNote[],
  moves: readonly BendMove[],
  seconds: (tick: number) => number,
): Bend[] {
  if (moves.length === 0) return [];
  const bendAt = (second: number): number => {
    const at = lastAtOrBefore(timed, second, (move) => move.second);
    return at < 0 ? 0 : timed[at]!.semitones;
  };
  const timed = moves.map(({ tick, semitones }) => ({ second: seconds(tick), semitones }));
  return notes.flatMap((note, index): Bend[] => {
    if (note.grace) return [];
    const [from, to] = [seconds(note.on), seconds(note.off)];
    const length = to - from;
    if (length < 4 * EDGE) return [];
    const places = Array.from(
      { length: LOOKS },
      (_, at) => from + EDGE + ((length - 2 * EDGE) * at) / (LOOKS - 1),
    );
    const levels = places.map(bendAt);
    const held = [...levels].sort((a, b) => a - b)[LOOKS >> 1]!;
    if (Math.abs(held) > STEADY) return [];
    const isSteady = (level: number) => Math.abs(level - held) <= STEADY;
    const reach = Math.max(SHARE * length, Math.min(LONGEST, length * 0.75));
    const bends: Bend[] = [];
    const arrived = levels.findIndex(isSteady);
    const comes = levels[0]! - held;
    if (
      Math.abs(comes) >= INTO &&
      places[arrived]! - from <= reach &&
      goesOneWay(levels.slice(0, arrived + 1))
    )
      bends.push({ note, mark: comes < 0 ? 'scoop' : 'plop', by: comes });
    const left = levels.findLastIndex(isSteady);
    const goes = levels.at(-1)! - held;
    if (Math.abs(goes) >= OFF && to - places[left]! <= reach && goesOneWay(levels.slice(left))) {
      const next = notes.slice(index + 1).find((each) => !each.grace);
      const isInto =
        next !== undefined &&
        seconds(next.on) - to <= SOON &&
        Math.abs(next.key - note.key - goes) <= ARRIVES;
      bends.push(
        isInto
          ? { note, mark: 'slide', to: next, by: goes }
          : { note, mark: goes < 0 ? 'fall' : 'doit', by: goes },
      );
    }
    return bends;
  });
}

/** Whether levels only rise or only fall, small steps back aside. */
function goesOneWay(levels: readonly number[]): boolean {
  const way = Math.sign(levels.at(-1)! - levels[0]!);
  return levels.every((level, at) => at === 0 || way * (level - levels[at - 1]!) >= -STEADY / 2);
}
