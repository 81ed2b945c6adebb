import { Equals, IsBoolean } from 'class-validator';
import { OfStrandOrAll, strandKind } from '../kind';

/** Ends a note where its own key is struck again, and joins strikes of one key at once. */
export class MendStacked extends OfStrandOrAll {
  @Equals('stacked') kind = 'stacked' as const;
  @IsBoolean() mend!: boolean;
}

export const stacked = strandKind({
  type: MendStacked,
  field: 'mendStacked',
  readBy: ['clean'],
  add: (_: boolean | undefined, { mend }: MendStacked): boolean | undefined => mend,
  words: ({ mend }) => (mend ? 'double strikes mended' : 'double strikes left'),
  doc: {
    fields: 'optional `strand`, `mend`',
    meaning: 'ends a note where its key is struck again; joins double strikes',
  },
});
