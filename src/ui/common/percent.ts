/** How much of some work is done, in whole percent: all of it at its end only. */
export const percentDone = (share: number): number =>
  share >= 1 ? 100 : Math.min(99, Math.floor(100 * share));

/** A share as people read it: never rounded up to all of it. */
export const percent = (share: number): string =>
  share >= 1 ? '100 %' : `${(Math.floor(share * 1000) / 10).toFixed(1)} %`;
