import {
  diatonicHeight,
  type Interval,
  keyAlter,
  movedBy,
  type Pitch,
  pitchAt,
  pitchKey,
  STEPS,
  type Step,
} from '../model/pitch';

/** What people do to the pitch of one written note. */
export const PITCH_EDITS = [
  'step-up',
  'step-down',
  'raise',
  'lower',
  'octave-up',
  'octave-down',
  'respell',
] as const;
export type PitchEdit = (typeof PITCH_EDITS)[number];

const STEPS_IN_OCTAVE = STEPS.length;

/**
 * How far an edit moves a written pitch: to the next step of the signature,
 * by a semitone on its own line or space, by an octave, or not at all but onto
 * the neighbour that sounds the same.
 *
 * @param fifths of the signature as written
 */
export function intervalOf(edit: PitchEdit, pitch: Pitch, fifths: number): Interval {
  switch (edit) {
    case 'step-up':
      return intervalBy(1, pitch, fifths);
    case 'step-down':
      return intervalBy(-1, pitch, fifths);
    case 'raise':
      return { diatonic: 0, chromatic: 1 };
    case 'lower':
      return { diatonic: 0, chromatic: -1 };
    case 'octave-up':
      return { diatonic: STEPS_IN_OCTAVE, chromatic: 12 };
    case 'octave-down':
      return { diatonic: -STEPS_IN_OCTAVE, chromatic: -12 };
    case 'respell': {
      // A sharp goes up to a flat, a flat down to a sharp; what is neither, where fewer signs are.
      const [up, down] = [1, -1].map((diatonic) => movedBy(pitch, { diatonic, chromatic: 0 })) as [
        Pitch,
        Pitch,
      ];
      const goesUp = pitch.alter > 0 || (pitch.alter === 0 && Math.abs(up.alter) <= Math.abs(down.alter));
      return { diatonic: goesUp ? 1 : -1, chromatic: 0 };
    }
  }
}

/** From a written pitch to one so many semitones higher, spelled as near to the signature as can be. */
export function bySemitones(semitones: number, pitch: Pitch, fifths: number): Interval {
  const key = pitchKey(pitch) + semitones;
  // Of the twelve neighbours of a signature on the line of fifths each key has one.
  const lowest = fifths - 4;
  const place = lowest + ((((key * 7 - lowest) % 12) + 12) % 12);
  return { diatonic: diatonicHeight(pitchAt(place, key)) - diatonicHeight(pitch), chromatic: semitones };
}

/** Two moves in turn. */
export const after = (first: Interval, second: Interval): Interval => ({
  diatonic: first.diatonic + second.diatonic,
  chromatic: first.chromatic + second.chromatic,
});

/**
 * From a written pitch to the nearest note of a letter, up where two are as near.
 *
 * @param alter of that note; as the signature has it where absent
 */
export function toLetter(letter: Step, pitch: Pitch, fifths: number, alter?: number): Interval {
  const apart = STEPS.indexOf(letter) - STEPS.indexOf(pitch.step);
  const diatonic = ((apart + 3 + STEPS_IN_OCTAVE) % STEPS_IN_OCTAVE) - 3;
  return intervalBy(diatonic, pitch, fifths, alter);
}

/** The same to the nearest one above. */
export function toLetterAbove(letter: Step, pitch: Pitch, fifths: number): Interval {
  const apart = STEPS.indexOf(letter) - STEPS.indexOf(pitch.step);
  const diatonic = ((apart + STEPS_IN_OCTAVE - 1) % STEPS_IN_OCTAVE) + 1;
  return intervalBy(diatonic, pitch, fifths);
}

/** So many steps of a signature, or to an alteration that it does not have. */
function intervalBy(diatonic: number, pitch: Pitch, fifths: number, alter?: number): Interval {
  const height = diatonicHeight(pitch) + diatonic;
  const step = STEPS[((height % STEPS_IN_OCTAVE) + STEPS_IN_OCTAVE) % STEPS_IN_OCTAVE]!;
  const next: Pitch = {
    step,
    alter: alter ?? keyAlter(fifths, step),
    octave: Math.floor(height / STEPS_IN_OCTAVE),
  };
  return { diatonic, chromatic: pitchKey(next) - pitchKey(pitch) };
}
