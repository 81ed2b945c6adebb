import { Equals, IsInt, Matches, Max, Min } from 'class-validator';
import { EVENT_ID, type EventId } from '../../model/ids';
import { Directive, jobKind, OrNull } from '../kind';

/** Plays one note of a fretted instrument on a string; its fret follows. */
export class OnString extends Directive {
  @Equals('string') kind = 'string' as const;
  @Matches(EVENT_ID) note!: EventId;
  /** From 1, the highest; null for whatever is easiest. */
  @OrNull() @IsInt() @Min(1) @Max(9) string!: number | null;
}

export type Strings = ReadonlyMap<EventId, number>;

export const string = jobKind({
  type: OnString,
  field: 'strings',
  readBy: ['score'],
  initial: (): Strings => new Map(),
  add: (before: Strings, { note, string: chosen }: OnString): Strings => {
    const next = new Map(before);
    if (chosen === null) next.delete(note);
    else next.set(note, chosen);
    return next;
  },
  subject: ({ note }) => note,
  words: ({ string: chosen }) => (chosen === null ? 'A note on any string' : `A note on string ${chosen}`),
  doc: {
    fields: '`note`, `string` (1–9, 1 the highest) or null',
    meaning:
      'plays one note of a fretted instrument on a string, where it can be played there; null takes it back',
  },
});
