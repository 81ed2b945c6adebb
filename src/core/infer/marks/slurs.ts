import type { EventId } from '../../model/ids';
import type { Chord, PartBar } from '../../model/score';
import type { SketchNote } from '../../model/sketch';

/** A line of fewer notes may touch by chance: a wrong mark costs more than a missing one. */
const FEWEST = 3;

interface Member {
  chord: Chord;
  bar: number;
}

/**
 * Notes of a line that run into each other were played legato. Slurs go over
 * them bar by bar, so that none hides the bar lines or leaves no room to
 * breathe (common practice). Rests end a line.
 */
export function writeSlurs(bars: readonly PartBar[], notes: ReadonlyMap<EventId, SketchNote>): void {
  let line: Member[] = [];
  const close = () => {
    if (line.length >= FEWEST) for (const group of byBar(line)) slur(group);
    line = [];
  };
  bars.forEach((bar, index) => {
    for (const item of bar.voices[0]?.items ?? []) {
      if (item.kind === 'rest') {
        close();
        continue;
      }
      if (item.notes.some((note) => note.tieStop)) continue;
      line.push({ chord: item, bar: index });
      const runsOn = item.notes.every((note) => note.sources.some((id) => notes.get(id)?.legato));
      if (!runsOn) close();
    }
  });
  close();
}

function byBar(line: readonly Member[]): Chord[][] {
  const groups = new Map<number, Chord[]>();
  for (const { chord, bar } of line) groups.set(bar, [...(groups.get(bar) ?? []), chord]);
  return [...groups.values()];
}

function slur(chords: readonly Chord[]): void {
  const [first] = chords;
  const last = chords.at(-1);
  if (!first || !last || first === last) return;
  first.slurStart = true;
  last.slurStop = true;
}
