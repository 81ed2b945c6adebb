import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { movedBy, type Pitch, pitchKey, STEPS } from '../model/pitch';
import { intervalOf, type PitchEdit, toLetter, toLetterAbove } from './pitches';

const after = (edit: PitchEdit, pitch: Pitch, fifths = 0): string => {
  const { step, alter, octave } = movedBy(pitch, intervalOf(edit, pitch, fifths));
  return `${step}${alter > 0 ? '#'.repeat(alter) : 'b'.repeat(-alter)}${octave}`;
};
const at = (step: Pitch['step'], alter: number, octave: number): Pitch => ({ step, alter, octave });

describe('the pitch of a note', () => {
  it.each<[PitchEdit, Pitch, number, string]>([
    ['step-up', at('E', 0, 4), 1, 'F#4'],
    ['step-up', at('B', 0, 4), 0, 'C5'],
    ['step-down', at('C', 0, 4), -2, 'Bb3'],
    ['step-up', at('F', 1, 4), 0, 'G4'],
    ['raise', at('G', 0, 4), 0, 'G#4'],
    ['lower', at('B', 0, 4), 0, 'Bb4'],
    ['octave-down', at('D', -1, 5), 0, 'Db4'],
    ['respell', at('C', 1, 4), 0, 'Db4'],
    ['respell', at('B', -1, 4), 0, 'A#4'],
    ['respell', at('E', 0, 4), 0, 'Fb4'],
  ])('%s', (edit, pitch, fifths, expected) => {
    expect(after(edit, pitch, fifths)).toBe(expected);
  });

  it('sounds the same however it is spelled, and steps of the key keep to it', () => {
    const pitches = fc.record({
      step: fc.constantFrom(...STEPS),
      alter: fc.integer({ min: -1, max: 1 }),
      octave: fc.integer({ min: 2, max: 6 }),
    });
    fc.assert(
      fc.property(pitches, fc.integer({ min: -6, max: 6 }), (pitch, fifths) => {
        const spelled = movedBy(pitch, intervalOf('respell', pitch, fifths));
        expect(pitchKey(spelled)).toBe(pitchKey(pitch));
        expect(spelled.step).not.toBe(pitch.step);
        const up = movedBy(pitch, intervalOf('step-up', pitch, fifths));
        const back = movedBy(up, intervalOf('step-down', up, fifths));
        expect([back.step, back.octave]).toEqual([pitch.step, pitch.octave]);
      }),
    );
  });

  it.each<[Pitch, (typeof STEPS)[number], number, string, string]>([
    [at('C', 0, 5), 'B', 0, 'B4', 'B5'],
    [at('C', 0, 5), 'F', 1, 'F#5', 'F#5'],
    [at('C', 0, 5), 'G', 0, 'G4', 'G5'],
    [at('B', -1, 4), 'E', -2, 'Eb5', 'Eb5'],
    [at('A', 0, 4), 'A', 0, 'A4', 'A5'],
  ])('by its letter: %o to %s', (pitch, letter, fifths, nearest, above) => {
    const name = ({ step, alter, octave }: Pitch) =>
      `${step}${alter > 0 ? '#'.repeat(alter) : 'b'.repeat(-alter)}${octave}`;
    expect(name(movedBy(pitch, toLetter(letter, pitch, fifths)))).toBe(nearest);
    expect(name(movedBy(pitch, toLetterAbove(letter, pitch, fifths)))).toBe(above);
  });
});
