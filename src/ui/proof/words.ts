import type { Weight } from '../../core/proof/finding';
import type { Difference } from '../../core/reconcile/ledger';

/** How much a finding matters. */
export const WEIGHT_NAMES: Record<Weight, string> = {
  wrong: 'Wrong',
  doubtful: 'Doubtful',
  remark: 'Remark',
};

/** In what two notes differ. */
export const DIFFERENCE_NAMES: Record<Difference, string> = {
  missing: 'Missing',
  added: 'Added',
  pitch: 'Pitch',
  octave: 'Octave',
  onset: 'Place',
  length: 'Length',
  spelling: 'Spelling',
  part: 'Part',
  voice: 'Voice',
};
