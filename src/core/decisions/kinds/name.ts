import { Equals, IsString, MaxLength } from 'class-validator';
import { OfStrand, strandKind } from '../kind';

/** Gives the part of a strand its name. */
export class NamePart extends OfStrand {
  @Equals('name') kind = 'name' as const;
  @IsString() @MaxLength(120) name!: string;
}

export const name = strandKind({
  type: NamePart,
  field: 'name',
  readBy: ['cast', 'hand-over'],
  add: (_: string | undefined, directive: NamePart): string | undefined => directive.name,
  words: (directive) => `named “${directive.name}”`,
  doc: { fields: '`strand`, `name` (≤ 120 characters)', meaning: 'the name of the strand’s part' },
});
