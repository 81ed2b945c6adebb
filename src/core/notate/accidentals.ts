import { diatonicHeight, keyAlter, nameOfAlter, type Pitch, pitchKey, STEPS } from '../model/pitch';
import type { PartBar } from '../model/score';

/**
 * Sets the accidentals that must stand in one bar of a part: where a pitch
 * differs from the signature or from what last stood on that line or space of
 * the staff in the bar. A note tied over keeps its accidental silently.
 *
 * @param fifths the part's written key signature
 */
export function showAccidentals(bar: PartBar, fifths: number): void {
  const staves = new Set(bar.voices.map((line) => line.staff));
  for (const staff of staves) {
    const standing = new Map<number, number>();
    const chords = bar.voices
      .filter((line) => line.staff === staff)
      .flatMap((line) => line.items.filter((item) => item.kind === 'chord'))
      .sort((a, b) => a.onset - b.onset);
    for (const chord of chords)
      for (const note of [...(chord.graces ?? []), ...chord.notes]) {
        const { step, alter } = note.pitch;
        const place = diatonicHeight(note.pitch);
        const known = standing.get(place) ?? keyAlter(fifths, step);
        delete note.accidental;
        if (alter === known || (note.tieStop && chord.onset === 0)) continue;
        standing.set(place, alter);
        const name = nameOfAlter(alter);
        if (name) note.accidental = name;
      }
  }
}

/**
 * The accidental by the sign of a trill whose upper note lies so many semitones
 * above its main one; null where the signature says it.
 *
 * @param fifths the part's written key signature
 */
export function upperAccidental(main: Pitch, semitones: number, fifths: number): string | null {
  const index = STEPS.indexOf(main.step) + 1;
  const step = STEPS[index % STEPS.length]!;
  const plain: Pitch = { step, alter: 0, octave: main.octave + (index === STEPS.length ? 1 : 0) };
  const alter = pitchKey(main) + semitones - pitchKey(plain);
  return alter === keyAlter(fifths, step) ? null : (nameOfAlter(alter) ?? null);
}
