import { Equals, IsInt, Matches, Max, Min } from 'class-validator';
import {
  EVENT_ID,
  type EventId,
  isAddedNote,
  STRAND_ID,
  type StrandId,
  strandOf,
  wholeStrand,
} from '../../model/ids';
import { type Moment, momentOfText } from '../../model/time';
import { Directive, jobKind, MayBeAbsent } from '../kind';
import { MOMENT } from './place';

/** Writes one note more into a score that was read. */
export class WriteNote extends Directive {
  @Equals('write') kind = 'write' as const;
  /** An id of its own: of its part's strand, beyond those that are there. */
  @Matches(EVENT_ID) note!: EventId;
  /** Of the part. */
  @Matches(STRAND_ID) strand!: StrandId;
  /** Quarter notes from the start of the score, as it is written. */
  @Matches(MOMENT) start!: string;
  @Matches(MOMENT) end!: string;
  /** As it sounds. */
  @IsInt() @Min(0) @Max(127) key!: number;
  /** From 1; absent for that of the nearest note. */
  @MayBeAbsent() @IsInt() @Min(1) @Max(8) staff?: number;
}

export interface WrittenNote {
  strand: StrandId;
  start: Moment;
  end: Moment;
  key: number;
  staff?: number;
}
export type WrittenNotes = ReadonlyMap<EventId, WrittenNote>;

export const write = jobKind({
  type: WriteNote,
  field: 'writtenNotes',
  readBy: ['source'],
  initial: (): WrittenNotes => new Map(),
  add: (before: WrittenNotes, { note, strand, start, end, key, staff }: WriteNote): WrittenNotes =>
    new Map(before).set(note, {
      strand,
      start: momentOfText(start),
      end: momentOfText(end),
      key,
      ...(staff !== undefined && { staff }),
    }),
  subject: ({ note }) => note,
  check: ({ note, strand, start, end }) =>
    !isAddedNote(note) || strandOf(note) !== wholeStrand(strand)
      ? 'note must be of its strand and beyond the notes of the file'
      : momentOfText(end) <= momentOfText(start)
        ? 'end must come after start'
        : null,
  words: () => 'A note written in',
  doc: {
    fields:
      '`note` (of its strand, 9000000 and on), `strand`, `start`, `end` (quarter notes from the start of the score, `13` or `40/3`), `key`, optional `staff` (from 1)',
    meaning: 'writes one note more into a score that was read, on paper and in sound',
  },
});
