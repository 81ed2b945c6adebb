export const STEPS = ['C', 'D', 'E', 'F', 'G', 'A', 'B'] as const;
export type Step = (typeof STEPS)[number];

/** A spelled pitch; `octave` 4 begins at middle C (MIDI key 60). */
export interface Pitch {
  step: Step;
  alter: number;
  octave: number;
}

const STEP_SEMITONES: Record<Step, number> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };
const FIFTHS_STEPS: readonly Step[] = ['F', 'C', 'G', 'D', 'A', 'E', 'B'];

/** MIDI key of a spelled pitch. */
export const pitchKey = (pitch: Pitch): number =>
  12 * (pitch.octave + 1) + STEP_SEMITONES[pitch.step] + pitch.alter;

const KEY_NAMES = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'];

/** Name of a MIDI key, with C4 as middle C. */
export const keyName = (key: number): string => `${KEY_NAMES[key % 12]}${Math.floor(key / 12) - 1}`;

const SIGNS: Record<number, string> = { [-2]: '𝄫', [-1]: '♭', 0: '', 1: '♯', 2: '𝄪' };

/** Name of a spelled pitch, such as F♯4; quarter tones by their figure. */
export const pitchName = ({ step, alter, octave }: Pitch): string =>
  `${step}${SIGNS[alter] ?? ` ${alter > 0 ? '+' : '−'}${Math.abs(alter)} `}${octave}`;

/** Place on the line of fifths: C is 0, G 1, F −1, B flat −2, F sharp 6. */
export const pitchFifths = (pitch: Pick<Pitch, 'step' | 'alter'>): number =>
  FIFTHS_STEPS.indexOf(pitch.step) - 1 + 7 * pitch.alter;

/** The pitch at `fifths` on the line of fifths that sounds as MIDI `key`; the two must agree. */
export function pitchAt(fifths: number, key: number): Pitch {
  const step = FIFTHS_STEPS[(((fifths + 1) % 7) + 7) % 7]!;
  const alter = Math.floor((fifths + 1) / 7);
  return { step, alter, octave: (key - alter - STEP_SEMITONES[step]) / 12 - 1 };
}

/** So many steps of the scale and semitones up; negative for down. A major second is 1 and 2. */
export interface Interval {
  diatonic: number;
  chromatic: number;
}

/** How far an interval goes along the line of fifths: a fifth 1, a major second 2, a minor third −3. */
export const intervalFifths = ({ diatonic, chromatic }: Interval): number => 7 * chromatic - 12 * diatonic;

/** Three sharps or flats are the most that are ever written (MusicXML 4.0, `accidental-value`). */
export const MOST_ALTERED = 3;
/** A note that is spelled anew may have this many sharps or flats; beyond, another letter is taken (common practice). */
const MOST_SPELLED = 2;

/** A pitch an interval higher; with another letter where it would have three sharps or flats. */
export function movedBy(pitch: Pitch, interval: Interval): Pitch {
  const key = pitchKey(pitch) + interval.chromatic;
  let moved = spelledAt(diatonicHeight(pitch) + interval.diatonic, key);
  while (Math.abs(moved.alter) > MOST_SPELLED)
    moved = spelledAt(diatonicHeight(moved) + Math.sign(moved.alter), key);
  return moved;
}

/** The pitch at a height on the staff that sounds as a key; the key may lie between two. */
function spelledAt(height: number, key: number): Pitch {
  const natural: Pitch = {
    step: STEPS[((height % 7) + 7) % 7]!,
    alter: 0,
    octave: Math.floor(height / 7),
  };
  return { ...natural, alter: key - pitchKey(natural) };
}

/** Height on the staff in steps, counted so that C4 is 28. */
export const diatonicHeight = (pitch: Pick<Pitch, 'step' | 'octave'>): number =>
  pitch.octave * 7 + STEPS.indexOf(pitch.step);

/** The alteration that a key signature gives to a step. */
export function keyAlter(fifths: number, step: Step): number {
  const order = FIFTHS_STEPS.indexOf(step);
  if (fifths > 0) return order < fifths ? 1 : 0;
  return 6 - order < -fifths ? -1 : 0;
}

/** Quarter tones in the names of MusicXML 4.0 (`accidental-value`), after Tartini and Couper. */
const ALTER_NAMES: Record<number, string> = {
  [-2]: 'flat-flat',
  [-1.5]: 'three-quarters-flat',
  [-1]: 'flat',
  [-0.5]: 'quarter-flat',
  0: 'natural',
  0.5: 'quarter-sharp',
  1: 'sharp',
  1.5: 'three-quarters-sharp',
  2: 'double-sharp',
};

/** The accidental that shows an alteration, in MusicXML's words; undefined for one that has none. */
export const nameOfAlter = (alter: number): string | undefined => ALTER_NAMES[alter];
