import {
  Equals,
  IsBoolean,
  IsNumber,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
} from 'class-validator';
import { STRAND_ID, type StrandId } from '../../model/ids';
import { Directive, jobKind, MayBeAbsent, MayBeAbsentOrNull } from '../kind';

/** Ten hours either way: more is a slip of the hand. */
const FURTHEST = 36_000;

/** Says something of a sound file that lies beside the job as a stem. What is absent stays as it was. */
export class LayStem extends Directive {
  @Equals('stem') kind = 'stem' as const;
  /** The name of the file. */
  @IsString() @MinLength(1) @MaxLength(300) stem!: string;
  /** The part that it is of, by its first strand; null for none. */
  @MayBeAbsentOrNull() @Matches(STRAND_ID) part?: StrandId | null;
  /** Seconds of it at which the piece begins. */
  @MayBeAbsent() @IsNumber() @Min(-FURTHEST) @Max(FURTHEST) offset?: number;
  @MayBeAbsent() @IsString() @MinLength(1) @MaxLength(200) name?: string;
  @MayBeAbsent() @IsBoolean() muted?: boolean;
  @MayBeAbsent() @IsBoolean() hidden?: boolean;
}

export type StemChoice = Omit<LayStem, 'kind' | 'stem'>;
/** What was decided about each stem. */
export type StemChoices = ReadonlyMap<string, StemChoice>;

const SAID = ['part', 'offset', 'name', 'muted', 'hidden'] as const;
const said = (directive: StemChoice) => SAID.filter((each) => directive[each] !== undefined);

const seconds = (offset: number): string => `the piece begins at ${offset.toFixed(3)} s of it`;

export const stem = jobKind({
  type: LayStem,
  field: 'stems',
  readBy: [],
  initial: (): StemChoices => new Map(),
  add: (before: StemChoices, { kind: _, stem: file, ...choice }: LayStem): StemChoices =>
    new Map(before).set(file, { ...before.get(file), ...choice }),
  subject: (directive) => `${directive.stem} ${said(directive).join(' ')}`,
  check: (directive) => (said(directive).length === 0 ? 'a stem must be told something' : null),
  words: ({ stem: file, part, offset, name, muted, hidden }) => {
    const words = [
      part === undefined ? '' : part === null ? 'of no part' : 'of another part',
      offset === undefined ? '' : seconds(offset),
      name === undefined ? '' : `called “${name}”`,
      muted === undefined ? '' : muted ? 'muted' : 'heard',
      hidden === undefined ? '' : hidden ? 'hidden' : 'shown',
    ];
    return `${file}: ${words.filter(Boolean).join(', ')}`;
  },
  doc: {
    fields:
      '`stem` (the name of the file) and at least one of `part` (strand, or null), `offset` (seconds of it at which the piece begins), `name`, `muted`, `hidden`',
    meaning: 'what a sound file beside the job is of, where it lies, and whether it is heard and listed',
  },
});
