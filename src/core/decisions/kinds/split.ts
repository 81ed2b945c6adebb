import {
  ArrayMaxSize,
  ArrayMinSize,
  Equals,
  IsArray,
  IsIn,
  IsInt,
  Max,
  Min,
  Validate,
} from 'class-validator';
import { IsInstrument } from '../instrument-id';
import { MayBeAbsent, OfStrand, OrNull, strandKind } from '../kind';

const WAYS = ['pitch', 'program', 'key-switch', 'passage', 'chairs'] as const;

/** More players than this do not sit in one section of a score. */
const MOST_CHAIRS = 12;

/** Cuts a strand in pieces; the first keeps the strand's id, the others add `s2`, `s3` … `by: null` undoes it. */
export class Split extends OfStrand {
  @Equals('split') kind = 'split' as const;
  @OrNull() @IsIn(WAYS) by!: (typeof WAYS)[number] | null;
  /** For `pitch`: the lowest MIDI key of the upper piece. */
  @MayBeAbsent() @IsInt() @Min(1) @Max(127) key?: number;
  /** For `key-switch`: the keys that command; they are taken out. */
  @MayBeAbsent()
  @IsArray()
  @ArrayMaxSize(128)
  @IsInt({ each: true })
  @Min(0, { each: true })
  @Max(127, { each: true })
  keys?: number[];
  /** For `passage`: onsets from this tick, and before that one, make the second piece. */
  @MayBeAbsent() @IsInt() @Min(0) from?: number;
  @MayBeAbsent() @IsInt() @Min(0) to?: number;
  /** For `chairs`: what each player plays, as catalogue ids, the highest first. */
  @MayBeAbsent()
  @IsArray()
  @ArrayMinSize(2)
  @ArrayMaxSize(MOST_CHAIRS)
  @Validate(IsInstrument, { each: true })
  chairs?: string[];
}

type SplitChoice = Omit<Split, 'kind' | 'strand'> | undefined;

export const split = strandKind({
  type: Split,
  field: 'split',
  readBy: ['clean'],
  add: (_: SplitChoice, directive: Split): SplitChoice => directive,
  words: ({ by, chairs = [] }) =>
    by === null
      ? 'whole again'
      : by === 'chairs'
        ? `divided over ${chairs.length} chairs`
        : `split by ${by.replace('-', ' ')}`,
  doc: {
    fields:
      '`strand`; `by`: `pitch` (with `key`), `program`, `key-switch` (with `keys`), `passage` (with `from`, `to`, in ticks), `chairs` (with `chairs`: instruments of the players, the highest first) or null',
    meaning: 'cuts a strand in pieces; the first keeps the id, the others add `s2`, `s3` …',
  },
});
