import type { Clef } from '../../model/clefs';

/** How each clef is told in MusicXML 4.0 (`clef`): its sign, the staff line that it names, and its octaves. */
export const CLEFS: Record<Clef, { sign: string; line?: number; octave?: number }> = {
  treble: { sign: 'G', line: 2 },
  treble8vb: { sign: 'G', line: 2, octave: -1 },
  treble8va: { sign: 'G', line: 2, octave: 1 },
  treble15ma: { sign: 'G', line: 2, octave: 2 },
  treble15mb: { sign: 'G', line: 2, octave: -2 },
  french: { sign: 'G', line: 1 },
  soprano: { sign: 'C', line: 1 },
  mezzosoprano: { sign: 'C', line: 2 },
  alto: { sign: 'C', line: 3 },
  tenor: { sign: 'C', line: 4 },
  tenor8vb: { sign: 'C', line: 4, octave: -1 },
  baritone: { sign: 'C', line: 5 },
  baritoneF: { sign: 'F', line: 3 },
  bass: { sign: 'F', line: 4 },
  bass8vb: { sign: 'F', line: 4, octave: -1 },
  bass8va: { sign: 'F', line: 4, octave: 1 },
  bass15mb: { sign: 'F', line: 4, octave: -2 },
  subbass: { sign: 'F', line: 5 },
  percussion: { sign: 'percussion' },
  tab: { sign: 'TAB', line: 5 },
  none: { sign: 'none' },
};
