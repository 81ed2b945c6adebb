import { Equals, Matches } from 'class-validator';
import { STRAND_ID, type StrandId } from '../../model/ids';
import { OfStrand, OrNull, strandKind } from '../kind';

/** Puts a strand into the part of another one, or with `into: null` into a part of its own. */
export class Join extends OfStrand {
  @Equals('join') kind = 'join' as const;
  @OrNull() @Matches(STRAND_ID) into!: StrandId | null;
}

export const join = strandKind({
  type: Join,
  field: 'into',
  readBy: ['cast', 'hand-over'],
  add: (_: StrandId | null | undefined, { into }: Join): StrandId | null | undefined => into,
  words: ({ into }) => (into ? 'joined to another strand’s part' : 'a part of its own'),
  doc: {
    fields: '`strand`, `into`: strand or null',
    meaning: 'writes the strand into the part of another, or (null) into one of its own',
  },
});
