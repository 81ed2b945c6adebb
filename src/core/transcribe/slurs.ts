import type { Chord, PartBar } from '../score/score';
import type { SketchNote } from './sketch';

/** A slur needs this many notes: two that touch may be chance, and a wrong mark costs more than a missing one. */
const FEWEST = 3;

/**
 * Notes of a line that run into each other were played legato: from the first
 * of such a run to the note that it runs into goes a slur. Rests end a run.
 */
export function writeSlurs(bars: readonly PartBar[], notes: ReadonlyMap<string, SketchNote>): void {
  let run: Chord[] = [];
  const close = () => {
    if (run.length >= FEWEST) {
      run[0]!.slurStart = true;
      run.at(-1)!.slurStop = true;
    }
    run = [];
  };
  for (const bar of bars)
    for (const item of bar.voices[0]?.items ?? []) {
      if (item.kind === 'rest') {
        close();
        continue;
      }
      if (item.notes.some((note) => note.tieStop)) continue;
      run.push(item);
      const runsOn = item.notes.every((note) => note.sources.some((id) => notes.get(id)?.legato));
      if (!runsOn) close();
    }
  close();
}
