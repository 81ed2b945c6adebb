import { keyName } from '../model/pitch';
import type { Instrument } from './catalogue/instrument';

/** Open strings of an instrument under a name; sounding MIDI keys from the last string to the first. */
export interface Tuning {
  name: string;
  keys: readonly number[];
}

/** Tunings of six-string guitars beside the usual one (common practice). */
const GUITAR: readonly Tuning[] = [
  { name: 'D A D G A D', keys: [38, 45, 50, 55, 57, 62] },
  { name: 'Open D', keys: [38, 45, 50, 54, 57, 62] },
  { name: 'Open E', keys: [40, 47, 52, 56, 59, 64] },
  { name: 'Open G', keys: [38, 43, 50, 55, 59, 62] },
  { name: 'Open A', keys: [40, 45, 52, 57, 61, 64] },
];
const STANDARD_GUITAR = '40 45 50 55 59 64';

/** Whether an instrument has frets that tablature can count. */
export const isFretted = ({ family, tuning }: Instrument): boolean =>
  family === 'plucked' && tuning !== undefined;

/** The usual tunings of a fretted instrument, its own first. */
export function tuningsOf({ tuning }: Pick<Instrument, 'tuning'>): Tuning[] {
  if (!tuning) return [];
  const lower = (by: number) => tuning.map((key) => key - by);
  const dropped = tuning.map((key, at) => (at === 0 ? key - 2 : key));
  return [
    { name: 'Usual tuning', keys: tuning },
    { name: 'Last string a tone lower', keys: dropped },
    { name: 'All a semitone lower', keys: lower(1) },
    { name: 'All a tone lower', keys: lower(2) },
    ...(tuning.join(' ') === STANDARD_GUITAR ? GUITAR : []),
  ];
}

/** The open strings as they are read: "E2 A2 D3 G3 B3 E4". */
export const stringsText = (keys: readonly number[]): string => keys.map((key) => keyName(key)).join(' ');
