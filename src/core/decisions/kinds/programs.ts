import { Equals, IsIn, IsInt, Max, Min } from 'class-validator';
import { MayBeAbsent, OfStrandOrAll, strandKind } from '../kind';

export const PROGRAM_USES = ['source', 'first', 'none', 'instrument', 'number'] as const;

/** Which program and bank a strand is handed over with. */
export class Programs extends OfStrandOrAll {
  @Equals('programs') kind = 'programs' as const;
  @IsIn(PROGRAM_USES) use!: (typeof PROGRAM_USES)[number];
  /** For `number`: 1–128. */
  @MayBeAbsent() @IsInt() @Min(1) @Max(128) program?: number;
  /** For `number`: MSB × 128 + LSB. */
  @MayBeAbsent() @IsInt() @Min(0) @Max(16_383) bank?: number;
}

export type ProgramChoice = Omit<Programs, 'kind' | 'strand'>;

export const programs = strandKind({
  type: Programs,
  field: 'programs',
  readBy: ['clean'],
  add: (_: ProgramChoice | undefined, directive: Programs): ProgramChoice | undefined => directive,
  words: ({ use, program }) =>
    ({
      source: 'programs as in the source',
      first: 'only the first program',
      none: 'no program',
      instrument: 'program of its instrument',
      number: `program ${program ?? 1}`,
    })[use],
  doc: {
    fields:
      'optional `strand`, `use`: `source`, `first`, `none`, `instrument` or `number` (with `program` 1–128 and optional `bank`)',
    meaning: 'programs and banks of a strand',
  },
});
