import { ArrayMaxSize, Equals, IsArray, IsBoolean, IsInt, Matches, Max, Min } from 'class-validator';
import type { SourceId, StrandId } from '../../model/ids';
import { STRAND_ID } from '../../model/ids';
import { Directive, jobKind, MayBeAbsent } from '../kind';
import { SOURCE_ID } from './leads';

/** Says what of a version is taken in; the rest stays as the version before it has it. */
export class TakeVersion extends Directive {
  @Equals('take') kind = 'take' as const;
  @Matches(SOURCE_ID) source!: SourceId;
  @IsInt() @Min(2) @Max(9999) version!: number;
  /** Absent for all strands. */
  @MayBeAbsent() @IsArray() @ArrayMaxSize(5000) @Matches(STRAND_ID, { each: true }) strands?: StrandId[];
  /** Bars of the version before, indices, `toBar` exclusive; absent for all. */
  @MayBeAbsent() @IsInt() @Min(0) fromBar?: number;
  @MayBeAbsent() @IsInt() @Min(1) toBar?: number;
  /** Put beside what is there, instead of in its place. */
  @MayBeAbsent() @IsBoolean() adds?: boolean;
}

export type TakenOver = Pick<TakeVersion, 'strands' | 'fromBar' | 'toBar' | 'adds'>;

/** By source and version. */
type Taken = Map<string, TakenOver>;

/** Under which what is taken of a version stands. */
export const takenName = (source: SourceId, version: number): string => `${source} ${version}`;

/** The source and version of such a name. */
export function takenOf(name: string): [source: SourceId, version: number] {
  const [source, version] = name.split(' ');
  return [source as SourceId, Number(version)];
}

export const take = jobKind({
  type: TakeVersion,
  field: 'taken',
  readBy: ['source'],
  initial: (): Taken => new Map(),
  add: (before: Taken, { source, version, kind: _, ...taken }: TakeVersion): Taken =>
    before.set(takenName(source, version), taken),
  subject: ({ source, version }) => takenName(source, version),
  check: ({ fromBar = 0, toBar = Number.POSITIVE_INFINITY }) =>
    fromBar < toBar ? null : 'its last bar is before its first',
  words: ({ version, strands, fromBar, toBar }) => {
    const some = strands !== undefined || fromBar !== undefined || toBar !== undefined;
    return some ? `Some of version ${version} taken in` : `All of version ${version} taken in`;
  },
  doc: {
    fields: '`source`, `version`; optional `strands`, `fromBar` and `toBar` (indices, exclusive), `adds`',
    meaning:
      'what of a new version is taken in: some strands, some bars of the version before, beside what is there or in its place; all where nothing is said',
  },
});
