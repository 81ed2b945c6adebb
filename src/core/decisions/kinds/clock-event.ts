import { Equals, IsIn, IsInt, Min } from 'class-validator';
import { Directive, jobKind } from '../kind';

/** Keeps a tempo or meter change, drops it or moves it to the nearest bar line. */
export class ClockEvent extends Directive {
  @Equals('clock-event') kind = 'clock-event' as const;
  @IsIn(['tempo', 'meter']) what!: 'tempo' | 'meter';
  @IsInt() @Min(0) tick!: number;
  @IsIn(['keep', 'to-bar', 'drop']) mend!: 'keep' | 'to-bar' | 'drop';
}

export interface ClockMend {
  what: 'tempo' | 'meter';
  tick: number;
  mend: 'to-bar' | 'drop';
}

type ClockMends = ClockMend[];

export const clockEvent = jobKind({
  type: ClockEvent,
  field: 'clockMends',
  readBy: ['clock'],
  initial: (): ClockMends => [],
  add: (before: ClockMends, { what, tick, mend }: ClockEvent): ClockMends => {
    if (mend !== 'keep') before.push({ what, tick, mend });
    return before;
  },
  subject: ({ what, tick }) => `${what} ${tick}`,
  words: ({ what, mend }) =>
    `A ${what} change ${{ keep: 'kept', 'to-bar': 'moved to the bar line', drop: 'dropped' }[mend]}`,
  doc: {
    fields: '`what`: `tempo` or `meter`; `tick`; `mend`: `keep`, `to-bar` or `drop`',
    meaning: 'mends one tempo or meter change',
  },
});
