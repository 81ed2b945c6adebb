import { ArrayMaxSize, Equals, IsArray, Matches } from 'class-validator';
import { STRAND_ID, type StrandId } from '../../model/ids';
import { Directive, jobKind } from '../kind';

/** Sets the order of the parts by the strands that lead them; parts not named follow in score order. */
export class Order extends Directive {
  @Equals('order') kind = 'order' as const;
  @IsArray() @ArrayMaxSize(5000) @Matches(STRAND_ID, { each: true }) strands!: StrandId[];
}

export const order = jobKind({
  type: Order,
  field: 'order',
  readBy: ['cast', 'hand-over'],
  initial: (): readonly StrandId[] => [],
  add: (_: readonly StrandId[], { strands }: Order): readonly StrandId[] => strands,
  words: ({ strands }) => (strands.length === 0 ? 'Parts in score order' : 'Parts reordered'),
  doc: {
    fields: '`strands`',
    meaning: 'order of the parts by their leading strands; empty for score order',
  },
});
