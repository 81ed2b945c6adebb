import { Equals, IsNumber, Max, Min } from 'class-validator';
import { OfStrandOrAll, strandKind } from '../kind';

/** Leaves out notes shorter than so many milliseconds; 0 keeps all. */
export class Specks extends OfStrandOrAll {
  @Equals('specks') kind = 'specks' as const;
  @IsNumber() @Min(0) @Max(500) under!: number;
}

export const specks = strandKind({
  type: Specks,
  field: 'specksUnder',
  readBy: ['clean'],
  add: (_: number | undefined, { under }: Specks): number | undefined => under,
  words: ({ under }) => (under === 0 ? 'specks kept' : `notes under ${under} ms left out`),
  doc: { fields: 'optional `strand`, `under` (ms)', meaning: 'leaves out shorter notes; 0 keeps all' },
});
