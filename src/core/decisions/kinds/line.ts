import { Equals, IsIn, Matches } from 'class-validator';
import { EVENT_ID, type EventId } from '../../model/ids';
import { Directive, jobKind, MayBeAbsentOrNull } from '../kind';

/** Where one note stands in its part. */
export interface LineChoice {
  /** 1 has its stems up, 2 down. */
  voice?: 1 | 2;
  /** From 1, the upper one. */
  staff?: 1 | 2;
}

/** Puts one note into a voice, or onto a staff, of its part. */
export class InLine extends Directive {
  @Equals('line') kind = 'line' as const;
  @Matches(EVENT_ID) note!: EventId;
  @MayBeAbsentOrNull() @IsIn([1, 2]) voice?: 1 | 2 | null;
  @MayBeAbsentOrNull() @IsIn([1, 2]) staff?: 1 | 2 | null;
}

export type Lines = ReadonlyMap<EventId, LineChoice>;

export const line = jobKind({
  type: InLine,
  field: 'lines',
  readBy: ['source', 'rhythm'],
  initial: (): Lines => new Map(),
  add: (before: Lines, { note, voice, staff }: InLine): Lines => {
    const next = new Map(before);
    if (voice || staff) next.set(note, { ...(voice && { voice }), ...(staff && { staff }) });
    else next.delete(note);
    return next;
  },
  subject: ({ note }) => note,
  words: ({ voice, staff }) =>
    voice || staff
      ? `A note ${[voice && `in voice ${voice}`, staff && `on staff ${staff}`].filter(Boolean).join(', ')}`
      : 'A note in the voice that was found',
  doc: {
    fields:
      '`note`, optional `voice` (1 stems up, 2 stems down), optional `staff` (1 upper, 2 lower); null takes either back',
    meaning: 'in which voice and on which staff of its part one note stands',
  },
});
