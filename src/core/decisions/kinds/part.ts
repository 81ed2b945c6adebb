import { Equals, Validate } from 'class-validator';
import { instrumentOf } from '../../instruments/catalogue';
import { isAdded } from '../../model/ids';
import { IsInstrument } from '../instrument-id';
import { OfStrand, OrNull, strandKind } from '../kind';

/** Adds a part that no strand leads, as a line-up has them: it rests until strands are joined to it. */
export class AddedPart extends OfStrand {
  @Equals('part') kind = 'part' as const;
  @OrNull() @Validate(IsInstrument) instrument!: string | null;
}

export const part = strandKind({
  type: AddedPart,
  field: 'added',
  readBy: ['cast', 'hand-over'],
  add: (_: string | null | undefined, { instrument }: AddedPart): string | null | undefined => instrument,
  check: ({ strand }) => (isAdded(strand) ? null : 'strand must be one that no source has, such as 0/p1'),
  words: ({ instrument }) =>
    instrument ? `a part for ${instrumentOf(instrument).name}` : 'no part any more',
  doc: {
    fields: '`strand`: `0/p1`, `0/p2` …; `instrument` or null',
    meaning: 'adds a part that rests until strands are joined to it; null takes it away again',
  },
});
