import { lastAtOrBefore } from '../../basics/search';

/** A peak is so wide to either side, in seconds. */
const WIDTH = 0.006;
/** Of lags that come so nearly as often the nearest counts: others may strike on every 16th. */
const AS_OFTEN = 0.9;
/** Lags that are looked for, and in what steps, in seconds. */
const FARTHEST = 0.12;
const BIN = 0.002;

/**
 * The share of attacks that are struck within so much of others, each moved earlier by a lag; seconds, both ascending.
 */
export function shareTogether(
  times: readonly number[],
  others: readonly number[],
  lag: number,
  within: number,
): number {
  if (times.length === 0) return 0;
  let together = 0;
  for (const time of times) {
    const at = lastAtOrBefore(others, time - lag, (each) => each);
    if (
      [others[at], others[at + 1]].some((each) => each !== undefined && Math.abs(each - time + lag) <= within)
    )
      together++;
  }
  return together / times.length;
}

/**
 * How far attacks come after those of others that they are struck with, most
 * often (the peak of the cross-correlogram); negative for before.
 */
export function usualLag(times: readonly number[], others: readonly number[]): number {
  const reach = Math.round(FARTHEST / BIN);
  const counts = new Float64Array(2 * reach + 1);
  for (const time of times) {
    for (
      let at = lastAtOrBefore(others, time + FARTHEST, (each) => each);
      at >= 0 && others[at]! >= time - FARTHEST;
      at--
    ) {
      const bin = Math.round((time - others[at]!) / BIN) + reach;
      if (bin >= 0 && bin < counts.length) counts[bin]!++;
    }
  }
  const width = Math.round(WIDTH / BIN / 2);
  const around = (bin: number) =>
    counts.slice(Math.max(0, bin - width), bin + width + 1).reduce((sum, each) => sum + each, 0);
  const all = [...counts.keys()].map((bin) => ({ lag: (bin - reach) * BIN, count: around(bin) }));
  const most = Math.max(...all.map(({ count }) => count));
  const nearest = all
    .filter(({ count }) => count >= AS_OFTEN * most)
    .reduce((a, b) => (Math.abs(b.lag) < Math.abs(a.lag) ? b : a));
  // Its own peak, of those bins that count nearly as often.
  return all
    .filter(({ lag }) => Math.abs(lag - nearest.lag) <= WIDTH)
    .reduce((a, b) => (b.count > a.count ? b : a)).lag;
}
