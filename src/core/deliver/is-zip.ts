import type { HandOverChoice } from '../decisions/kinds/hand-over';

/** Whether a hand-over is several files in a zip: loops, or each track in its own. */
export const isZip = ({ form, files, type }: HandOverChoice): boolean =>
  form === 'loops' || (files === 'each' && type === 1 && form !== 'clock');
