import { Equals, IsIn, IsInt, IsNumber, Max, Min } from 'class-validator';
import { Directive, jobKind, OrNull } from '../kind';

/** Sets one meter, and the upbeat before it, for the whole piece; `numerator: null` goes back to the source's. */
export class ChooseMeter extends Directive {
  @Equals('meter') kind = 'meter' as const;
  @OrNull() @IsInt() @Min(1) @Max(32) numerator!: number | null;
  @IsIn([1, 2, 4, 8, 16, 32]) denominator!: number;
  @IsNumber() @Min(0) @Max(64) upbeatQuarters!: number;
}

/** One meter for the whole piece, with its upbeat in quarter notes. */
type MeterChoice = { numerator: number; denominator: number; upbeatQuarters: number } | undefined;

export const meter = jobKind({
  type: ChooseMeter,
  field: 'meter',
  readBy: ['clock', 'stock'],
  initial: (): MeterChoice => undefined,
  add: (_: MeterChoice, { numerator, denominator, upbeatQuarters }: ChooseMeter): MeterChoice =>
    numerator === null ? undefined : { numerator, denominator, upbeatQuarters },
  check: ({ numerator, denominator, upbeatQuarters }) =>
    numerator !== null && upbeatQuarters >= (4 * numerator) / denominator
      ? `upbeatQuarters must be less than a bar of ${numerator}/${denominator}`
      : null,
  words: ({ numerator, denominator, upbeatQuarters }) =>
    numerator === null
      ? 'Meters as the source has them'
      : `${numerator}/${denominator} throughout${upbeatQuarters > 0 ? `, upbeat of ${upbeatQuarters} quarters` : ''}`,
  doc: {
    fields:
      '`numerator` (1–32, or null for the source’s own), `denominator`, `upbeatQuarters` (less than a bar)',
    meaning: 'one meter and its upbeat for the whole piece',
  },
});
