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
  ValidatorConstraint,
  type ValidatorConstraintInterface,
} from 'class-validator';
import { TECHNIQUE_NAMES } from '../../instruments/name-techniques';
import { IsInstrument } from '../instrument-id';
import { MayBeAbsent, OfStrand, OrNull, strandKind } from '../kind';
import { ORDINARY } from './technique';

const WAYS = ['pitch', 'program', 'key-switch', 'passage', 'chairs', 'sounds'] as const;

/** More players than this do not sit in one section of a score. */
const MOST_CHAIRS = 12;

/** A list of MIDI keys, 0–127. */
@ValidatorConstraint({ name: 'areKeys' })
class AreKeys implements ValidatorConstraintInterface {
  validate(value: unknown): boolean {
    return (
      Array.isArray(value) &&
      value.length <= 128 &&
      value.every((key) => Number.isInteger(key) && key >= 0 && key <= 127)
    );
  }
  defaultMessage(): string {
    return 'each of $property must be a list of keys, 0 to 127';
  }
}

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
  /** For `key-switch`: what each of the keys asks for, in their order; the pieces then make one part, with texts. */
  @MayBeAbsent()
  @IsArray()
  @ArrayMaxSize(128)
  @IsIn([ORDINARY, ...TECHNIQUE_NAMES], { each: true })
  techniques?: string[];
  /** For `sounds`: the keys of each player of a percussion strand; those of none are the last one's. */
  @MayBeAbsent()
  @IsArray()
  @ArrayMaxSize(MOST_CHAIRS)
  @Validate(AreKeys, { each: true })
  players?: number[][];
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
  check: ({ by, keys = [], techniques, chairs, players = [] }) => {
    if (by === 'chairs' && !chairs) return 'chairs must say who sits there';
    if (by === 'sounds' && players.length === 0) return 'players must have keys';
    if (by === 'key-switch' && keys.length === 0) return 'keys must name the switches';
    return by === 'key-switch' && techniques && techniques.length !== keys.length
      ? 'techniques must be as many as keys'
      : null;
  },
  words: ({ by, chairs = [], players = [], techniques }) =>
    by === null
      ? 'whole again'
      : by === 'chairs'
        ? `divided over ${chairs.length} chairs`
        : by === 'sounds'
          ? `divided over ${players.length} players`
          : by === 'key-switch' && techniques
            ? 'key switches named'
            : `split by ${by.replace('-', ' ')}`,
  doc: {
    fields:
      '`strand`; `by`: `pitch` (with `key`), `program`, `key-switch` (with `keys`, and `techniques` for a text where each holds), `passage` (with `from`, `to`, in ticks), `chairs` (with `chairs`: instruments of the players, the highest first), `sounds` (with `players`: the MIDI keys of each) or null',
    meaning: 'cuts a strand in pieces; the first keeps the id, the others add `s2`, `s3` …',
  },
});
