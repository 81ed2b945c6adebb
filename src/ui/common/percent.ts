/** How much of some work is done, in whole percent: all of it at its end only. */
export const percentDone = (share: number): number =>
  share >= 1 ? 100 : Math.min(99, Math.floor(100 * share));
