import type { Attack, SketchNote } from './sketch';

/** A tenth: what a hand spans without trouble, in semitones. */
const HAND_SPAN = 16;
const MIDDLE_C = 60;
/** What one hand can hold is rather not torn between two. */
const TORN = 0.5;
const OCTAVE = 12;

interface Path {
  cost: number;
  left: number;
  right: number;
  split: number;
  back: Path | null;
}

/**
 * Step 7: gives keyboard and harp notes to two staves. For each attack the
 * lowest `split` notes go to the left hand; a search over the whole part
 * weighs hand span, movement of each hand and its side of middle C.
 */
export function splitHands(attacks: readonly Attack[]): void {
  let paths: Path[] = [{ cost: 0, left: 48, right: 72, split: 0, back: null }];
  for (const attack of attacks) {
    const keys = attack.notes.map((note) => note.key);
    const next: Path[] = [];
    for (let split = 0; split <= keys.length; split++) {
      const low = keys.slice(0, split);
      const high = keys.slice(split);
      let best: Path | null = null;
      for (const path of paths) {
        const cost =
          path.cost +
          handCost(low, path.left, -1) +
          handCost(high, path.right, 1) +
          (torn(low, high) ? TORN : 0);
        if (best && best.cost <= cost) continue;
        best = {
          cost,
          left: low.length > 0 ? mean(low) : path.left,
          right: high.length > 0 ? mean(high) : path.right,
          split,
          back: path,
        };
      }
      next.push(best!);
    }
    paths = next;
  }
  let path: Path | null = paths.reduce((a, b) => (b.cost < a.cost ? b : a));
  for (let index = attacks.length - 1; index >= 0 && path; index--) {
    const { split } = path;
    attacks[index]!.notes.forEach((note: SketchNote, at) => {
      note.staff = at < split ? 2 : 1;
    });
    path = path.back;
  }
}

const torn = (low: readonly number[], high: readonly number[]): boolean =>
  low.length > 0 && high.length > 0 && high.at(-1)! - low[0]! <= OCTAVE;

const mean = (keys: readonly number[]): number => keys.reduce((sum, key) => sum + key, 0) / keys.length;

/** @param side 1 for the right hand, which belongs above middle C, −1 for the left */
function handCost(keys: readonly number[], position: number, side: 1 | -1): number {
  if (keys.length === 0) return 0;
  const span = keys.at(-1)! - keys[0]!;
  const centre = mean(keys);
  const wrongSide = Math.max(0, (MIDDLE_C - centre) * side);
  const stretch = Math.max(0, span - HAND_SPAN);
  return stretch * 1.5 + wrongSide * 0.12 + Math.abs(centre - position) * 0.04 + span * 0.06;
}
