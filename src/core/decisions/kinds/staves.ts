import { Equals, IsIn } from 'class-validator';
import { OfStrand, strandKind } from '../kind';

/** Sets the number of staves. */
export class Staves extends OfStrand {
  @Equals('staves') kind = 'staves' as const;
  @IsIn([1, 2]) staves!: 1 | 2;
}

export const staves = strandKind({
  type: Staves,
  field: 'staves',
  readBy: ['cast'],
  add: (_: 1 | 2 | undefined, directive: Staves): 1 | 2 | undefined => directive.staves,
  words: (directive) => (directive.staves === 1 ? 'one staff' : 'two staves'),
  doc: { fields: '`strand`, `staves`: 1 or 2', meaning: 'number of staves' },
});
