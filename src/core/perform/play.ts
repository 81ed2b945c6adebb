import type { EventId } from '../model/ids';
import type { Articulation } from '../model/marks';
import type { Chord, Part, Score } from '../model/score';
import { type Moment, QUARTER } from '../model/time';

/** A note to sound. Moments from the start of the piece; `key` sounding. */
export interface SoundedNote {
  start: Moment;
  end: Moment;
  key: number;
  accent: boolean;
  staccato: boolean;
  /** The played notes that it came from, by their ids. */
  sources: readonly EventId[];
}

/** A grace note lasts a 32nd and takes it from the note before (common practice). */
const GRACE = QUARTER / 8;

/** The notes of a part as they sound: ties joined, grace notes realised, in order of onset. Swing is left to whoever plays them. */
export function soundedNotes(score: Score, part: Part): SoundedNote[] {
  const out: SoundedNote[] = [];
  const held: SoundedNote[] = [];
  part.bars.forEach((bar, index) => {
    const barStart = score.bars[index]!.start;
    for (const line of bar.voices)
      for (const item of line.items) {
        if (item.kind !== 'chord' || item.cue) continue;
        const start = barStart + item.onset;
        const end = start + item.duration;
        (item.graces ?? []).forEach((note, order, all) => {
          const from = Math.max(0, start - (all.length - order) * GRACE);
          out.push({
            start: from,
            end: from + GRACE,
            key: note.key,
            accent: false,
            staccato: false,
            sources: note.sources,
          });
        });
        for (const note of item.notes) {
          const at = note.tieStop
            ? held.findIndex((each) => each.key === note.key && each.end === start)
            : -1;
          const sounded = held[at] ?? {
            start,
            end,
            key: note.key,
            accent: hasArticulation(item, 'accent'),
            staccato: hasArticulation(item, 'staccato'),
            sources: note.sources,
          };
          sounded.end = end;
          if (at >= 0) held.splice(at, 1);
          else out.push(sounded);
          if (note.tieStart) held.push(sounded);
        }
      }
  });
  return out.sort((a, b) => a.start - b.start || a.key - b.key);
}

const hasArticulation = ({ marks }: Chord, name: Articulation): boolean =>
  marks?.some((mark) => mark.kind === 'articulation' && mark.name === name) ?? false;
