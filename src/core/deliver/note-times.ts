import type { NoteTimes } from '../decisions/kinds/hand-over';
import { tickOfMoment } from '../model/frame';
import type { EventId } from '../model/ids';
import { makeStrand, type Performance, type PlayedNote, type Strand } from '../model/performance';
import type { SketchNote } from '../model/sketch';
import { QUARTER } from '../model/time';
import type { Transcription } from '../transcribe';

/** A grace note lasts a 32nd and takes it from what is before (common practice). */
const GRACE = QUARTER / 8;

/**
 * A performance with its notes where the staff has them, so that the next
 * program shows the same page: leads, swing and looseness are gone from the
 * times, and stay in the source.
 *
 * @param times `written` takes places and lengths from the staff, `places` only the places
 * @param strength how far notes go, in per cent of the way
 */
export function withNoteTimes(
  performance: Performance,
  { frame, readings }: Transcription,
  times: Exclude<NoteTimes, 'played'>,
  strength = 100,
): Performance {
  const written = new Map<EventId, SketchNote>(readings.flatMap((reading) => [...reading.notes]));
  const tick = (moment: number) => tickOfMoment(frame, moment);
  const along = (played: number, meant: number) => Math.round(played + ((meant - played) * strength) / 100);
  const moved = (note: PlayedNote): PlayedNote => {
    const place = written.get(note.id);
    if (!place) return note;
    const start = place.grace ? tick(Math.max(0, place.start - GRACE)) : tick(place.start);
    const length = times === 'places' ? note.off - note.on : undefined;
    const end = place.grace ? tick(place.start) : tick(place.end);
    const on = Math.max(0, along(note.on, start));
    const off = length === undefined ? along(note.off, end) : on + length;
    return { ...note, on, off: Math.max(on + 1, off) };
  };
  return {
    ...performance,
    strands: performance.strands.map((strand): Strand => {
      const notes = strand.notes.map(moved);
      return { ...strand, ...makeStrand({ ...strand, notes }, performance.clock) };
    }),
  };
}
