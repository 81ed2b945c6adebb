import { ValidatorConstraint, type ValidatorConstraintInterface } from 'class-validator';
import { isInstrumentId } from '../instruments/catalogue';

/** An id of the catalogue. */
@ValidatorConstraint({ name: 'isInstrument' })
export class IsInstrument implements ValidatorConstraintInterface {
  validate(value: unknown): boolean {
    return typeof value === 'string' && isInstrumentId(value);
  }
  defaultMessage(): string {
    return 'instrument is not in the catalogue';
  }
}
