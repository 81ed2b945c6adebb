import type { Articulation, ChordMark } from '../model/marks';
import type { Chord } from '../model/score';

/** The share of its written value that a note is held (common practice of textbooks: half, a quarter, three quarters). */
const SHARES: Partial<Record<Articulation, number>> = {
  staccato: 0.5,
  staccatissimo: 0.25,
  spiccato: 0.4,
  'detached-legato': 0.75,
};

/** What is left of a note before a breath, and before a cut (common practice: they take from the note before). */
const BEFORE: Partial<Record<ChordMark['kind'], number>> = { breath: 0.75, caesura: 0.5 };

/** The share of its value that a chord is held, by its articulations: the shortest, and tenuto over all. */
export function heldShare({ marks }: Chord): number {
  let share = 1;
  for (const mark of marks ?? []) {
    share = Math.min(share, BEFORE[mark.kind] ?? 1);
    if (mark.kind !== 'articulation') continue;
    if (mark.name === 'tenuto') return marks?.some(isStaccato) ? SHARES['detached-legato']! : 1;
    share = Math.min(share, SHARES[mark.name] ?? 1);
  }
  return share;
}

const isStaccato = (mark: { kind: string; name?: string }): boolean =>
  mark.kind === 'articulation' && mark.name === 'staccato';
