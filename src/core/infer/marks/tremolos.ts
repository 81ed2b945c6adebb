import type { SketchNote } from '../../model/sketch';
import { type Moment, QUARTER, type Span } from '../../model/time';

/** One note struck again and again so quickly that it is written as one with strokes across its stem. */
export interface Tremolo {
  from: Moment;
  to: Moment;
  /** As many beams as the single notes would have. */
  strokes: number;
  notes: SketchNote[];
}

/** Values that are rolled, with their strokes: 32nds and 64ths (common practice: slower ones are counted, and written out). */
const STROKES: readonly (readonly [step: Span, strokes: number])[] = [
  [QUARTER / 8, 3],
  [QUARTER / 16, 4],
];
/** So many of them, for so long. */
const FEWEST = 6;
const SHORTEST = QUARTER;

/** The tremolos and rolls among the notes of one staff, key by key. */
export function findTremolos(notes: readonly SketchNote[]): Tremolo[] {
  const byKey = new Map<number, SketchNote[]>();
  for (const note of notes) {
    if (note.grace) continue;
    const known = byKey.get(note.key);
    if (known) known.push(note);
    else byKey.set(note.key, [note]);
  }
  const found: Tremolo[] = [];
  for (const own of byKey.values()) {
    own.sort((a, b) => a.start - b.start);
    for (let first = 0; first < own.length; ) {
      const step = (own[first + 1]?.start ?? 0) - own[first]!.start;
      const strokes = STROKES.find(([each]) => each === step)?.[1];
      let last = first + 1;
      while (last < own.length && own[last]!.start - own[last - 1]!.start === step) last++;
      const to = own[first]!.start + step * (last - first);
      if (strokes && last - first >= FEWEST && to - own[first]!.start >= SHORTEST)
        found.push({ from: own[first]!.start, to, strokes, notes: own.slice(first, last) });
      first = Math.max(first + 1, strokes ? last : first + 1);
    }
  }
  return found.sort((a, b) => a.from - b.from);
}

/** Makes one note of each tremolo; it has all its strokes for sources, and these stay what they are by themselves. */
export function foldTremolos(notes: readonly SketchNote[], tremolos: readonly Tremolo[]): SketchNote[] {
  const heads = new Map<SketchNote, SketchNote>();
  const folded = new Set<SketchNote>();
  for (const { notes: own, to, strokes } of tremolos) {
    const { staccato: _, ...first } = own[0]!;
    const sources = own.flatMap((note) => note.sources);
    heads.set(own[0]!, { ...first, end: to, tremolo: strokes, sources });
    for (const note of own.slice(1)) folded.add(note);
  }
  return notes.flatMap((note) => (folded.has(note) ? [] : [heads.get(note) ?? note]));
}
