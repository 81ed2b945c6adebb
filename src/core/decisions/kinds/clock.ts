import { Equals, IsInt, IsNumber, Max, Min } from 'class-validator';
import { Directive, jobKind, MayBeAbsent } from '../kind';

/** Sets the number of the first full bar and the length of the upbeat in quarter notes. */
export class SetClock extends Directive {
  @Equals('clock') kind = 'clock' as const;
  @MayBeAbsent() @IsInt() @Min(-999) @Max(9999) firstBar?: number;
  @MayBeAbsent() @IsNumber() @Min(0) @Max(64) upbeatQuarters?: number;
}

export interface ClockChoice {
  firstBar?: number;
  upbeatQuarters?: number;
}

export const clock = jobKind({
  type: SetClock,
  field: 'clock',
  readBy: ['clock', 'hand-over', 'stock'],
  initial: (): ClockChoice => ({}),
  add: (before: ClockChoice, { firstBar, upbeatQuarters }: SetClock): ClockChoice => ({
    ...before,
    ...(firstBar !== undefined && { firstBar }),
    ...(upbeatQuarters !== undefined && { upbeatQuarters }),
  }),
  // Each of the two may be decided by itself.
  subject: ({ firstBar, upbeatQuarters }) =>
    `${firstBar === undefined ? '' : 'bar'} ${upbeatQuarters === undefined ? '' : 'upbeat'}`,
  words: ({ firstBar, upbeatQuarters }) =>
    [
      firstBar !== undefined && `First bar is ${firstBar}`,
      upbeatQuarters !== undefined && `Upbeat of ${upbeatQuarters} quarters`,
    ]
      .filter(Boolean)
      .join(', ') || 'Clock as it was',
  doc: {
    fields: 'optional `firstBar`, optional `upbeatQuarters`',
    meaning:
      'number of the first full bar; length of the upbeat in quarter notes (whole bars of it are no upbeat)',
  },
});
