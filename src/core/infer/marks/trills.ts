import type { SketchNote } from '../../model/sketch';
import type { Moment } from '../../model/time';

/** Two neighbouring keys struck in turns, so quickly that they are written as one note with a trill. */
export interface Trill {
  from: Moment;
  to: Moment;
  /** The lower of them: the note that is written (common practice). */
  main: SketchNote;
  /** How many semitones the other lies above it. */
  by: 1 | 2;
  notes: SketchNote[];
}

/** From stroke to stroke it takes no longer, and no shorter, in seconds (six to twenty strokes a second; common practice of players). */
const SLOWEST = 0.16;
const QUICKEST = 0.03;
/** So many strokes. */
const FEWEST = 6;
/** The last one may be held, to this many times the usual stroke. */
const HELD = 3;

/** The trills among the notes of one staff, which are played one at a time. @param seconds of a tick */
export function findTrills(notes: readonly SketchNote[], seconds: (tick: number) => number): Trill[] {
  const inOrder = [...notes].sort((a, b) => a.on - b.on || a.key - b.key);
  const times = inOrder.map(({ on }) => seconds(on));
  const taken = new Set<SketchNote>();
  const found: Trill[] = [];
  /** The next note on a key that is struck soon enough after a note; -1 for none. */
  const follow = (index: number, isIt: (key: number) => boolean): number => {
    for (let next = index + 1; next < inOrder.length; next++) {
      const step = times[next]! - times[index]!;
      if (step > SLOWEST) return -1;
      const note = inOrder[next]!;
      // A stroke is one of one trill.
      if (step >= QUICKEST && isIt(note.key) && !taken.has(note)) return next;
    }
    return -1;
  };
  inOrder.forEach((first, index) => {
    if (taken.has(first)) return;
    const isNeighbour = (key: number) => key !== first.key && Math.abs(key - first.key) <= 2;
    const second = follow(index, isNeighbour);
    if (second < 0) return;
    const other = inOrder[second]!.key;
    const chain = [index, second];
    for (;;) {
      const wanted = chain.length % 2 === 0 ? first.key : other;
      const next = follow(chain.at(-1)!, (key) => key === wanted);
      if (next < 0) break;
      chain.push(next);
    }
    if (chain.length < FEWEST) return;
    const own = chain.map((at) => inOrder[at]!);
    const low = Math.min(first.key, other);
    const main = own.find(({ key, grace }) => key === low && !grace);
    const stroke = (times[chain.at(-1)!]! - times[index]!) / (chain.length - 1);
    const last = own.at(-1)!;
    const held = seconds(last.off) - seconds(last.on);
    const starts = own.filter(({ grace }) => !grace).map(({ start }) => start);
    if (!main || starts.length === 0 || held < stroke / HELD) return;
    for (const note of own) taken.add(note);
    found.push({
      from: Math.min(...starts),
      to: Math.max(...own.map(({ end }) => end)),
      main,
      by: Math.abs(first.key - other) as 1 | 2,
      notes: own,
    });
  });
  return found.sort((a, b) => a.from - b.from);
}

/** Makes one note of each trill; it has all its strokes for sources, and these stay what they are by themselves. */
export function foldTrills(notes: readonly SketchNote[], trills: readonly Trill[]): SketchNote[] {
  const folded = new Set(trills.flatMap((trill) => trill.notes));
  const heads = trills.map(({ main, from, to, by, notes: own }): SketchNote => {
    const { staccato: _, legato: __, ...plain } = main;
    return {
      ...plain,
      start: from,
      end: to,
      ornament: { name: 'trill-mark', above: by },
      sources: own.flatMap((note) => note.sources),
    };
  });
  return [...notes.filter((note) => !folded.has(note)), ...heads].sort((a, b) => a.start - b.start);
}
