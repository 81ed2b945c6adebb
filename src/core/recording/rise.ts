import type { Sound } from './sound';

/** Partials by which a key's own rise is seen: its first is too near those of its neighbours to be told apart so quickly. */
const SEEN = [2, 3, 4, 5, 6];
/** Seconds over which a partial is looked at, twice: shorter sees more of its neighbours, longer blurs the rise. */
const WINDOW = 0.02;
const STEP = 0.004;
/** Seconds before and after a known beginning in which the rise is looked for. */
const BACK = 0.15;
const ON = 0.1;
/** A rise is this many times as strong as what was there before; power. */
const RISEN = 4;
/** It begins where this share of it is reached; power. */
const SHARE = 0.01;

/** How strong the partials of a pitch are from step to step, by power. */
function strengthOf({ samples, rate }: Sound, hertz: number, from: number, to: number): Float64Array {
  const half = Math.round((WINDOW * rate) / 2);
  const first = Math.max(0, Math.round(from * rate) - 2 * half);
  const last = Math.min(samples.length, Math.round(to * rate) + 2 * half);
  const strength = new Float64Array(Math.max(0, Math.floor((to - from) / STEP)));
  for (const partial of SEEN) {
    const turn = (2 * Math.PI * hertz * partial) / rate;
    if (turn > Math.PI * 0.9) break;
    const parts = [Math.cos, Math.sin].map((wave) => {
      const length = Math.max(0, last - first);
      let band = Float64Array.from({ length }, (_, at) => samples[first + at]! * wave(turn * (first + at)));
      // Two running means: what lies beside the partial is gone, and rises stay short.
      for (let pass = 0; pass < 2; pass++) {
        const sums = new Float64Array(length + 1);
        for (let at = 0; at < length; at++) sums[at + 1] = sums[at]! + band[at]!;
        band = band.map((_, at) => {
          const [low, high] = [Math.max(0, at - half), Math.min(length, at + half + 1)];
          return (sums[high]! - sums[low]!) / (high - low);
        });
      }
      return band;
    });
    for (let step = 0; step < strength.length; step++) {
      const at = Math.round((from + step * STEP) * rate) - first;
      for (const band of parts) strength[step]! += (band[at] ?? 0) ** 2;
    }
  }
  return strength;
}

/**
 * Where a note really begins that was heard some time after: where its own partials begin to rise, under what still sounds
 * of others. Bows and voices take a tenth of a second until a pitch is there.
 *
 * @param on seconds at which it was heard
 * @param earliest seconds before which it cannot have begun
 * @returns seconds, never later than `on`
 */
export function beginningOf(sound: Sound, hertz: number, on: number, off: number, earliest: number): number {
  const from = Math.max(earliest, on - BACK, 0);
  const strength = strengthOf(sound, hertz, from, Math.min(off, on + ON));
  let peak = 0;
  for (let step = 0; step < strength.length; step++) if (strength[step]! > strength[peak]!) peak = step;
  let least = Number.POSITIVE_INFINITY;
  for (let step = 0; step < peak; step++) least = Math.min(least, strength[step]!);
  if (peak === 0 || strength[peak]! < RISEN * least) return on;
  const enough = least + SHARE * (strength[peak]! - least);
  let step = peak;
  while (step > 0 && strength[step - 1]! > enough) step--;
  return Math.min(on, from + step * STEP);
}
