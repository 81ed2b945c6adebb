import type { ChordSymbol, Root } from './marks';

/** How kinds are written after their roots (common practice). */
const SUFFIXES: Readonly<Record<string, string>> = {
  major: '',
  minor: 'm',
  dominant: '7',
  'minor-seventh': 'm7',
  'major-seventh': 'maj7',
  'half-diminished': 'm7♭5',
  diminished: '°',
  'diminished-seventh': '°7',
  augmented: '+',
  'suspended-fourth': 'sus4',
  'major-sixth': '6',
  'minor-sixth': 'm6',
  'major-minor': 'm(maj7)',
  power: '5',
};

const SIGNS: Readonly<Record<number, string>> = { [-2]: '♭♭', [-1]: '♭', 1: '♯', 2: '𝄪' };
const rootText = ({ step, alter }: Root): string => step + (SIGNS[alter] ?? '');

/** A chord as it is read: "F♯m7/A". */
export const chordText = ({ root, kind, text, bass }: ChordSymbol): string =>
  `${rootText(root)}${text ?? SUFFIXES[kind] ?? kind}${bass ? `/${rootText(bass)}` : ''}`;
