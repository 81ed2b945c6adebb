import type { Moment, Span } from './time';

/**
 * Music that is played again, in bars as they are played (indices): so many passes
 * of one length from `from` on, then, where the last one ends otherwise, what all
 * passes share once more and an ending of its own.
 */
export interface Repeat {
  from: number;
  /** Bars of one pass, with its ending. */
  length: number;
  /** How often all of it is played. */
  passes: number;
  /** Bars at its end that the last time has otherwise; 0 where no time does. */
  ending: number;
  /** Bars of the ending of the last time; 0 where there is none. */
  lastEnding: number;
}

/** The bar after the last one that a repeat is about. */
export const repeatEnd = ({ from, length, passes, ending, lastEnding }: Repeat): number =>
  from + length * passes + (lastEnding > 0 ? length - ending + lastEnding : 0);

/** The bars at which its passes and endings begin, and the one after it. */
export function sectionEdges(repeat: Repeat): number[] {
  const { from, length, passes, ending, lastEnding } = repeat;
  const edges: number[] = [repeatEnd(repeat)];
  for (let pass = 0; pass <= passes; pass++) {
    const begins = from + pass * length;
    if (pass === passes && lastEnding === 0) break;
    edges.push(begins);
    if (lastEnding > 0) edges.push(begins + length - ending);
  }
  return [...new Set(edges)].sort((a, b) => a - b);
}

/** How many bars need not be written. */
export const barsSpared = ({ length, passes, ending, lastEnding }: Repeat): number =>
  length * (passes - 1) + (lastEnding > 0 ? length - ending : 0);

/** The bars that are left when sections are folded, in order, as indices of the bars that were played. */
export function foldedBars(count: number, repeats: readonly Repeat[]): number[] {
  const gone = new Uint8Array(count);
  for (const repeat of repeats)
    gone.fill(1, repeat.from + repeat.length, repeatEnd(repeat) - repeat.lastEnding);
  return Array.from({ length: count }, (_, bar) => bar).filter((bar) => !gone[bar]);
}

/** The same as they are played without repeats, with the last of endings. */
export function straightBars(count: number, repeats: readonly Repeat[]): number[] {
  const first = new Uint8Array(count);
  for (const { from, length, ending, lastEnding } of repeats)
    if (lastEnding > 0) first.fill(1, from + length - ending, from + length);
  return foldedBars(count, repeats).filter((bar) => !first[bar]);
}

/** Music that comes back later and goes on to the end, or leaves for a coda. */
export interface Return {
  /** The bar (as played) at which it comes back. */
  at: number;
  /** The bar (as played, written) to which it goes back; 0 for the beginning. */
  to: number;
  /** So many bars are the same. */
  length: number;
  /** The last of them, where it is written. */
  last: number;
  /** Nothing follows: the piece ends there. */
  fine: boolean;
}

/** For each bar that is played the one (as played) in which it is written. */
export function playedAs(count: number, repeats: readonly Repeat[], goesBack: Return | null): number[] {
  const as = Array.from({ length: count }, (_, bar) => bar);
  for (const repeat of repeats)
    for (let bar = repeat.from + repeat.length; bar < repeatEnd(repeat) - repeat.lastEnding; bar++)
      as[bar] = repeat.from + ((bar - repeat.from) % repeat.length);
  if (!goesBack) return as;
  const way = straightBars(goesBack.at, repeats);
  const start = way.indexOf(goesBack.to);
  for (let at = 0; at < goesBack.length; at++) as[goesBack.at + at] = way[start + at]!;
  return as;
}

/** A repeat or a return, with what is said of it. */
export type FormOffer = ({ repeat: Repeat; goesBack?: never } | { repeat?: never; goesBack: Return }) & {
  /**
   * By how much sections begin before bar lines, each with an upbeat: then bars are counted from upbeat to upbeat.
   * 0 where they begin on bar lines.
   */
  upbeat: Span;
  /** Where a repeat begins, or where what was played before comes back. */
  at: Moment;
  /** The score that is handed over has it as signs. */
  folded: boolean;
};
