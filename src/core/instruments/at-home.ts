import type { Company } from '../model/performance';
import type { Instrument } from './catalogue';

const HOME: Readonly<Record<Exclude<Company, 'voices'>, RegExp>> = {
  saxophones: /saxophone$/,
  recorders: /recorder$/,
  strings: /^(double-bass|viola)$/,
  brass: /^(bass-trombone|baritone-horn)$/,
  // Read in the treble clef.
  'brass band': /^(alto-horn|baritone-horn-tc)$/,
  'jazz band': /saxophone$|^(double-bass|electric-guitar)$/,
  'folk band': /^(double-bass|acoustic-guitar)$/,
  'rock band': /^(bass-guitar|electric-guitar)$/,
};

/** Where a strand of a company stands, for people. */
export const AMONG: Readonly<Record<Company, string>> = {
  voices: 'among voices',
  saxophones: 'among saxophones',
  recorders: 'among recorders',
  strings: 'among strings',
  brass: 'among brass',
  'brass band': 'in a brass band',
  'jazz band': 'in a jazz band',
  'folk band': 'in a folk band',
  'rock band': 'in a band',
};

/** Whether it is what the name may stand for there, where its range is against the first choice: a quintet's bass is a tuba. */
export const isSecondChoice = ({ id }: Instrument, company: Company): boolean =>
  company === 'brass' && id === 'tuba';

/** Whether an instrument is what a name of several meanings stands for in a company (common practice). */
export function isAtHome({ id, family }: Instrument, company: Company): boolean {
  if (company === 'voices') return family === 'voice' && id !== 'voice';
  return HOME[company].test(id);
}

/** The singers that single letters stand for among voices, by their catalogue ids (common practice). */
export const LETTERS: Readonly<Record<string, string>> = {
  s: 'soprano',
  a: 'alto',
  t: 'tenor',
  b: 'bass-voice',
};
