import type { SketchNote } from '../../model/sketch';
import type { Moment } from '../../model/time';

/** A chord that was rolled: how long that took, in seconds, and which way. */
export interface Rolled {
  at: Moment;
  down: boolean;
  seconds: number;
}

/** So many notes, each so much after the one before, in seconds. */
const FEWEST = 3;
const LEAST_STEP = 0.012;
const MOST_STEP = 0.12;
/** Where more than this share of its chords is rolled, that is how the instrument is played. */
const USUAL = 0.6;

/**
 * Chords whose notes came one after another, from the lowest or from the highest.
 *
 * @param secondsAt when a tick of the performance sounds
 */
export function rolledChords(notes: readonly SketchNote[], secondsAt: (tick: number) => number): Rolled[] {
  const chords = new Map<Moment, SketchNote[]>();
  for (const note of notes) {
    if (note.grace) continue;
    const known = chords.get(note.start);
    if (known) known.push(note);
    else chords.set(note.start, [note]);
  }
  let full = 0;
  const rolled: Rolled[] = [];
  for (const [at, chord] of chords) {
    if (chord.length < FEWEST) continue;
    full++;
    const times = chord.toSorted((a, b) => a.key - b.key).map(({ on }) => secondsAt(on));
    const steps = times.slice(1).map((time, index) => time - times[index]!);
    const isRun = (sign: number) =>
      steps.every((step) => sign * step >= LEAST_STEP && sign * step <= MOST_STEP);
    if (isRun(1) || isRun(-1))
      rolled.push({ at, down: isRun(-1), seconds: Math.abs(times.at(-1)! - times[0]!) });
  }
  return rolled.length <= USUAL * full ? rolled.sort((a, b) => a.at - b.at) : [];
}
