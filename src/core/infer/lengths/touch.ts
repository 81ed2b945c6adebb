/**
 * Passages that are played short: a hidden Markov model of two states (Rabiner, "A Tutorial on
 * Hidden Markov Models", 1989), held as usual and short, over the attacks of a body, its best path
 * found by dynamic programming (Viterbi 1967). Staccato is a matter of passages, not of single
 * notes: one note that is let go early has a rest after it; twelve in a row, each let go at another
 * share of its value, have none.
 */

/** What an attack costs under each way of holding, in nats; equal where it tells nothing. */
export interface Touch {
  usual: number;
  short: number;
}

/** Costs in nats of beginning a short passage and of ending one. */
export interface Changes {
  begin: number;
  end: number;
}

/** For each attack whether it lies in a passage that is played short. */
export function shortPassages(touches: readonly Touch[], { begin, end }: Changes): boolean[] {
  let usual = 0;
  let short = begin;
  /** Whether the best way to each state comes from the short one. */
  const fromShort: { usual: boolean; short: boolean }[] = [];
  for (const touch of touches) {
    const ends = short + end < usual;
    const goes = short <= usual + begin;
    fromShort.push({ usual: ends, short: goes });
    [usual, short] = [
      (ends ? short + end : usual) + touch.usual,
      (goes ? short : usual + begin) + touch.short,
    ];
  }
  const passages = new Array<boolean>(touches.length).fill(false);
  let isShort = short + end < usual;
  for (let at = touches.length - 1; at >= 0; at--) {
    passages[at] = isShort;
    const from = fromShort[at];
    isShort = from !== undefined && (isShort ? from.short : from.usual);
  }
  return passages;
}
