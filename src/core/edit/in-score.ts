import type { PlainDirective } from '../decisions/kinds';
import type { WrittenNotes } from '../decisions/kinds/write';
import { findReading } from '../explain/explain';
import { momentOf, tickOfMoment } from '../model/frame';
import { addedNoteId, type EventId, type StrandId, strandOf, wholeStrand } from '../model/ids';
import type { SketchNote } from '../model/sketch';
import { type Moment, QUARTER, textOfMoment } from '../model/time';
import type { Transcription } from '../transcribe';
import { firstTie, nextOnKey } from './both-readings';

/** A score that was read, and what was written into it already. */
export interface EditedScore {
  result: Transcription;
  written: WrittenNotes;
}

/** Gives ids to notes that are written in, beyond those that are there. */
export const numbering = (written: WrittenNotes): ((strand: StrandId) => EventId) => {
  const known = new Set(written.keys());
  return (strand) => {
    const id = addedNoteId(strand, known);
    known.add(id);
    return id;
  };
};

/** The decision that writes a note into the part of a strand. Moments of the score as it is written, key as it sounds. */
export const writeNote = (
  note: EventId,
  strand: StrandId,
  { start, end, key, staff }: Pick<SketchNote, 'start' | 'end' | 'key'> & { staff?: number },
): PlainDirective => ({
  kind: 'write',
  note,
  strand: wholeStrand(strand),
  start: textOfMoment(start),
  end: textOfMoment(end),
  key,
  ...(staff !== undefined && { staff }),
});

/** The decisions that make one note of each and the next on its key: tied where one value will not do. */
export const tiedToNext = ({ result }: EditedScore, notes: readonly EventId[]): PlainDirective[] => {
  const gone = new Set<EventId>();
  return notes.flatMap((note): PlainDirective[] => {
    const found = findReading(result, note);
    const next = found && nextOnKey([...new Set(found.reading.notes.values())], found.written);
    if (!found || !next || gone.has(note)) return [];
    gone.add(next.id);
    return [
      { kind: 'place', note, start: textOfMoment(found.written.start), end: textOfMoment(next.end) },
      { kind: 'drop', note: next.id, out: true },
    ];
  });
};

/** The decisions that make two notes of each where its first head is tied to the next. */
export function untied({ result, written }: EditedScore, notes: readonly EventId[]): PlainDirective[] {
  const idIn = numbering(written);
  return notes.flatMap((note): PlainDirective[] => {
    const found = findReading(result, note);
    const cut = found && firstTie(result, found.part, note);
    if (!found || !cut) return [];
    const { start, end, key, staff } = found.written;
    return [
      { kind: 'place', note, start: textOfMoment(start), end: textOfMoment(cut) },
      writeNote(idIn(strandOf(note)), strandOf(note), { start: cut, end, key, staff }),
    ];
  });
}

/**
 * The decisions that write some notes once more: into another part, so much later, or both.
 *
 * @param to a strand of the part; its own for each note where absent
 * @param later ticks of the first time through
 * @param instead notes of that part that begin within what is put there are left out
 */
export function writtenOnceMore(
  { result, written }: EditedScore,
  notes: readonly EventId[],
  { to, later, instead }: { to?: StrandId; later: number; instead: boolean },
): PlainDirective[] {
  const idIn = numbering(written);
  const { frame } = result;
  const along = (moment: Moment) => Math.round(momentOf(frame, tickOfMoment(frame, moment) + later));
  const copied = notes.flatMap((note) => {
    const found = findReading(result, note);
    if (!found || found.written.grace) return [];
    const { start, end, key, staff } = found.written;
    const from = along(start);
    return from < 0
      ? []
      : [{ note, strand: to ?? strandOf(note), from, end: from + end - start, key, staff }];
  });
  if (copied.length === 0) return [];
  const added = copied.map(({ strand, from, end, key, staff }) =>
    writeNote(idIn(strand), strand, { start: from, end, key, ...(to === undefined && { staff }) }),
  );
  if (!instead) return added;
  const from = Math.min(...copied.map((each) => each.from));
  const until = Math.max(...copied.map((each) => each.end));
  const homes = new Set(copied.map(({ strand }) => wholeStrand(strand)));
  const own = new Set(later === 0 ? notes : []);
  const room = result.readings
    .flatMap((reading) => [...new Set(reading.notes.values())])
    .filter(({ id, start }) => homes.has(strandOf(id)) && start >= from && start < until && !own.has(id))
    .map(({ id }): PlainDirective => ({ kind: 'drop', note: id, out: true }));
  return [...room, ...added];
}

/** What is put in by hand begins and ends on these. */
const GRID = QUARTER / 4;

/** The decision that writes a note in where it was pointed at. @param on, off ticks of the first time through */
export function writtenIn(
  { result, written }: EditedScore,
  strand: StrandId,
  { on, off, key }: { on: number; off: number; key: number },
): PlainDirective[] {
  const start = Math.max(0, Math.floor(momentOf(result.frame, on) / GRID) * GRID);
  const length = Math.max(GRID, Math.round(momentOf(result.frame, off) / GRID) * GRID - start);
  return [writeNote(numbering(written)(wholeStrand(strand)), strand, { start, end: start + length, key })];
}
