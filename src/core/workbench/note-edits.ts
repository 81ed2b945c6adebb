import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import type { PlainDirective } from '../decisions/kinds';
import {
  type Edited,
  inBothReadings,
  joinedWithNext,
  louder,
  nudged,
  playedOnceMore,
  struckAgain,
} from '../edit/both-readings';
import { tiedToNext, untied, writtenIn, writtenOnceMore } from '../edit/in-score';
import { type Arrangement, rearrange } from '../edit/rearrange';
import { addedNoteId, type EventId, type StrandId, wholeStrand } from '../model/ids';
import type { Performance, PlayedNote } from '../model/performance';
import type { SketchNote } from '../model/sketch';
import type { Written } from './workbench';

/** Something done to chosen notes at once. */
export type NotesEdit =
  | { edit: 'arrange'; arrangement: Arrangement; both: boolean; like?: number }
  /** To one velocity, or by so much. */
  | { edit: 'velocity'; to?: number; by?: number }
  /** What sounds alone, by milliseconds. */
  | { edit: 'nudge'; on: number; off: number }
  | { edit: 'join' | 'strike-again' }
  | { edit: 'copy'; to?: StrandId; later: number; instead: boolean }
  /** Where it was pointed at, in ticks. */
  | { edit: 'add'; strand: StrandId; on: number; off: number; key: number };

/** The decisions that an edit of some notes of a state comes to. */
export function decideNotes(
  written: Written,
  notes: readonly EventId[],
  wanted: NotesEdit,
): PlainDirective[] {
  if (written.desk.written) return decideInScore(written, notes, wanted);
  const edited = editedOf(written);
  switch (wanted.edit) {
    case 'arrange': {
      const places = rearrange(written.transcription, notes, wanted.arrangement, wanted.like);
      return wanted.both ? inBothReadings(edited, places) : places;
    }
    case 'velocity':
      return louder(edited, notes, (now) => wanted.to ?? now + (wanted.by ?? 0));
    case 'nudge':
      return nudged(edited, notes, wanted);
    case 'join':
      return joinedWithNext(edited, notes);
    case 'strike-again':
      return struckAgain(edited, notes);
    case 'copy':
      return playedOnceMore(edited, notes, wanted);
    case 'add':
      return played(written, wanted);
  }
}

/** The same in a score that was read: where notes are written, and by that how they sound. */
function decideInScore(
  { desk, transcription }: Written,
  notes: readonly EventId[],
  wanted: NotesEdit,
): PlainDirective[] {
  const edited = { result: transcription, written: desk.decisions.writtenNotes };
  switch (wanted.edit) {
    case 'arrange':
      return rearrange(transcription, notes, wanted.arrangement, wanted.like);
    case 'join':
      return tiedToNext(edited, notes);
    case 'strike-again':
      return untied(edited, notes);
    case 'copy':
      return writtenOnceMore(edited, notes, wanted);
    case 'add':
      return writtenIn(edited, wanted.strand, wanted);
    // How loud it is and when it sounds follows from what is written.
    case 'velocity':
    case 'nudge':
      return [];
  }
}

/** A note that is added where none was heard. */
function played(
  { desk }: Written,
  { strand, on, off, key }: Extract<NotesEdit, { edit: 'add' }>,
): PlainDirective[] {
  const from = Math.max(0, Math.round(on));
  const note = addedNoteId(wholeStrand(strand), desk.decisions.added.keys());
  return [
    {
      kind: 'add',
      note,
      strand,
      on: from,
      off: Math.max(from + 1, Math.round(off)),
      key,
      velocity: ADDED_VELOCITY,
    },
  ];
}

/** mf (common practice of sequencers). */
const ADDED_VELOCITY = 80;

const SOUNDING = node(
  'sounding',
  ({ performance }: { performance: Performance }) =>
    new Map(
      performance.strands.flatMap((strand) =>
        strand.notes.map((note): [EventId, PlayedNote & { strand: StrandId }] => [
          note.id,
          { ...note, strand: strand.id },
        ]),
      ),
    ),
);

const editedOf = ({ desk, transcription }: Written): Edited => ({
  result: transcription,
  decisions: desk.decisions,
  sounding: remembered(desk.performance, SOUNDING, { performance: desk.performance }),
});

/**
 * The notes from one to another: of their staff where both are on one, of all
 * parts between theirs otherwise, in the order of the score.
 */
export function notesBetween(
  { transcription: { readings } }: Written,
  from: EventId,
  to: EventId,
): EventId[] {
  const [first, last] = [from, to].map((id) => {
    const part = readings.findIndex(({ notes }) => notes.has(id));
    return { part, note: readings[part]?.notes.get(id) };
  });
  if (!first?.note || !last?.note) return [];
  const starts = [first.note.start, last.note.start].sort((a, b) => a - b) as [number, number];
  const parts = [first.part, last.part].sort((a, b) => a - b) as [number, number];
  const oneStaff = first.part === last.part && first.note.staff === last.note.staff ? first.note.staff : null;
  return readings.slice(parts[0], parts[1] + 1).flatMap(({ notes }) =>
    [...new Set(notes.values())]
      .filter(
        ({ start, staff }: SketchNote) =>
          start >= starts[0] && start <= starts[1] && (oneStaff === null || staff === oneStaff),
      )
      .sort((a, b) => a.start - b.start || a.key - b.key)
      .map(({ id }) => id),
  );
}
