import { Equals, IsInt, IsString, Matches, Max, MaxLength, Min, MinLength } from 'class-validator';
import type { SourceId } from '../../model/ids';
import { Directive, jobKind, MayBeAbsent } from '../kind';
import { SOURCE_ID } from './leads';

/** Says which version of a source is worked with. */
export class ChooseVersion extends Directive {
  @Equals('version') kind = 'version' as const;
  @Matches(SOURCE_ID) source!: SourceId;
  @IsInt() @Min(1) @Max(9999) version!: number;
  /** What was done to make it, where that was done here. */
  @MayBeAbsent() @IsString() @MinLength(1) @MaxLength(200) done?: string;
}

type Versions = Map<SourceId, number>;

export const version = jobKind({
  type: ChooseVersion,
  field: 'versions',
  readBy: ['source'],
  initial: (): Versions => new Map(),
  add: (before: Versions, { source, version }: ChooseVersion): Versions => before.set(source, version),
  subject: ({ source }) => source,
  words: ({ source, version, done }) => done ?? `Version ${version} of source ${source}`,
  doc: {
    fields: '`source`, `version` (from 1); `done`: what was done to make it, in words',
    meaning: 'the version of a source that is worked with; the newest where nothing is said',
  },
});
