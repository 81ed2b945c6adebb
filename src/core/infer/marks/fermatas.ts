import { lastAtOrBefore } from '../../basics/search';
import type { Moment } from '../../model/time';

/** A moment at which the music waits. */
export interface Hold {
  at: Moment;
  /** Where it goes on. */
  to: Moment;
  /** How many times as long it takes. */
  times: number;
}

/** A tempo from a moment of the piece on; quarter notes a minute. */
export interface PaceAt {
  at: Moment;
  quartersPerMinute: number;
}

/** Under a fermata the tempo is slower by so much at least and at most (common practice: about half). */
const SLOWER = [0.2, 0.75] as const;
/** It goes on as it was, to this share of the tempo. */
const AS_BEFORE = 0.02;

/**
 * Fermatas that tempos tell: a tempo that is far slower for what is struck at one moment alone, and then as it was
 * (as programs play a fermata), or to the end of the piece.
 *
 * @param starts where anything is struck, ascending
 */
export function findFermatas(tempos: readonly PaceAt[], starts: ArrayLike<Moment>, end: Moment): Hold[] {
  return tempos.flatMap(({ at, quartersPerMinute }, index): Hold[] => {
    const before = tempos[index - 1];
    const after = tempos[index + 1];
    if (!before) return [];
    const share = quartersPerMinute / before.quartersPerMinute;
    if (share < SLOWER[0] || share > SLOWER[1]) return [];
    if (after && Math.abs(after.quartersPerMinute / before.quartersPerMinute - 1) > AS_BEFORE) return [];
    const to = after?.at ?? end;
    const struck = lastAtOrBefore(starts, at, (start) => start);
    const next = starts[struck + 1];
    // One alone is held: what goes on within is slower music.
    return starts[struck] === at && (next === undefined || next >= to) ? [{ at, to, times: 1 / share }] : [];
  });
}
