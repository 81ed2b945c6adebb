import { Equals, IsBoolean } from 'class-validator';
import { Directive, jobKind } from '../kind';

/** Takes off whole empty bars before the first note. */
export class Silence extends Directive {
  @Equals('silence') kind = 'silence' as const;
  @IsBoolean() trim!: boolean;
}

export const silence = jobKind({
  type: Silence,
  field: 'trimSilence',
  readBy: ['clock'],
  initial: () => false,
  add: (_: boolean, { trim }: Silence): boolean => trim,
  words: ({ trim }) => (trim ? 'Empty bars at the start taken off' : 'Empty bars at the start kept'),
  doc: { fields: '`trim`', meaning: 'takes off whole empty bars before the first note' },
});
