import { Equals, IsInt, Max, Min } from 'class-validator';
import { counted } from '../../basics/words';
import type { Interval } from '../../model/pitch';
import { OfStrandOrAll, strandKind } from '../kind';

/** Makes a strand sound higher or lower by steps of the scale and semitones; both 0 takes it back. */
export class Transpose extends OfStrandOrAll {
  @Equals('transpose') kind = 'transpose' as const;
  @IsInt() @Min(-28) @Max(28) steps!: number;
  @IsInt() @Min(-48) @Max(48) semitones!: number;
}

export const transpose = strandKind({
  type: Transpose,
  field: 'transpose',
  readBy: ['clean', 'score'],
  add: (_: Interval | undefined, { steps, semitones }: Transpose): Interval | undefined =>
    steps === 0 && semitones === 0 ? undefined : { diatonic: steps, chromatic: semitones },
  // A spelling with more than two sharps or flats would be one of another interval (1.7 semitones a step).
  check: ({ steps, semitones }) =>
    Math.abs(semitones - (12 * steps) / 7) > 2
      ? `${counted(Math.abs(steps), 'step')} and ${counted(Math.abs(semitones), 'semitone')} are no interval`
      : null,
  words: ({ semitones }) =>
    semitones === 0
      ? 'sounds as it did'
      : `sounds ${counted(Math.abs(semitones), 'semitone')} ${semitones > 0 ? 'higher' : 'lower'}`,
  doc: {
    fields: 'optional `strand`, `steps` (−28 to 28), `semitones` (−48 to 48)',
    meaning:
      'makes pitched strands sound higher (or lower) by an interval, a major second being 1 step and 2 semitones; a score is written so, with its signatures and chord symbols; both 0 takes it back',
  },
});
