import { Equals, IsInt, Matches, Max, Min } from 'class-validator';
import { EVENT_ID, type EventId } from '../../model/ids';
import { Directive, jobKind, LAST_TICK, MayBeAbsentOrNull } from '../kind';

/** How one note sounds, where that is not as it came. Ticks as cleaned. */
export interface PlayedChoice {
  on?: number;
  off?: number;
  velocity?: number;
}

/** Plays one note earlier or later, shorter or longer, softer or louder than the source does. */
export class PlayedNoteEdit extends Directive {
  @Equals('played') kind = 'played' as const;
  @Matches(EVENT_ID) note!: EventId;
  @MayBeAbsentOrNull() @IsInt() @Min(0) @Max(LAST_TICK) on?: number | null;
  @MayBeAbsentOrNull() @IsInt() @Min(1) @Max(LAST_TICK) off?: number | null;
  @MayBeAbsentOrNull() @IsInt() @Min(1) @Max(127) velocity?: number | null;
}

export type PlayedNotes = ReadonlyMap<EventId, PlayedChoice>;

const isSaid = (value: number | null | undefined): value is number => value !== undefined && value !== null;

export const played = jobKind({
  type: PlayedNoteEdit,
  field: 'played',
  readBy: ['clean'],
  initial: (): PlayedNotes => new Map(),
  add: (before: PlayedNotes, { note, on, off, velocity }: PlayedNoteEdit): PlayedNotes => {
    const next = new Map(before);
    const own = {
      ...(isSaid(on) && { on }),
      ...(isSaid(off) && { off }),
      ...(isSaid(velocity) && { velocity }),
    };
    if (Object.keys(own).length > 0) next.set(note, own);
    else next.delete(note);
    return next;
  },
  subject: ({ note }) => note,
  check: ({ on, off }) => (isSaid(on) && isSaid(off) && off <= on ? 'off must come after on' : null),
  words: ({ on, off, velocity }) => {
    const said = [
      (isSaid(on) || isSaid(off)) && 'at another time',
      isSaid(velocity) && `with velocity ${velocity}`,
    ].filter(Boolean);
    return said.length > 0 ? `A note played ${said.join(', ')}` : 'A note played as it came';
  },
  doc: {
    fields:
      '`note`, optional `on`, `off` (ticks as cleaned), optional `velocity` (1–127); null takes each back',
    meaning: 'when one note sounds, and how loud, in the score’s source and in every hand-over',
  },
});
