import { diatonicHeight, keyAlter, nameOfAlter, type Pitch, pitchKey, STEPS } from '../model/pitch';
import type { Chord, Note, PartBar, VoiceLine } from '../model/score';
import type { Moment } from '../model/time';

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
    const show = (note: Note, onset: Moment) => {
      const { step, alter } = note.pitch;
      const place = diatonicHeight(note.pitch);
      const known = standing.get(place) ?? keyAlter(fifths, step);
      if (note.accidental) delete note.accidental;
      if (note.courtesy) delete note.courtesy;
      if (alter === known || (note.tieStop && onset === 0)) return;
      standing.set(place, alter);
      const name = nameOfAlter(alter);
      if (name) note.accidental = name;
    };
    for (const { graces, notes, onset } of chordsOf(bar.voices.filter((line) => line.staff === staff))) {
      for (const note of graces ?? []) show(note, onset);
      for (const note of notes) show(note, onset);
    }
  }
}

/** The chords of some voices in time. */
function chordsOf(voices: readonly VoiceLine[]): Chord[] {
  const chords: Chord[] = [];
  for (const { items } of voices) for (const item of items) if (item.kind === 'chord') chords.push(item);
  return voices.length > 1 ? chords.sort((a, b) => a.onset - b.onset) : chords;
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
  let before = new Map<number, number>();
  bars.forEach((bar, index) => {
    const fifths = fifthsIn(index);
    const now = new Map<number, number>();
    const altered = new Map<number, number>();
    const reminded = new Set<number>();
    const look = (note: Note, staff: number) => {
      const { step, alter } = note.pitch;
      const place = staff * PLACES + diatonicHeight(note.pitch);
      const letter = staff * PLACES + step.charCodeAt(0);
      const last = reminded.has(place) ? undefined : before.get(place);
      const elsewhere = altered.get(letter);
      const differs = (known: number | undefined) => known !== undefined && known !== alter;
      if (!note.accidental && note.tieStop !== true && (differs(last) || differs(elsewhere))) {
        const name = nameOfAlter(alter);
        if (name) Object.assign(note, { accidental: name, courtesy: true as const });
      }
      reminded.add(place);
      altered.set(letter, alter);
      if (alter !== keyAlter(fifths, step)) now.set(place, alter);
      else now.delete(place);
    };
    const staffOf = new Map<Chord, number>();
    if (bar.voices.length > 1)
      for (const { staff, items } of bar.voices)
        for (const item of items) if (item.kind === 'chord') staffOf.set(item, staff);
    const [first] = bar.voices;
    for (const chord of chordsOf(bar.voices))
      for (const note of chord.notes) look(note, staffOf.get(chord) ?? first?.staff ?? 1);
    before = now;
  });
}

/** More than there are lines and spaces, or letters. */
const PLACES = 1000;
