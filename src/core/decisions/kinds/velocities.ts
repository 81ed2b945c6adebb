import { Equals, IsInt, IsNumber, Max, Min } from 'class-validator';
import { OfStrandOrAll, strandKind } from '../kind';

/** Velocities: scaled by a percentage, then drawn towards one value by a percentage. */
export class Velocities extends OfStrandOrAll {
  @Equals('velocities') kind = 'velocities' as const;
  @IsNumber() @Min(1) @Max(400) scale!: number;
  @IsInt() @Min(1) @Max(127) level!: number;
  @IsNumber() @Min(0) @Max(100) strength!: number;
}

type VelocityChoice = Omit<Velocities, 'kind' | 'strand'>;

export const velocities = strandKind({
  type: Velocities,
  field: 'velocities',
  readBy: ['clean'],
  add: (_: VelocityChoice | undefined, directive: Velocities): VelocityChoice | undefined => directive,
  words: ({ scale, level, strength }) =>
    `velocities at ${scale} %${strength > 0 ? `, drawn ${strength} % towards ${level}` : ''}`,
  doc: {
    fields: 'optional `strand`, `scale` (%), `level` (1–127), `strength` (%)',
    meaning: 'scales velocities, then draws them towards `level`',
  },
});
