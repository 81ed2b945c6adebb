import { Equals, Matches } from 'class-validator';
import type { SourceId } from '../../model/ids';
import { Directive, jobKind, OrNull } from '../kind';
import { SOURCE_ID } from './leads';

/** Takes tempos, meters, keys and markers from another source; null goes back to the leading one's own. */
export class ClockFrom extends Directive {
  @Equals('clock-from') kind = 'clock-from' as const;
  @OrNull() @Matches(SOURCE_ID) source!: SourceId | null;
}

export const clockFrom = jobKind({
  type: ClockFrom,
  field: 'clockFrom',
  readBy: ['source'],
  initial: (): SourceId | null => null,
  add: (_: SourceId | null, { source }: ClockFrom): SourceId | null => source,
  words: ({ source }) => (source === null ? 'The source’s own clock' : `Clock of source ${source}`),
  doc: {
    fields: '`source` or null',
    meaning:
      'takes tempos, meters, keys and markers from another source, at the same places counted in quarter notes',
  },
});
