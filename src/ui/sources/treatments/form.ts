import type { PlainDirective } from '../../../core/decisions/kinds';
import type { StrandId } from '../../../core/model/ids';

/** What a treatment's form is given: the strands it is for, and how it is put away. */
export interface FormProps {
  forAll: (make: (strand: StrandId) => PlainDirective) => void;
  close: () => void;
}
