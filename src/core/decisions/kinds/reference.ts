import { Equals, IsNumber, Max, Min } from 'class-validator';
import { Directive, jobKind, OrNull } from '../kind';

/** Ten hours either way: more is a slip of the hand. */
const FURTHEST = 36_000;

/** Says where the listening reference lies along the piece. */
export class LayReference extends Directive {
  @Equals('reference') kind = 'reference' as const;
  /** Seconds of the recording at which the piece begins; null for not laid yet. */
  @OrNull() @IsNumber() @Min(-FURTHEST) @Max(FURTHEST) offset!: number | null;
}

export const reference = jobKind({
  type: LayReference,
  field: 'reference',
  readBy: [],
  initial: (): number | null => null,
  add: (_: number | null, { offset }: LayReference): number | null => offset,
  words: ({ offset }) =>
    offset === null
      ? 'The recording is not laid'
      : `The piece begins at ${offset.toFixed(3)} s of the recording`,
  doc: {
    fields: '`offset` (seconds of the recording at which the piece begins, or null)',
    meaning: 'where the listening reference lies along the piece',
  },
});
