/**
 * Probe-tone profiles of Krumhansl and Kessler (1982), as printed in
 * Krumhansl, Cognitive Foundations of Musical Pitch (1990); values from memory.
 */
const MAJOR = [6.35, 2.23, 3.48, 2.33, 4.38, 4.09, 2.52, 5.19, 2.39, 3.66, 2.29, 2.88];
const MINOR = [6.33, 2.68, 3.52, 5.38, 2.6, 3.53, 2.54, 4.75, 3.98, 2.69, 3.34, 3.17];
/** Signature of the major key on each pitch class, within six sharps or flats. */
export const MAJOR_FIFTHS = [0, -5, 2, -3, 4, -1, 6, 1, -4, 3, -2, 5];

export interface KeyEstimate {
  fifths: number;
  minor: boolean;
  /** Pearson correlation of the piece's pitch-class weights with the key's profile. */
  correlation: number;
}

/**
 * Estimates one key for a piece by profile correlation.
 * @param weights total sounding time of each pitch class, C first
 */
export function estimateKey(weights: readonly number[]): KeyEstimate {
  let best: KeyEstimate = { fifths: 0, minor: false, correlation: Number.NEGATIVE_INFINITY };
  for (let tonic = 0; tonic < 12; tonic++)
    for (const minor of [false, true]) {
      const profile = minor ? MINOR : MAJOR;
      const r = correlation(weights, (pc) => profile[(pc - tonic + 12) % 12]!);
      if (r > best.correlation)
        best = { fifths: MAJOR_FIFTHS[minor ? (tonic + 3) % 12 : tonic]!, minor, correlation: r };
    }
  return best;
}

function correlation(weights: readonly number[], profile: (pc: number) => number): number {
  const expected = weights.map((_, pc) => profile(pc));
  const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
  const mw = mean(weights);
  const mp = mean(expected);
  let covariance = 0;
  let vw = 0;
  let vp = 0;
  weights.forEach((weight, pc) => {
    covariance += (weight - mw) * (expected[pc]! - mp);
    vw += (weight - mw) ** 2;
    vp += (expected[pc]! - mp) ** 2;
  });
  return vw === 0 ? 0 : covariance / Math.sqrt(vw * vp);
}

/** Share of the weight that lies outside the scale of a signature (minor: with raised sixth and seventh). */
function outside(weights: readonly number[], fifths: number, minor: boolean): number {
  const total = weights.reduce((sum, weight) => sum + weight, 0) || 1;
  const inScale = new Set<number>();
  for (let place = fifths - 1; place <= fifths + 5; place++) inScale.add((((place * 7) % 12) + 12) % 12);
  if (minor) for (const place of [fifths + 6, fifths + 8]) inScale.add((((place * 7) % 12) + 12) % 12);
  return weights.reduce((sum, weight, pc) => sum + (inScale.has(pc) ? 0 : weight), 0) / total;
}

/** The key that notes speak for clearly where a file says C major, as files do that know no key; else null. */
export function contradictsDefault(weights: readonly number[]): KeyEstimate | null {
  const estimate = estimateKey(weights);
  const missed = outside(weights, 0, false);
  return missed > 0.2 && outside(weights, estimate.fifths, estimate.minor) < missed / 4 ? estimate : null;
}
