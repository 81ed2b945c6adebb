import { Equals, IsBoolean, Matches } from 'class-validator';
import { EVENT_ID, type EventId } from '../../model/ids';
import { Directive, jobKind } from '../kind';

/** Leaves one played note out of the score and of every hand-over, or takes it back in. */
export class DropNote extends Directive {
  @Equals('drop') kind = 'drop' as const;
  @Matches(EVENT_ID) note!: EventId;
  @IsBoolean() out!: boolean;
}

export const drop = jobKind({
  type: DropNote,
  field: 'dropped',
  readBy: ['source', 'clean'],
  initial: (): Set<EventId> => new Set(),
  add: (before: Set<EventId>, { note, out }: DropNote): Set<EventId> => {
    if (out) before.add(note);
    else before.delete(note);
    return before;
  },
  subject: ({ note }) => note,
  words: ({ out }) => (out ? 'A note left out' : 'A note taken back in'),
  doc: {
    fields: '`note` (`1/t3c2/17`: strand and index of the note-on in its track), `out`',
    meaning: 'leaves one played note out of the score and of every hand-over, or takes it back in',
  },
});
