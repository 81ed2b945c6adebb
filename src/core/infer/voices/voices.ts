import { type DrumLayout, drumSound } from '../../instruments/kit';
import type { SketchNote } from '../../model/sketch';
import type { Moment } from '../../model/time';

/** Costs of a voice assignment, in one currency; common practice decides their order. */
const DISOBEYED = 10_000;
const CUT_SHORT = 40;
const UNEQUAL_ENDS = 25;
const SECOND_VOICE = 0.6;
const UPPER_EMPTY = 0.5;
const CROSSING = 2;
const LEAP = 0.02;
/** Alternatives kept while searching. */
const BEAM_WIDTH = 24;

type Said = (note: SketchNote) => 1 | 2 | undefined;

interface Line {
  end: Moment;
  low: number;
  high: number;
}

interface State {
  cost: number;
  upper: Line;
  lower: Line;
  /** How many notes, from the top, go to the upper voice. */
  take: number;
  back: State | null;
}

/**
 * Step 9: separates the notes of one staff into at most two voices. One voice
 * holds whatever can be read as a line of chords; a second is opened only
 * where a note sounds on while others move. Drums divide into hands (voice 1,
 * stems up) and feet (voice 2).
 *
 * @param mostAt how many voices there may be where a note begins
 * @param said the voice of a note for which one was decided
 */
export function separateVoices(
  notes: readonly SketchNote[],
  unpitched: boolean,
  mostAt: (note: SketchNote) => 1 | 2,
  said: (note: SketchNote) => 1 | 2 | undefined = () => undefined,
  layout: DrumLayout = drumSound,
): void {
  if (unpitched)
    for (const note of notes) note.voice = said(note) ?? (layout(note.key).foot && mostAt(note) > 1 ? 2 : 1);
  else
    for (const tangle of tangles(byStart(notes), said))
      searchVoices(
        tangle.filter((group) => mostAt(group[0]!) > 1 || group.some((note) => said(note))),
        said,
      );
  for (const voice of [1, 2]) joinChords(notes.filter((note) => note.voice === voice));
}

/** Runs of groups that no single line of chords can hold; everything between them is voice 1. */
function tangles(groups: readonly SketchNote[][], said: Said): SketchNote[][][] {
  const out: SketchNote[][][] = [];
  let run: SketchNote[][] = [];
  let sounding = 0;
  groups.forEach((group, index) => {
    const [first] = group;
    const next = groups[index + 1]?.[0]!.start ?? Number.POSITIVE_INFINITY;
    const isPlain =
      sounding <= first!.start &&
      first!.end <= next &&
      group.every((note) => note.end === first!.end && said(note) !== 2);
    for (const note of group) {
      note.voice = 1;
      sounding = Math.max(sounding, note.end);
    }
    if (!isPlain) run.push(group);
    else if (run.length > 0) {
      out.push(run);
      run = [];
    }
  });
  if (run.length > 0) out.push(run);
  return out;
}

/** Searches for the cheapest assignment of a tangle's notes to the two voices. */
function searchVoices(groups: readonly SketchNote[][], said: Said): void {
  let states: State[] = [
    {
      cost: 0,
      upper: { end: 0, low: 72, high: 72 },
      lower: { end: 0, low: 55, high: 55 },
      take: 0,
      back: null,
    },
  ];
  for (const group of groups) {
    // What does not depend on what came before is worked out once for each way to divide the group.
    const ways = Array.from({ length: group.length + 1 }, (_, take) => wayOf(group, take, said));
    const next = states.flatMap((state) => ways.map((way) => extend(state, way)));
    next.sort((a, b) => a.cost - b.cost);
    states = next.slice(0, BEAM_WIDTH);
  }
  let state: State | null = states[0]!;
  for (let index = groups.length - 1; index >= 0 && state; index--) {
    const { take } = state;
    groups[index]!.forEach((note, at) => {
      note.voice = at < take ? 1 : 2;
    });
    state = state.back;
  }
}

/** Groups of equal start, each from high to low. */
function byStart(notes: readonly SketchNote[]): SketchNote[][] {
  const sorted = [...notes].sort((a, b) => a.start - b.start || b.key - a.key);
  const groups: SketchNote[][] = [];
  for (const note of sorted) {
    const last = groups.at(-1);
    if (last && last[0]!.start === note.start) last.push(note);
    else groups.push([note]);
  }
  return groups;
}

/** Some notes of a group as one voice has them; at least one. */
interface Share extends Line {
  /** How many more ends than one they have. */
  unequal: number;
}

/** One way to divide a group. */
interface Way {
  start: Moment;
  take: number;
  upper: Share | null;
  lower: Share | null;
  /** What it costs that notes are not where they were decided to be. */
  disobeyed: number;
}

function wayOf(group: readonly SketchNote[], take: number, said: Said): Way {
  const [upper, lower] = [group.slice(0, take), group.slice(take)];
  const against =
    upper.filter((note) => said(note) === 2).length + lower.filter((note) => said(note) === 1).length;
  return {
    start: group[0]!.start,
    take,
    upper: shareOf(upper),
    lower: shareOf(lower),
    disobeyed: DISOBEYED * against,
  };
}

function shareOf(notes: readonly SketchNote[]): Share | null {
  if (notes.length === 0) return null;
  const ends = new Set(notes.map(({ end }) => end));
  return { end: Math.max(...ends), low: notes.at(-1)!.key, high: notes[0]!.key, unequal: ends.size - 1 };
}

function extend(state: State, { start, take, upper, lower, disobeyed }: Way): State {
  let cost = state.cost + disobeyed;
  cost += costOf(state.upper, upper, start) + costOf(state.lower, lower, start);
  if (lower) {
    cost += SECOND_VOICE;
    if (!upper && state.upper.end <= start) cost += UPPER_EMPTY;
  }
  const nextUpper = upper ?? state.upper;
  const nextLower = lower ?? state.lower;
  if (nextUpper.end > start && nextLower.end > start && nextUpper.low < nextLower.high) cost += CROSSING;
  return { cost, upper: nextUpper, lower: nextLower, take, back: state };
}

function costOf(line: Line, share: Share | null, start: Moment): number {
  if (!share) return 0;
  const cut = line.end > start ? CUT_SHORT : 0;
  return cut + UNEQUAL_ENDS * share.unequal + LEAP * Math.abs(share.high - line.high);
}

/** Within a voice, notes of one start end together and never run into the next. */
function joinChords(notes: readonly SketchNote[]): void {
  const groups = byStart(notes);
  groups.forEach((group, index) => {
    const next = groups[index + 1]?.[0]!.start ?? Number.POSITIVE_INFINITY;
    const end = Math.min(Math.max(...group.map((note) => note.end)), next);
    for (const note of group) note.end = end;
  });
}
