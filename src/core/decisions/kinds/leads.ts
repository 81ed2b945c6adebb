import { Equals, Matches } from 'class-validator';
import type { SourceId } from '../../model/ids';
import { Directive, jobKind } from '../kind';

/** A source of the job. */
export const SOURCE_ID = /^[1-9]\d{0,3}$/;

/** Says which source the music is taken from. */
export class Leads extends Directive {
  @Equals('leads') kind = 'leads' as const;
  @Matches(SOURCE_ID) source!: SourceId;
}

export const leads = jobKind({
  type: Leads,
  field: 'leading',
  readBy: ['source'],
  /** Undefined: the first source. */
  initial: (): SourceId | undefined => undefined,
  add: (_: SourceId | undefined, { source }: Leads): SourceId | undefined => source,
  words: ({ source }) => `Source ${source} leads`,
  doc: { fields: '`source` (its number in the job)', meaning: 'the source that the music is taken from' },
});
