import { Equals, IsBoolean, IsString, MaxLength } from 'class-validator';
import { Directive, jobKind, MayBeAbsent } from '../kind';

/** Says that something odd is meant as it is, by the id that stock-taking or proof gives it, and why. */
export class Meant extends Directive {
  @Equals('meant') kind = 'meant' as const;
  @IsString() @MaxLength(160) oddity!: string;
  @IsBoolean() meant!: boolean;
  @MayBeAbsent() @IsString() @MaxLength(300) note?: string;
}

/** Ids of what is meant, with the note that was made of it. */
type MeantOddities = Map<string, string>;

export const meant = jobKind({
  type: Meant,
  field: 'meant',
  readBy: ['stock'],
  initial: (): MeantOddities => new Map(),
  add: (before: MeantOddities, directive: Meant): MeantOddities => {
    if (directive.meant) before.set(directive.oddity, directive.note ?? '');
    return before;
  },
  subject: ({ oddity }) => oddity,
  words: (directive) => (directive.meant ? 'Something odd is meant' : 'Something odd is not meant'),
  doc: {
    fields: '`oddity` (its id), `meant`, `note`',
    meaning: 'says that something odd, or a finding of the proof, is meant, and why',
  },
});
