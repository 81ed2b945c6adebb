import { Equals, IsBoolean, Matches } from 'class-validator';
import { STRAND_ID, type StrandId } from '../../model/ids';
import { Directive, MayBeAbsent, strandKind } from '../kind';

/** Writes a part of a score that was read anew, from what sounds of it at its written times; or leaves it as it came. */
export class WriteAgain extends Directive {
  @Equals('again') kind = 'again' as const;
  /** Absent for all parts that have no decision of their own. */
  @MayBeAbsent() @Matches(STRAND_ID) strand?: StrandId;
  @IsBoolean() again!: boolean;
}

export const again = strandKind({
  type: WriteAgain,
  field: 'again',
  readBy: ['score'],
  add: (_: boolean | undefined, { again: wanted }: WriteAgain): boolean | undefined => wanted,
  words: ({ again: wanted }) => (wanted ? 'written again' : 'as it came'),
  doc: {
    fields: 'optional `strand`, `again`',
    meaning:
      'writes a part of a score that was read anew, from its notes at their written times: values, rests, ties, voices, staves and spelling as they would be read of a performance; what was decided about rhythm holds for it',
  },
});
