import { lastAtOrBefore } from '../../basics/search';
import type { Strand } from '../../model/performance';
import { PERCUSSION_CHANNEL } from '../../model/performance';

/**
 * What speaks for a strong place at each of some moments: what is struck
 * there, how long it is held, whether the bass moves and the harmony changes
 * (the preference rules of Lerdahl and Jackendoff 1983).
 *
 * @param places ticks, ascending; a note counts for the nearest, if that is within half a step
 * @param step between two places, in ticks
 */
export function accentsAt(strands: readonly Strand[], places: readonly number[], step: number): number[] {
  const size = places.length;
  const struck = new Float64Array(size);
  const lowest = new Float64Array(size).fill(128);
  const chroma = Array.from({ length: size }, () => new Float64Array(12));
  for (const strand of strands) {
    const isDrum = strand.channel === PERCUSSION_CHANNEL;
    for (const note of strand.notes) {
      const at = Math.max(
        0,
        lastAtOrBefore(places, note.on + step / 2, (place) => place),
      );
      if (size === 0 || Math.abs(places[at]! - note.on) > step / 2) continue;
      const held = Math.min(4, (note.off - note.on) / step);
      const low = isDrum ? 0 : Math.max(0, 60 - note.key) / 24;
      const weight = Math.sqrt(note.velocity / 127) * (0.4 + 0.3 * held + 0.3 * low);
      // A chord is one accent; further notes add little to its strongest.
      struck[at] = Math.max(struck[at]!, weight) + 0.25 * Math.min(struck[at]!, weight);
      if (isDrum) continue;
      lowest[at] = Math.min(lowest[at]!, note.key);
      for (let each = at; each < Math.min(size, at + Math.max(1, Math.round(held))); each++)
        chroma[each]![note.key % 12]! += 1;
    }
  }
  let bass = 128;
  let sounding = 128;
  return Array.from(struck, (weight, at) => {
    const moves = lowest[at]! < 128 && lowest[at]! <= bass && lowest[at] !== sounding;
    if (moves || lowest[at]! < bass) sounding = lowest[at]!;
    // What sounded lowest fades: after a while a higher note may be the bass.
    bass = Math.min(bass + 1, lowest[at]! + 4);
    const change = at === 0 ? 0 : distance(chroma[at - 1]!, chroma[at]!);
    return Math.log1p(weight) + (moves ? 0.4 : 0) + 0.6 * change;
  });
}

/** How unlike two sets of pitch classes are: 0 equal, 1 nothing in common. */
function distance(a: Float64Array, b: Float64Array): number {
  let both = 0;
  let ones = 0;
  let others = 0;
  for (let at = 0; at < 12; at++) {
    both += a[at]! * b[at]!;
    ones += a[at]! ** 2;
    others += b[at]! ** 2;
  }
  return ones === 0 || others === 0 ? 0 : 1 - both / Math.sqrt(ones * others);
}
