import type { Smallest } from '../../core/brief/directives';

const MAJORS = ['C♭', 'G♭', 'D♭', 'A♭', 'E♭', 'B♭', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F♯', 'C♯'];
const MINORS = ['A♭', 'E♭', 'B♭', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F♯', 'C♯', 'G♯', 'D♯', 'A♯'];

/** Name of a key signature: −7 to 7 fifths. */
export const signatureName = (fifths: number, minor: boolean): string =>
  `${(minor ? MINORS : MAJORS)[fifths + 7]} ${minor ? 'minor' : 'major'}`;

/** Seconds as minutes, seconds and tenths. */
export const clockText = (seconds: number): string => {
  const tenths = Math.round(seconds * 10);
  return `${Math.floor(tenths / 600)}:${((tenths % 600) / 10).toFixed(1).padStart(4, '0')}`;
};

/** A sentence on a part that sounds ahead of or behind the beat; seconds. Empty for none. */
export const leadText = (lead: number): string => {
  if (lead === 0) return '';
  const milliseconds = Math.abs(Math.round(lead * 1000));
  return `Sounds ${milliseconds} ms ${lead > 0 ? 'ahead of' : 'behind'} the beat; written on it.`;
};

export const SMALLEST_NAMES: Record<Smallest, string> = {
  quarter: 'Quarters',
  eighth: 'Eighths',
  '16th': '16ths',
  '32nd': '32nds',
};
