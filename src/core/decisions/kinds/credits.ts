import { Equals, IsString, MaxLength } from 'class-validator';
import { Directive, jobKind, MayBeAbsent } from '../kind';

/** Says who made the piece, and whose it is; an empty text takes away what the source says. */
export class Credits extends Directive {
  @Equals('credits') kind = 'credits' as const;
  @MayBeAbsent() @IsString() @MaxLength(200) composer?: string;
  @MayBeAbsent() @IsString() @MaxLength(300) copyright?: string;
}

type CreditsChoice = Omit<Credits, 'kind'>;

export const credits = jobKind({
  type: Credits,
  field: 'credits',
  readBy: ['score', 'hand-over'],
  initial: (): CreditsChoice => ({}),
  add: (before: CreditsChoice, { kind: _, ...choice }: Credits): CreditsChoice => ({ ...before, ...choice }),
  subject: (directive) => Object.keys(directive).sort().join(' '),
  words: ({ composer, copyright }) =>
    [
      ...(composer === undefined ? [] : [`composer “${composer}”`]),
      ...(copyright === undefined ? [] : [`copyright “${copyright}”`]),
    ].join(', '),
  doc: {
    fields: '`composer` (≤ 200 characters), `copyright` (≤ 300), one or both',
    meaning: 'who made the piece, and whose it is, on the page and in MusicXML',
  },
});
