import { lastAtOrBefore } from '../basics/search';
import type { HandOverChoice } from '../decisions/kinds/hand-over';
import { leadOf, NO_LEAD } from '../infer/lead/lead-of';
import { secondsAt, tickAt } from '../model/clock';
import { type Frame, playedTicks, tickOfMoment } from '../model/frame';
import type { EventId } from '../model/ids';
import {
  type KeyChange,
  makeStrand,
  type Performance,
  type PlayedNote,
  type Strand,
} from '../model/performance';
import { keyInBar, type Score } from '../model/score';
import type { SketchNote } from '../model/sketch';
import { QUARTER } from '../model/time';
import type { Transcription } from '../transcribe';

/** A grace note lasts a 32nd and takes it from what is before (common practice). */
const GRACE = QUARTER / 8;

/** How notes are to stand. */
export type TimesChoice = Pick<HandOverChoice, 'times' | 'strength' | 'leads' | 'asPlayed' | 'apart'>;

/** Whether leads are taken back: as written they are, as played they stay, unless it is said otherwise. */
const areLeadsTaken = ({ times = 'played', leads }: TimesChoice): boolean =>
  (leads ?? (times === 'played' ? 'kept' : 'taken')) === 'taken';

/** Whether a hand-over needs the score: its notes stand elsewhere than they were played, or go by the hands that the score gives them. */
export const needsScore = (choice: TimesChoice): boolean => {
  const { times = 'played', strength = 100, apart = [] } = choice;
  if (apart.includes('hands')) return true;
  return times === 'played' ? areLeadsTaken(choice) : strength > 0;
};

/**
 * A performance with its notes where the staff has them, so that the next
 * program shows the same page: leads, swing and looseness are gone from the
 * times, and stay in the source. Or as they were played, with only the leads
 * taken back.
 */
export function withNoteTimes(
  performance: Performance,
  { frame, readings, offset, score }: Transcription,
  choice: TimesChoice,
): Performance {
  const { times = 'played', strength = 100, asPlayed = [] } = choice;
  const { clock } = performance;
  const takesLeads = areLeadsTaken(choice);
  const written = new Map<EventId, { place: SketchNote; lead: number }>();
  for (const { notes, leads } of readings)
    for (const [id, place] of notes)
      written.set(id, { place, lead: leadOf(leads[place.strike.strand] ?? NO_LEAD, place.strike) });
  const after = (at: number, seconds: number) =>
    seconds === 0 ? at : tickAt(clock, secondsAt(clock, Math.max(0, at)) + seconds);
  const along = (played: number, meant: number) => Math.round(played + ((meant - played) * strength) / 100);
  const playings = playedTicks(frame);
  /** The ticks at which a note is written, the time through that it was played in. */
  const placeOf = ({ on }: PlayedNote, { start, end, grace }: SketchNote): [start: number, end: number] => {
    const first = tickOfMoment(frame, start);
    const length = frame.passes
      ? ((end - start) / QUARTER) * clock.ticksPerQuarter
      : tickOfMoment(frame, end) - first;
    const away = (from: number) => Math.max(from - on, on - Math.max(from, from + length - 1), 0);
    const times = playings(start);
    const last = lastAtOrBefore(times, on, (each) => each);
    const [here, next] = [times[last]!, times[last + 1]];
    const from = next !== undefined && away(next) < away(here) ? next : here;
    if (!grace) return [from, from + length];
    const before = start < GRACE ? start : GRACE;
    return [from - (before / QUARTER) * clock.ticksPerQuarter, from];
  };
  /** What was struck again of one written note, as tremolos and trills are, keeps its distance from the first stroke. */
  let strokeOf = strokes();
  const moved = (note: PlayedNote): PlayedNote => {
    const known = written.get(note.id);
    if (!known) return note;
    const { place, lead } = known;
    // A lead is how far ahead of the beat a note sounds.
    const back = takesLeads ? 0 : -lead;
    const late = takesLeads ? 0 : offset;
    const [from, to] = placeOf(note, place);
    const length = note.off - note.on;
    const stroke = strokeOf(note, place, from);
    const start = late + after(from, back) + stroke;
    const end = stroke > 0 ? start + length : late + after(to, back);
    const on =
      times === 'played'
        ? Math.round(takesLeads ? after(note.on - offset, lead) : note.on)
        : along(note.on, start);
    const off = times === 'written' ? along(note.off, end) : on + length;
    return { ...note, on: Math.max(0, on), off: Math.max(Math.max(0, on) + 1, off) };
  };
  return {
    ...performance,
    keys: times === 'played' ? performance.keys : keysOf(score, frame),
    strands: performance.strands.map((strand): Strand => {
      if (asPlayed.includes(strand.id)) return strand;
      strokeOf = strokes();
      const notes = strand.notes.map(moved);
      return { ...strand, ...makeStrand({ ...strand, notes }, clock) };
    }),
  };
}

/** The keys of the page, wherever its bars are played. */
function keysOf(score: Score, frame: Frame): KeyChange[] {
  const playings = playedTicks(frame);
  const signed = score.bars.flatMap(({ start }, bar) => {
    const { fifths, minor } = keyInBar(score, bar);
    return playings(start).map((tick): KeyChange => ({ tick: Math.round(tick), fifths, minor }));
  });
  const changes: KeyChange[] = [];
  for (const key of signed.sort((a, b) => a.tick - b.tick)) {
    const before = changes.at(-1);
    if (before?.fifths !== key.fifths || before.minor !== key.minor) changes.push(key);
  }
  return changes;
}

/** Tells of notes in the order of their strand how many ticks after the first stroke of what is written each is struck. */
function strokes() {
  const first = new Map<SketchNote, Map<number, PlayedNote>>();
  return (note: PlayedNote, place: SketchNote, from: number): number => {
    const passes = first.get(place) ?? new Map<number, PlayedNote>();
    first.set(place, passes);
    const known = passes.get(from);
    if (!known) passes.set(from, note);
    return known && note.on >= known.off ? note.on - known.on : 0;
  };
}
