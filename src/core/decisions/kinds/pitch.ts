import { Equals, IsInt, Matches, Max, Min } from 'class-validator';
import { counted } from '../../basics/words';
import { EVENT_ID, type EventId } from '../../model/ids';
import type { Interval } from '../../model/pitch';
import { Directive, jobKind } from '../kind';

/** Moves one note by steps of the staff and semitones, as it is written and as it sounds; steps alone spell it otherwise, both 0 take it back. */
export class MovePitch extends Directive {
  @Equals('pitch') kind = 'pitch' as const;
  @Matches(EVENT_ID) note!: EventId;
  @IsInt() @Min(-28) @Max(28) steps!: number;
  @IsInt() @Min(-48) @Max(48) semitones!: number;
}

/** How far single notes are moved, by the first event that is played of each. */
export type Pitches = ReadonlyMap<EventId, Interval>;

export const pitch = jobKind({
  type: MovePitch,
  field: 'pitches',
  readBy: ['source', 'clean', 'rhythm'],
  initial: (): Pitches => new Map(),
  add: (before: Pitches, { note, steps, semitones }: MovePitch): Pitches => {
    const next = new Map(before);
    if (steps === 0 && semitones === 0) next.delete(note);
    else next.set(note, { diatonic: steps, chromatic: semitones });
    return next;
  },
  subject: ({ note }) => note,
  words: ({ steps, semitones }) =>
    semitones !== 0
      ? `A note ${counted(Math.abs(semitones), 'semitone')} ${semitones > 0 ? 'higher' : 'lower'}`
      : steps !== 0
        ? 'A note spelled otherwise'
        : 'A note as it was',
  doc: {
    fields: '`note`, `steps` (−28 to 28), `semitones` (−48 to 48)',
    meaning:
      'moves one note, as it is written and as it sounds, with all that is tied to it; steps without semitones spell it otherwise; both 0 take it back',
  },
});
