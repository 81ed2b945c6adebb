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
import { Directive, jobKind, LAST_TICK } from '../kind';

/** Plays one note more than the source has. */
export class AddNote extends Directive {
  @Equals('add') kind = 'add' as const;
  /** An id of its own: of its strand, beyond those of the file. */
  @Matches(EVENT_ID) note!: EventId;
  /** The strand that plays it, or the piece of one. */
  @Matches(STRAND_ID) strand!: StrandId;
  /** When it sounds, in ticks; as cleaned. */
  @IsInt() @Min(0) @Max(LAST_TICK) on!: number;
  @IsInt() @Min(1) @Max(LAST_TICK) off!: number;
  @IsInt() @Min(0) @Max(127) key!: number;
  @IsInt() @Min(1) @Max(127) velocity!: number;
}

export type AddedNote = Omit<AddNote, 'kind' | 'note'>;
export type AddedNotes = ReadonlyMap<EventId, AddedNote>;

export const add = jobKind({
  type: AddNote,
  field: 'added',
  readBy: ['clean'],
  initial: (): AddedNotes => new Map(),
  add: (before: AddedNotes, { note, strand, on, off, key, velocity }: AddNote): AddedNotes =>
    new Map(before).set(note, { strand, on, off, key, velocity }),
  subject: ({ note }) => note,
  check: ({ note, strand, on, off }) =>
    !isAddedNote(note) || strandOf(note) !== wholeStrand(strand)
      ? 'note must be of its strand and beyond the notes of the file'
      : off <= on
        ? 'off must come after on'
        : null,
  words: () => 'A note added',
  doc: {
    fields:
      '`note` (of its strand, 9000000 and on), `strand`, `on`, `off` (ticks as cleaned), `key`, `velocity`',
    meaning: 'plays one note more than the source has, in the score and in every hand-over',
  },
});
