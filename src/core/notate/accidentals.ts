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
        delete note.courtesy;
        if (alter === known || (note.tieStop && chord.onset === 0)) continue;
        standing.set(place, alter);
        const name = nameOfAlter(alter);
        if (name) note.accidental = name;
      }
  }
}

/**
 * The accidental by the sign of an ornament whose neighbour lies so many semitones
 * above its main note, or below it where negative; null where the signature says it.
 *
 * @param fifths the part's written key signature
 */
export function neighbourAccidental(main: Pitch, semitones: number, fifths: number): string | null {
  const height = diatonicHeight(main) + Math.sign(semitones);
  const step = STEPS[height % STEPS.length]!;
  const plain: Pitch = { step, alter: 0, octave: Math.floor(height / STEPS.length) };
  const alter = pitchKey(main) + semitones - pitchKey(plain);
  return alter === keyAlter(fifths, step) ? null : (nameOfAlter(alter) ?? null);
}

/**
 * Adds the accidentals that only remind: before the first note on a line or
 * space whose accidental of the bar before no longer holds, and before a note
 * whose letter was altered in another octave of the bar (common practice of
 * engraving handbooks, from memory; grace notes and notes that are tied over ask for none).
 *
 * @param bars of a part with the accidentals that must stand
 * @param fifthsIn the part's written key signature in a bar
 */
export function addCourtesies(bars: readonly PartBar[], fifthsIn: (bar: number) => number): void {
  /** What last stood on each line or space of each staff in the bar before, where that is not its signature's. */
  let before = new Map<string, number>();
  bars.forEach((bar, index) => {
    const fifths = fifthsIn(index);
    const now = new Map<string, number>();
    const altered = new Map<string, number>();
    const reminded = new Set<string>();
    const chords = bar.voices
      .flatMap(({ staff, items }) =>
        items.flatMap((item) => (item.kind === 'chord' ? [{ staff, chord: item }] : [])),
      )
      .sort((a, b) => a.chord.onset - b.chord.onset);
    for (const { staff, chord } of chords)
      for (const note of chord.notes) {
        const { step, alter } = note.pitch;
        const place = `${staff} ${diatonicHeight(note.pitch)}`;
        const letter = `${staff} ${step}`;
        const isTied = note.tieStop === true;
        const last = reminded.has(place) ? undefined : before.get(place);
        const elsewhere = altered.get(letter);
        const differs = (known: number | undefined) => known !== undefined && known !== alter;
        if (!note.accidental && !isTied && (differs(last) || differs(elsewhere))) {
          const name = nameOfAlter(alter);
          if (name) Object.assign(note, { accidental: name, courtesy: true as const });
        }
        reminded.add(place);
        altered.set(letter, alter);
        if (alter !== keyAlter(fifths, step)) now.set(place, alter);
        else now.delete(place);
      }
    before = now;
  });
}
