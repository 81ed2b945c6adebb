import { lastAtOrBefore } from '../../basics/search';

/** A peak is so wide to either side, in seconds. */
const WIDTH = 0.006;
/** Of lags that come so nearly as often the nearest counts: others may strike on every 16th. */
const AS_OFTEN = 0.9;
/** Lags that are looked for, and in what steps, in seconds. */
const FARTHEST = 0.12;
const BIN = 0.002;

/** All attacks of a piece in order: when, in seconds, and of which voice. */
export interface Attacks {
  seconds: readonly number[];
  voice: Int32Array;
}

/** @param voices when each voice attacks, in seconds */
export function attacksOf(voices: readonly (readonly number[])[]): Attacks {
  const all = voices.flatMap((times, voice) => times.map((seconds) => ({ seconds, voice })));
  all.sort((a, b) => a.seconds - b.seconds);
  return {
    seconds: all.map(({ seconds }) => seconds),
    voice: Int32Array.from(all, ({ voice }) => voice),
  };
}

/** How far before a moment other voices attack (negative: after), within a reach; seconds. */
function* othersNear(
  { seconds, voice }: Attacks,
  own: number,
  time: number,
  reach: number,
): Generator<number> {
  for (let at = lastAtOrBefore(seconds, time + reach, (each) => each); at >= 0; at--) {
    const before = time - seconds[at]!;
    if (before > reach) return;
    if (before >= -reach && voice[at] !== own) yield before;
  }
}

/**
 * The share of a voice's attacks that come within so much of another voice's, each moved earlier by a lag; seconds.
 *
 * @param own number of the voice
 */
export function shareTogether(
  attacks: Attacks,
  own: number,
  times: readonly number[],
  lag: number,
  within: number,
): number {
  if (times.length === 0) return 0;
  const together = times.filter((time) => !othersNear(attacks, own, time - lag, within).next().done);
  return together.length / times.length;
}

/**
 * How far a voice's attacks come after those of others that they are struck
 * with, most often (the peak of the cross-correlogram); negative for before.
 */
export function usualLag(attacks: Attacks, own: number, times: readonly number[]): number {
  const reach = Math.round(FARTHEST / BIN);
  const counts = new Float64Array(2 * reach + 1);
  for (const time of times)
    for (const before of othersNear(attacks, own, time, FARTHEST))
      counts[Math.round(before / BIN) + reach]!++;
  const width = Math.round(WIDTH / BIN / 2);
  const all = [...counts.keys()].map((bin) => ({
    lag: (bin - reach) * BIN,
    count: counts.slice(Math.max(0, bin - width), bin + width + 1).reduce((sum, each) => sum + each, 0),
  }));
  const most = Math.max(...all.map(({ count }) => count));
  const nearest = all
    .filter(({ count }) => count >= AS_OFTEN * most)
    .reduce((a, b) => (Math.abs(b.lag) < Math.abs(a.lag) ? b : a));
  // Its middle: a peak is as wide as the attacks are loose.
  const about = [...counts.keys()].filter((bin) => Math.abs((bin - reach) * BIN - nearest.lag) <= WIDTH);
  const sum = about.reduce((total, bin) => total + counts[bin]!, 0);
  return about.reduce((total, bin) => total + counts[bin]! * (bin - reach) * BIN, 0) / Math.max(1, sum);
}
