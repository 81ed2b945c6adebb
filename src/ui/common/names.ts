import type { Smallest } from '../../core/decisions/kinds/grid';
import { hasLead, type Lead } from '../../core/infer/lead/lead-of';

const MAJORS = ['C♭', 'G♭', 'D♭', 'A♭', 'E♭', 'B♭', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F♯', 'C♯'];
const MINORS = ['A♭', 'E♭', 'B♭', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F♯', 'C♯', 'G♯', 'D♯', 'A♯'];

/** Name of a key signature: −7 to 7 fifths. */
export const signatureName = (fifths: number, minor: boolean): string =>
  `${(minor ? MINORS : MAJORS)[fifths + 7]} ${minor ? 'minor' : 'major'}`;

/** Signatures to choose among: of common use, up to six sharps or flats. */
export const KEY_CHOICES = [false, true].flatMap((minor) =>
  Array.from({ length: 13 }, (_, index) => ({
    value: `${index - 6} ${minor ? 'minor' : 'major'}`,
    label: signatureName(index - 6, minor),
  })),
);

/** Seconds as minutes, seconds and tenths. */
export const clockText = (seconds: number): string => {
  const tenths = Math.round(seconds * 10);
  return `${Math.floor(tenths / 600)}:${((tenths % 600) / 10).toFixed(1).padStart(4, '0')}`;
};

/** A sentence on a part whose strands sound ahead of or behind the beat. Empty for none. */
export const leadText = (leads: readonly Lead[]): string => {
  const told = [...new Set(leads.filter(hasLead).map(leadWords))];
  return told.length === 0 ? '' : `Sounds ${told.join('; ')}; written on it.`;
};

const leadWords = ({ seconds, other }: Lead): string => {
  if (!other) return offBeat(seconds);
  const [high, low] =
    other.by === 'held' ? ['in long notes', 'in short ones'] : ['in high notes', 'in low ones'];
  return `${offBeat(other.seconds)} ${high} and ${offBeat(seconds)} ${low}`;
};

const offBeat = (seconds: number): string => {
  const milliseconds = Math.round(seconds * 1000);
  if (milliseconds === 0) return 'on the beat';
  return `${Math.abs(milliseconds)} ms ${milliseconds > 0 ? 'ahead of' : 'behind'} the beat`;
};

export const SMALLEST_NAMES: Record<Smallest, string> = {
  quarter: 'Quarters',
  eighth: 'Eighths',
  '16th': '16ths',
  '32nd': '32nds',
};
