import { describe, expect, it } from 'vitest';
import type { Pitch } from '../model/pitch';
import type { Note, PartBar } from '../model/score';
import { QUARTER } from '../model/time';
import { addCourtesies, showAccidentals } from './accidentals';

/** Bars of quarter notes, such as "F#4 G4 | F4"; a tilde ties a note to the one before. */
function barsOf(text: string): PartBar[] {
  let count = 0;
  return text.split('|').map((bar) => ({
    voices: [
      {
        voice: 1,
        staff: 1,
        items: bar
          .trim()
          .split(' ')
          .map((name, at) => {
            const [, tie, step, signs, octave] = /^(~?)([A-G])([#b]*)(\d)$/.exec(name)!;
            const alter = signs === '' ? 0 : signs!.startsWith('#') ? signs!.length : -signs!.length;
            const pitch: Pitch = { step: step as Pitch['step'], alter, octave: Number(octave) };
            const note: Note = {
              id: `n${count++}`,
              key: 60,
              pitch,
              sources: [],
              ...(tie && { tieStop: true as const }),
            };
            return {
              kind: 'chord' as const,
              onset: at * QUARTER,
              duration: QUARTER,
              value: { type: 'quarter' as const, dots: 0 },
              notes: [note],
            };
          }),
      },
    ],
  }));
}

/** What stands before each note; reminders in parentheses. */
function shown(text: string, fifths = 0): string {
  const bars = barsOf(text);
  for (const bar of bars) showAccidentals(bar, fifths);
  addCourtesies(bars, () => fifths);
  return bars
    .map(({ voices }) =>
      voices[0]!.items
        .flatMap((item) => (item.kind === 'chord' ? item.notes : []))
        .map(({ accidental, courtesy }) => (accidental ? (courtesy ? `(${accidental})` : accidental) : '-'))
        .join(' '),
    )
    .join(' | ');
}

// Common practice of engraving handbooks.
describe('accidentals that remind', () => {
  it('stand in the bar after one in which the line was altered, before its first note only', () => {
    expect(shown('F#4 G4 | F4 F4')).toBe('sharp - | (natural) -');
    expect(shown('Bb4 A4 | B4 A4', -1)).toBe('- - | natural -');
    expect(shown('B4 A4 | Bb4 A4', -1)).toBe('natural - | (flat) -');
    expect(shown('F#4 G4 | G4 A4 | F4 G4')).toBe('sharp - | - - | - -');
  });

  it('stand before the letter in another octave of the bar', () => {
    expect(shown('F#4 F5')).toBe('sharp (natural)');
    expect(shown('F4 F#5', 1)).toBe('natural (sharp)');
    expect(shown('F#4 F#5', 1)).toBe('- -');
  });

  it('do not stand where an accidental must, where it was taken back, and before a tied note only after it', () => {
    expect(shown('F#4 G4 | F#4 G4')).toBe('sharp - | sharp -');
    expect(shown('F#4 F4 | F4 G4')).toBe('sharp natural | - -');
    expect(shown('F#4 G4 | ~F#4 F4')).toBe('sharp - | - (natural)');
  });
});
