import { Equals, IsBoolean, Matches } from 'class-validator';
import { STRAND_OR_TRACK_ID, type StrandId } from '../../model/ids';
import { Directive, strandKind } from '../kind';

/** Leaves a strand out of the score and of every hand-over, or takes it back in; also a track without notes. */
export class LeaveOut extends Directive {
  @Equals('leave-out') kind = 'leave-out' as const;
  @Matches(STRAND_OR_TRACK_ID) strand!: StrandId;
  @IsBoolean() out!: boolean;
}

export const leaveOut = strandKind({
  type: LeaveOut,
  field: 'out',
  readBy: ['cast', 'hand-over', 'stock'],
  add: (_: boolean | undefined, { out }: LeaveOut): boolean | undefined => out,
  words: ({ out }) => (out ? 'left out' : 'taken in'),
  doc: {
    fields: '`strand` (or `<source>/t<track>` for a track without notes), `out`',
    meaning: 'leaves a strand out of the score and of every hand-over, or takes it back in',
  },
});
