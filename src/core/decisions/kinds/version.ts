import { Equals, IsInt, Matches, Max, Min } from 'class-validator';
import type { SourceId } from '../../model/ids';
import { Directive, jobKind } from '../kind';
import { SOURCE_ID } from './leads';

/** Says which version of a source is worked with. */
export class ChooseVersion extends Directive {
  @Equals('version') kind = 'version' as const;
  @Matches(SOURCE_ID) source!: SourceId;
  @IsInt() @Min(1) @Max(9999) version!: number;
}

type Versions = Map<SourceId, number>;

export const version = jobKind({
  type: ChooseVersion,
  field: 'versions',
  readBy: ['source'],
  initial: (): Versions => new Map(),
  add: (before: Versions, { source, version }: ChooseVersion): Versions => before.set(source, version),
  subject: ({ source }) => source,
  words: (directive) => `Version ${directive.version} of source ${directive.source}`,
  doc: {
    fields: '`source`, `version` (from 1)',
    meaning: 'the version of a source that is worked with; the newest where nothing is said',
  },
});
