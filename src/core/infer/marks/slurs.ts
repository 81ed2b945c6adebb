import { append } from '../../basics/append';
import type { EventId } from '../../model/ids';
import type { Spanner } from '../../model/marks';
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
export function findSlurs(bars: readonly PartBar[], notes: ReadonlyMap<EventId, SketchNote>): Spanner[] {
  const slurs: Spanner[] = [];
  let line: Member[] = [];
  const close = () => {
    if (line.length >= FEWEST) append(slurs, byBar(line).flatMap(slurOver));
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
  return slurs;
}

function byBar(line: readonly Member[]): Chord[][] {
  const groups = new Map<number, Chord[]>();
  for (const { chord, bar } of line) groups.set(bar, [...(groups.get(bar) ?? []), chord]);
  return [...groups.values()];
}

function slurOver(chords: readonly Chord[]): Spanner[] {
  const from = chords[0]?.notes[0];
  const to = chords.at(-1)?.notes[0];
  if (!from || !to || from === to) return [];
  return [{ id: `slur ${from.id}`, kind: 'slur', from: { note: from.id }, to: { note: to.id } }];
}
