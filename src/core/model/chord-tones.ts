import type { ChordSymbol, Root } from './marks';
import { type Interval, movedBy, type Pitch } from './pitch';

const third = { minor: { diatonic: 2, chromatic: 3 }, major: { diatonic: 2, chromatic: 4 } };
const fourth = { diatonic: 3, chromatic: 5 };
const fifth = {
  diminished: { diatonic: 4, chromatic: 6 },
  perfect: { diatonic: 4, chromatic: 7 },
  augmented: { diatonic: 4, chromatic: 8 },
};
const sixth = { diatonic: 5, chromatic: 9 };
const seventh = {
  diminished: { diatonic: 6, chromatic: 9 },
  minor: { diatonic: 6, chromatic: 10 },
  major: { diatonic: 6, chromatic: 11 },
};
const second = { diatonic: 1, chromatic: 2 };
const ninth = { diatonic: 8, chromatic: 14 };
const eleventh = { diatonic: 10, chromatic: 17 };
const thirteenth = { diatonic: 12, chromatic: 21 };
const unison = { diatonic: 0, chromatic: 0 };

const MAJOR = [unison, third.major, fifth.perfect];
const MINOR = [unison, third.minor, fifth.perfect];
const DOMINANT = [...MAJOR, seventh.minor];
const MAJOR_SEVENTH = [...MAJOR, seventh.major];
const MINOR_SEVENTH = [...MINOR, seventh.minor];

/** The tones of each kind of chord over its root (MusicXML 4.0, `kind-value`). */
const TONES: Readonly<Record<string, readonly Interval[]>> = {
  major: MAJOR,
  minor: MINOR,
  augmented: [unison, third.major, fifth.augmented],
  diminished: [unison, third.minor, fifth.diminished],
  dominant: DOMINANT,
  'major-seventh': MAJOR_SEVENTH,
  'minor-seventh': MINOR_SEVENTH,
  'diminished-seventh': [unison, third.minor, fifth.diminished, seventh.diminished],
  'augmented-seventh': [unison, third.major, fifth.augmented, seventh.minor],
  'half-diminished': [unison, third.minor, fifth.diminished, seventh.minor],
  'major-minor': [...MINOR, seventh.major],
  'major-sixth': [...MAJOR, sixth],
  'minor-sixth': [...MINOR, sixth],
  'dominant-ninth': [...DOMINANT, ninth],
  'major-ninth': [...MAJOR_SEVENTH, ninth],
  'minor-ninth': [...MINOR_SEVENTH, ninth],
  'dominant-11th': [...DOMINANT, ninth, eleventh],
  'major-11th': [...MAJOR_SEVENTH, ninth, eleventh],
  'minor-11th': [...MINOR_SEVENTH, ninth, eleventh],
  'dominant-13th': [...DOMINANT, ninth, eleventh, thirteenth],
  'major-13th': [...MAJOR_SEVENTH, ninth, eleventh, thirteenth],
  'minor-13th': [...MINOR_SEVENTH, ninth, eleventh, thirteenth],
  'suspended-second': [unison, second, fifth.perfect],
  'suspended-fourth': [unison, fourth, fifth.perfect],
  power: [unison, fifth.perfect],
};

/** The tones of a chord by name, the root first; none for a kind that says nothing of its tones. */
export function chordTones({ root, kind, bass }: Pick<ChordSymbol, 'root' | 'kind' | 'bass'>): Root[] {
  const low: Pitch = { ...root, octave: 4 };
  const tones = (TONES[kind] ?? []).map((interval): Root => {
    const { step, alter } = movedBy(low, interval);
    return { step, alter };
  });
  const isIn = bass && tones.some(({ step, alter }) => step === bass.step && alter === bass.alter);
  return bass && !isIn && tones.length > 0 ? [...tones, bass] : tones;
}

/** The semitones over the root of a kind of chord, within an octave, C being 0. */
export const kindTones = (kind: string): number[] =>
  (TONES[kind] ?? []).map(({ chromatic }) => chromatic % 12);
