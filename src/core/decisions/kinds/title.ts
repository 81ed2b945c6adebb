import { Equals, IsString, MaxLength } from 'class-validator';
import { Directive, jobKind } from '../kind';

/** Sets the title. */
export class Title extends Directive {
  @Equals('title') kind = 'title' as const;
  @IsString() @MaxLength(200) title!: string;
}

export const title = jobKind({
  type: Title,
  field: 'title',
  readBy: ['score', 'hand-over'],
  initial: (): string | undefined => undefined,
  add: (_: string | undefined, directive: Title): string | undefined => directive.title,
  words: (directive) => `Title “${directive.title}”`,
  doc: { fields: '`title` (≤ 200 characters)', meaning: 'title of the score' },
});
