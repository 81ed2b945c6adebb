import { wordsOf } from '../instruments/name-words';
import { recogniseInstrument } from '../instruments/recognise';
import type { StrandId } from '../model/ids';
import type { Strand } from '../model/performance';

/** How names say which hand plays (common practice, in the languages that tracks are named in). */
const RIGHT = /\b(r h|rh|right( hand)?|m d|md|mano destra|destra|main droite|rechte hand|rechts|upper)\b/;
const LEFT =
  /\b(l h|lh|left( hand)?|m s|ms|m g|mg|mano sinistra|sinistra|main gauche|linke hand|links|lower)\b/;

interface Hand {
  strand: Strand;
  isRight: boolean;
  /** What is left of the name without it. */
  base: string;
}

function handOf(strand: Strand): Hand | null {
  const name = wordsOf(strand.name).join(' ');
  const isRight = RIGHT.test(name);
  if (isRight === LEFT.test(name)) return null;
  return {
    strand,
    isRight,
    base: name
      .replace(isRight ? RIGHT : LEFT, '')
      .replace(/\s+/g, ' ')
      .trim(),
  };
}

/**
 * Strands that are the left hand of another one: both are of one keyboard or harp by name or
 * program, and are called the same but for the hand. By the left hand, the strand of the right.
 */
export function leftHands(strands: readonly Strand[]): ReadonlyMap<StrandId, StrandId> {
  const byBase = new Map<string, Hand[]>();
  for (const strand of strands) {
    const hand = handOf(strand);
    if (!hand) continue;
    const { instrument } = recogniseInstrument(strand);
    if (instrument.family !== 'keyboard' && instrument.id !== 'harp') continue;
    const of = `${instrument.id} ${hand.base}`;
    byBase.set(of, [...(byBase.get(of) ?? []), hand]);
  }
  const found = new Map<StrandId, StrandId>();
  for (const hands of byBase.values()) {
    const [right, ...others] = hands.filter(({ isRight }) => isRight);
    const [left, ...more] = hands.filter(({ isRight }) => !isRight);
    if (right && left && others.length + more.length === 0) found.set(left.strand.id, right.strand.id);
  }
  return found;
}
