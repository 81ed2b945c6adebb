import { Equals, IsBoolean, IsString, MaxLength } from 'class-validator';
import { Directive, jobKind } from '../kind';

/** Says that something odd is meant as it is, by the id that stock-taking gives it. */
export class Meant extends Directive {
  @Equals('meant') kind = 'meant' as const;
  @IsString() @MaxLength(80) oddity!: string;
  @IsBoolean() meant!: boolean;
}

/** Ids of oddities that are meant. */
type MeantOddities = Set<string>;

export const meant = jobKind({
  type: Meant,
  field: 'meant',
  readBy: ['stock'],
  initial: (): MeantOddities => new Set(),
  add: (before: MeantOddities, directive: Meant): MeantOddities => {
    if (directive.meant) before.add(directive.oddity);
    return before;
  },
  subject: ({ oddity }) => oddity,
  words: (directive) => (directive.meant ? 'Something odd is meant' : 'Something odd is not meant'),
  doc: { fields: '`oddity` (its id), `meant`', meaning: 'says that something odd is meant' },
});
