import type { Moment } from './time';

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

/** A repeat or a return, with what is said of it. */
export type FormOffer = ({ repeat: Repeat; goesBack?: never } | { repeat?: never; goesBack: Return }) & {
  /** Where a repeat begins, or where what was played before comes back. */
  at: Moment;
  /** The score that is handed over has it as signs. */
  folded: boolean;
};
