import { Equals, IsInt, Max, Min } from 'class-validator';
import { Directive, jobKind, OrNull } from '../kind';

/** No delay of a whole file is longer than this many ticks. */
const LONGEST = 100_000;

/** How late the whole file sounds; it is moved onto the beat. */
export class Offset extends Directive {
  @Equals('offset') kind = 'offset' as const;
  @OrNull() @IsInt() @Min(-LONGEST) @Max(LONGEST) ticks!: number | null;
}

export const offset = jobKind({
  type: Offset,
  field: 'offset',
  readBy: ['clock', 'rhythm'],
  initial: (): number | null => null,
  add: (_: number | null, { ticks }: Offset): number | null => ticks,
  words: ({ ticks }) =>
    ticks === null
      ? 'A delay of the whole file is looked for'
      : ticks === 0
        ? 'The file is not late as a whole'
        : `All notes ${Math.abs(ticks)} ticks ${ticks > 0 ? 'earlier' : 'later'}`,
  doc: {
    fields: '`ticks` or null',
    meaning:
      'how late the whole file sounds (negative: early): its notes are moved by as much; 0 where it is meant, null for what is found, which the score leaves out',
  },
});
