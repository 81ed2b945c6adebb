import { ArrayMaxSize, Equals, IsArray, IsInt, Max, Min } from 'class-validator';
import { counted } from '../../basics/words';
import { OfStrand, strandKind } from '../kind';

/** Takes keys out of a strand because they are commands, not music. */
export class KeySwitches extends OfStrand {
  @Equals('key-switches') kind = 'key-switches' as const;
  @IsArray()
  @ArrayMaxSize(128)
  @IsInt({ each: true })
  @Min(0, { each: true })
  @Max(127, { each: true })
  keys!: number[];
}

export const keySwitches = strandKind({
  type: KeySwitches,
  field: 'keySwitches',
  readBy: ['clean'],
  add: (_: readonly number[] | undefined, { keys }: KeySwitches): readonly number[] | undefined => keys,
  words: ({ keys }) =>
    keys.length === 0
      ? 'all keys are music'
      : `${counted(keys.length, 'key switch').replace('switchs', 'switches')} taken out`,
  doc: {
    fields: '`strand`, `keys` (MIDI keys)',
    meaning: 'takes out keys that are commands, not music',
  },
});
