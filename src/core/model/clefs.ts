/** Clefs under which notes have pitches, the usual ones first. */
export const PITCHED_CLEFS = [
  'treble',
  'alto',
  'tenor',
  'bass',
  'treble8vb',
  'bass8vb',
  'treble8va',
  'bass8va',
  'tenor8vb',
  'treble15ma',
  'treble15mb',
  'bass15mb',
  'soprano',
  'mezzosoprano',
  'baritone',
  'baritoneF',
  'french',
  'subbass',
] as const;
export type PitchedClef = (typeof PITCHED_CLEFS)[number];

export type Clef =
  | PitchedClef
  | 'percussion'
  | 'tab'
  /** No clef is printed. */
  | 'none';

/** What each is called. */
export const CLEF_NAMES: Record<PitchedClef, string> = {
  treble: 'treble',
  alto: 'alto',
  tenor: 'tenor',
  bass: 'bass',
  treble8vb: 'treble, octave below',
  bass8vb: 'bass, octave below',
  treble8va: 'treble, octave above',
  bass8va: 'bass, octave above',
  tenor8vb: 'tenor, octave below',
  treble15ma: 'treble, two octaves above',
  treble15mb: 'treble, two octaves below',
  bass15mb: 'bass, two octaves below',
  soprano: 'soprano',
  mezzosoprano: 'mezzo-soprano',
  baritone: 'baritone (C)',
  baritoneF: 'baritone (F)',
  french: 'French violin',
  subbass: 'sub-bass',
};

/** Whether notes have pitches under it. */
export const isPitchedClef = (clef: Clef): clef is PitchedClef =>
  clef !== 'percussion' && clef !== 'tab' && clef !== 'none';
