import {
  type ValidationArguments,
  ValidatorConstraint,
  type ValidatorConstraintInterface,
} from 'class-validator';
import { isInstrumentId } from '../instruments/catalogue';

/** An id of the catalogue. */
@ValidatorConstraint({ name: 'isInstrument' })
export class IsInstrument implements ValidatorConstraintInterface {
  validate(value: unknown): boolean {
    return typeof value === 'string' && isInstrumentId(value);
  }
  defaultMessage({ value }: ValidationArguments): string {
    const said = Array.isArray(value) ? value.find((each) => !isInstrumentId(String(each))) : value;
    return `“${String(said).slice(0, 40)}” is not an instrument of the catalogue`;
  }
}
