import { Equals, Validate, ValidatorConstraint, type ValidatorConstraintInterface } from 'class-validator';
import { instrumentOf, isInstrumentId } from '../../instruments/catalogue';
import { OfStrand, strandKind } from '../kind';

@ValidatorConstraint({ name: 'isInstrument' })
class IsInstrument implements ValidatorConstraintInterface {
  validate(value: unknown): boolean {
    return typeof value === 'string' && isInstrumentId(value);
  }
  defaultMessage(): string {
    return 'instrument is not in the catalogue';
  }
}

/** Casts a strand's part on an instrument of the catalogue. */
export class Cast extends OfStrand {
  @Equals('cast') kind = 'cast' as const;
  @Validate(IsInstrument) instrument!: string;
}

export const cast = strandKind({
  type: Cast,
  field: 'instrument',
  readBy: ['clean', 'cast', 'hand-over', 'stock'],
  add: (_: string | undefined, { instrument }: Cast): string | undefined => instrument,
  words: ({ instrument }) => `played by ${instrumentOf(instrument).name}`,
  doc: {
    fields: '`strand`, `instrument`',
    meaning:
      'casts the part on an instrument of the catalogue, by its id (`src/core/instruments/catalogue.ts`)',
  },
});
