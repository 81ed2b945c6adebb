import { Equals, IsInt, IsNumber, Max, Min } from 'class-validator';
import { OfStrandOrAll, strandKind } from '../kind';

/** Gives strands that stand on the grid a gentle life: time in milliseconds, velocity in steps, 0 for none. */
export class Vary extends OfStrandOrAll {
  @Equals('vary') kind = 'vary' as const;
  @IsNumber() @Min(0) @Max(60) time!: number;
  @IsNumber() @Min(0) @Max(40) velocity!: number;
  @IsInt() @Min(0) @Max(4_294_967_295) seed!: number;
}

export type VaryChoice = Omit<Vary, 'kind' | 'strand'>;

export const vary = strandKind({
  type: Vary,
  field: 'vary',
  readBy: ['vary'],
  add: (_: VaryChoice | undefined, directive: Vary): VaryChoice | undefined => directive,
  words: ({ time, velocity }) =>
    time === 0 && velocity === 0 ? 'played as it stands' : `varied by ${time} ms and ${velocity} in velocity`,
  doc: {
    fields: 'optional `strand`, `time` (± ms), `velocity` (±), `seed`',
    meaning: 'gentle variation, for playback and hand-over only',
  },
});
