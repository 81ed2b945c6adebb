import { Equals, IsBoolean, Matches } from 'class-validator';
import { EVENT_ID, type EventId } from '../../model/ids';
import { Directive, jobKind, MayBeAbsent, MayBeAbsentOrNull } from '../kind';

/** A moment in quarter notes, a whole number or a fraction. */
export const MOMENT = /^\d{1,14}(\/[1-9]\d{0,6})?$/;

/** Where one note is written, in quarter notes as the brief says them. */
export interface PlaceChoice {
  start?: string;
  end?: string;
  grace?: boolean;
}

/** Says where one note is written. Moments in quarter notes from the start, as `13` or `40/3`; null goes back to the reading. */
export class Place extends Directive {
  @Equals('place') kind = 'place' as const;
  @Matches(EVENT_ID) note!: EventId;
  @MayBeAbsentOrNull() @Matches(MOMENT) start?: string | null;
  @MayBeAbsentOrNull() @Matches(MOMENT) end?: string | null;
  /** A grace note before what stands at `start`. */
  @MayBeAbsent() @IsBoolean() grace?: boolean;
}

type Places = Map<EventId, PlaceChoice>;

export const place = jobKind({
  type: Place,
  field: 'places',
  readBy: ['source', 'rhythm'],
  initial: (): Places => new Map(),
  add: (before: Places, { note, start, end, grace }: Place): Places => {
    if (start || end)
      before.set(note, {
        ...(start && { start }),
        ...(end && { end }),
        ...(grace !== undefined && { grace }),
      });
    return before;
  },
  subject: ({ note }) => note,
  words: ({ start, end, grace }) =>
    start || end ? (grace ? 'A note written as a grace note' : 'A note placed') : 'A note as it was read',
  doc: {
    fields:
      '`note` (`1/t3c2/17`: strand and index of the note-on in its track), optional `start`, `end` (quarter notes from the start, `13` or `40/3`, or null), optional `grace`',
    meaning: 'where one note is written',
  },
});
