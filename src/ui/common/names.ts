const STEPS = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'];

/** Name of a MIDI key, with C4 as middle C. */
export const keyName = (key: number): string => `${STEPS[key % 12]}${Math.floor(key / 12) - 1}`;

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

/** A count with its noun: "1 note", "2 notes". */
export const counted = (count: number, noun: string): string =>
  `${count.toLocaleString('en')} ${noun}${count === 1 ? '' : 's'}`;

/** A sentence on a part that sounds ahead of or behind the beat; seconds. Empty for none. */
export const leadText = (lead: number): string => {
  if (lead === 0) return '';
  const milliseconds = Math.abs(Math.round(lead * 1000));
  return `Sounds ${milliseconds} ms ${lead > 0 ? 'ahead of' : 'behind'} the beat; written on it.`;
};
