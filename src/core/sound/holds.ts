import { lastAtOrBefore } from '../basics/search';

/**
 * Where a reading waits or hurries and the clock of the piece does not: moments of the piece and
 * when they are heard, both in seconds and ascending; in between by straight lines, and evenly
 * after the last.
 */
export interface Holds {
  piece: Float64Array;
  heard: Float64Array;
}

/** When a moment of the piece is heard. Seconds. */
export const heardAt = (holds: Holds | null, seconds: number): number =>
  holds ? between(holds.piece, holds.heard, seconds) : seconds;

/** The moment of the piece that is heard. Seconds. */
export const pieceAt = (holds: Holds | null, seconds: number): number =>
  holds ? between(holds.heard, holds.piece, seconds) : seconds;

function between(from: Float64Array, to: Float64Array, at: number): number {
  const index = Math.max(
    0,
    lastAtOrBefore(from, at, (each) => each),
  );
  const [x = 0, next, y = 0, beyond] = [from[index], from[index + 1], to[index], to[index + 1]];
  if (next === undefined || beyond === undefined || next <= x) return y + at - x;
  return y + ((at - x) * (beyond - y)) / (next - x);
}

/** A stretch of the piece that takes so many times as long as its clock says. Seconds of the piece. */
export interface Stretch {
  from: number;
  to: number;
  times: number;
}

/** @param stretches in order, none over another */
export function holdsOf(stretches: readonly Stretch[]): Holds | null {
  if (stretches.length === 0) return null;
  const piece = [0];
  const heard = [0];
  const go = (to: number, times: number) => {
    const before = piece.at(-1) ?? 0;
    if (to <= before) return;
    heard.push((heard.at(-1) ?? 0) + (to - before) * times);
    piece.push(to);
  };
  for (const { from, to, times } of stretches) {
    go(from, 1);
    go(to, times);
  }
  return { piece: Float64Array.from(piece), heard: Float64Array.from(heard) };
}
