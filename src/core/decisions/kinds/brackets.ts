import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  Equals,
  IsArray,
  IsBoolean,
  IsIn,
  IsString,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { STRAND_ID, type StrandId } from '../../model/ids';
import { GROUP_SYMBOLS, type GroupSymbol } from '../../model/score';
import { Directive, jobKind, MayBeAbsent, OrNull } from '../kind';

/** Parts that belong together, from one to another in the order of the score, by what leads them. */
export class Bracket {
  @Matches(STRAND_ID) from!: StrandId;
  @Matches(STRAND_ID) to!: StrandId;
  @IsIn(GROUP_SYMBOLS) symbol!: GroupSymbol;
  /** Bar lines run through. */
  @IsBoolean() joined!: boolean;
  @MayBeAbsent() @IsString() @MaxLength(200) name?: string;
}

/** Brackets and braces of the score, all of them; null for those that families make. */
export class Brackets extends Directive {
  @Equals('brackets') kind = 'brackets' as const;
  @OrNull()
  @IsArray()
  @ArrayMaxSize(300)
  @ValidateNested({ each: true })
  @Type(() => Bracket)
  groups!: Bracket[] | null;
}

export const brackets = jobKind({
  type: Brackets,
  field: 'brackets',
  readBy: ['cast'],
  initial: (): readonly Bracket[] | null => null,
  add: (_: readonly Bracket[] | null, { groups }: Brackets): readonly Bracket[] | null => groups,
  words: ({ groups }) => (groups === null ? 'Brackets by family' : 'Brackets chosen'),
  doc: {
    fields: '`groups`: each with `from`, `to`, `symbol`, `joined`, `name`; or null',
    meaning: 'brackets and braces over parts, all of them; null for one over each family',
  },
});
