import { Equals, IsBoolean, IsInt, Max, Min } from 'class-validator';
import { Directive, jobKind, OrNull } from '../kind';

/** Sets the concert key of the whole piece; `fifths: null` goes back to the source's. */
export class ChooseKey extends Directive {
  @Equals('key') kind = 'key' as const;
  @OrNull() @IsInt() @Min(-7) @Max(7) fifths!: number | null;
  @IsBoolean() minor!: boolean;
}

/** Undefined: the source's key, or an estimate. */
type Key = { fifths: number; minor: boolean } | undefined;

export const key = jobKind({
  type: ChooseKey,
  field: 'key',
  readBy: ['score', 'hand-over', 'stock'],
  initial: (): Key => undefined,
  add: (_: Key, { fifths, minor }: ChooseKey): Key => (fifths === null ? undefined : { fifths, minor }),
  words: ({ fifths, minor }) =>
    fifths === null
      ? 'Key as the source has it'
      : `Key with ${Math.abs(fifths)} ${fifths < 0 ? 'flats' : 'sharps'}, ${minor ? 'minor' : 'major'}`,
  doc: {
    fields: '`fifths`: −7 to 7 or null, `minor`',
    meaning: 'the concert key of the whole piece; null goes back to the source’s',
  },
});
