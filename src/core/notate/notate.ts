import type { Steps } from '../basics/steps';
import { type DrumLayout, drumSound } from '../instruments/kit';
import { noteIdOf } from '../model/ids';
import type { ChordMark } from '../model/marks';
import {
  type Bar,
  barIndexOf,
  type Chord,
  type Item,
  mapNotes,
  type PartBar,
  type Rest,
  type UnplacedNote,
  type VoiceLine,
} from '../model/score';
import type { SketchNote } from '../model/sketch';
import { NOTE_TYPES, QUARTER, type Value } from '../model/time';
import { barRests } from './rests';
import { type Dots, type Stretch, writeBar } from './rhythm';

/** Continued notes are told apart by where in the bar they stand, in these: finer than any value that is written. */
const ID_STEP = QUARTER / 1024;

/** Bars that are written without giving way. */
const BARS_AT_A_TIME = 32;

/** Notes of one voice that start and end together, and the grace notes before them. */
interface Group {
  start: number;
  end: number;
  notes: SketchNote[];
  graces: SketchNote[];
}

/**
 * Step 11: writes the notes into bars: cut at bar lines, in values that show
 * the meter, with ties, tuplets and rests. A bar with a single voice calls it
 * voice 1; drums always keep their hands in voice 1.
 *
 * @param dotsIn how many dots a note has at most in a bar (index)
 */
export function* notate(
  notes: readonly SketchNote[],
  bars: readonly Bar[],
  staves: number,
  unpitched: boolean,
  dotsIn: (bar: number) => Dots = () => 1,
): Steps<PartBar<UnplacedNote>[]> {
  const out: PartBar<UnplacedNote>[] = bars.map(() => ({ voices: [] }));
  for (let staff = 1; staff <= staves; staff++) {
    const own = notes.filter((note) => note.staff === staff);
    const lines = [1, 2].map((voice) => groupsOf(own.filter((note) => !note.grace && note.voice === voice)));
    hangGraces(
      own.filter((note) => note.grace),
      lines.flat(),
    );
    const [first, second] = lines.map((groups) => byBar(groups, bars)) as [Group[][], Group[][]];
    for (const [index, bar] of bars.entries()) {
      if (index % BARS_AT_A_TIME === 0) yield;
      const dots = dotsIn(index);
      const upper = first[index]!;
      const lower = second[index]!;
      const alone = !unpitched && upper.length === 0 && lower.every((group) => isWithin(group, bar));
      const { voices } = out[index]!;
      const onlyFeet = unpitched && upper.length === 0 && lower.length > 0;
      voices.push(
        onlyFeet ? restingHands(bar, staff) : writeVoice(bar, alone ? lower : upper, staff, 1, dots),
      );
      if (!alone && lower.length > 0) voices.push(writeVoice(bar, lower, staff, 2, dots));
    }
  }
  return out;
}

/** For each bar the groups that sound in it. */
function byBar(groups: readonly Group[], bars: readonly Bar[]): Group[][] {
  const out = bars.map((): Group[] => []);
  for (const group of groups)
    for (
      let index = barIndexOf(bars, group.start);
      index < bars.length && bars[index]!.start < group.end;
      index++
    )
      out[index]!.push(group);
  return out;
}

const isWithin = (group: Group, bar: Bar): boolean =>
  group.start >= bar.start && group.end <= bar.start + bar.length;

/** The notes of one voice by their starts, each group from low to high. */
function groupsOf(notes: readonly SketchNote[]): Group[] {
  const groups: Group[] = [];
  for (const note of notes.toSorted((a, b) => a.start - b.start || a.key - b.key)) {
    const last = groups.at(-1);
    if (last && last.start === note.start) last.notes.push(note);
    else groups.push({ start: note.start, end: note.end, notes: [note], graces: [] });
  }
  return groups;
}

/** Grace notes go before the chord at their place, the upper voice's where there are two. */
function hangGraces(graces: readonly SketchNote[], groups: readonly Group[]): void {
  const hosts = new Map<number, Group>();
  for (const group of groups) if (!hosts.has(group.start)) hosts.set(group.start, group);
  for (const grace of graces.toSorted((a, b) => a.on - b.on)) hosts.get(grace.start)?.graces.push(grace);
}

/** Hands that rest over feet that play: nobody reads a rest there. */
const restingHands = (bar: Bar, staff: number): VoiceLine<UnplacedNote> => ({
  voice: 1,
  staff,
  items: barRests(bar).map((rest) => ({ ...rest, hidden: true as const })),
});

function writeVoice(
  bar: Bar,
  groups: readonly Group[],
  staff: number,
  voice: number,
  dots: Dots,
): VoiceLine<UnplacedNote> {
  if (groups.length === 0) return { voice, staff, items: barRests(bar) };
  const zero = bar.start - bar.missing;
  const end = bar.missing + bar.length;
  const stretches: Stretch<Group>[] = [];
  let at = bar.missing;
  for (const group of groups) {
    const from = Math.max(group.start - zero, bar.missing);
    const to = Math.min(group.end - zero, end);
    if (from > at) stretches.push({ start: at, end: from });
    stretches.push({ start: from, end: to, content: group });
    at = to;
  }
  if (at < end) stretches.push({ start: at, end });
  const items = writeBar(bar, stretches, dots).map((piece): Item<UnplacedNote> => {
    const timed = {
      onset: piece.onset - bar.missing,
      duration: piece.duration,
      value: piece.value,
      ...(piece.tuplet && { tuplet: piece.tuplet }),
    };
    if (!piece.content) return { kind: 'rest', ...timed } satisfies Rest;
    const group = piece.content;
    const tieStop = !(piece.first && group.start >= bar.start);
    const tieStart = !(piece.last && group.end <= bar.start + bar.length);
    const suffix = tieStop ? `.${bar.index}.${Math.round(piece.onset / ID_STEP)}` : '';
    const strokes = group.notes.find(({ tremolo }) => tremolo)?.tremolo;
    const marks: ChordMark[] = strokes ? [{ kind: 'tremolo', strokes: strokesOn(piece.value, strokes) }] : [];
    const ornament = group.notes.find((note) => note.ornament)?.ornament;
    if (!tieStop && ornament) marks.push({ kind: 'ornament', name: ornament.name });
    const isShort = !tieStop && !tieStart && group.notes.every((note) => note.staccato);
    if (isShort) marks.push({ kind: 'articulation', name: 'staccato' });
    return {
      kind: 'chord',
      ...timed,
      ...(group.graces.length > 0 &&
        !tieStop && { graces: group.graces.map((note) => writtenNote(note, '', false, false)) }),
      ...(marks.length > 0 && { marks }),
      notes: group.notes.map((note) => writtenNote(note, suffix, tieStart, tieStop)),
    } satisfies Chord<UnplacedNote>;
  });
  return { voice, staff, items };
}

/** Strokes across a stem add to the beams that a value has itself (MusicXML 4.0, `tremolo`). */
const strokesOn = ({ type }: Value, beams: number): number =>
  Math.max(1, beams - Math.max(0, NOTE_TYPES.indexOf(type) - NOTE_TYPES.indexOf('quarter')));

function writtenNote(note: SketchNote, suffix: string, tieStart: boolean, tieStop: boolean): UnplacedNote {
  return {
    id: noteIdOf(note.id, suffix),
    key: note.key,
    ...(tieStart && { tieStart: true as const }),
    ...(tieStop && { tieStop: true as const }),
    sources: note.sources,
  };
}

/** Puts drum sounds on their lines, with their heads. */
export const placeDrums = (
  bars: readonly PartBar<UnplacedNote>[],
  layout: DrumLayout = drumSound,
): PartBar[] =>
  mapNotes(bars, (note) => {
    const { place, head } = layout(note.key);
    return { ...note, pitch: place, ...(head !== 'normal' && { head }) };
  });
