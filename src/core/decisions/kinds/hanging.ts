import { Equals, IsBoolean } from 'class-validator';
import { OfStrandOrAll, strandKind } from '../kind';

/** Ends notes that the source never ends at the next attack, at the latest at the end of their bar. */
export class CloseHanging extends OfStrandOrAll {
  @Equals('hanging') kind = 'hanging' as const;
  @IsBoolean() close!: boolean;
}

export const hanging = strandKind({
  type: CloseHanging,
  field: 'closeHanging',
  readBy: ['clean'],
  add: (_: boolean | undefined, { close }: CloseHanging): boolean | undefined => close,
  words: ({ close }) => (close ? 'hanging notes ended' : 'hanging notes left'),
  doc: {
    fields: 'optional `strand`, `close`',
    meaning: 'ends notes that never end at the next attack, at the latest at their bar’s end',
  },
});
