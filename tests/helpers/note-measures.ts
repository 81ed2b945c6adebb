/** A note by when it sounds, in seconds, and its key. */
export interface Stretched {
  on: number;
  off: number;
  key: number;
}

/** Seconds within which an onset counts as found, and the share of its length by which a note may end otherwise (mir_eval, `transcription`, from memory). */
const ONSET = 0.05;
const OFFSET = { least: 0.05, share: 0.2 };

/** Tolerances are of tenths of milliseconds there. */
const rounded = (seconds: number): number => Math.round(seconds * 1e4) / 1e4;

/**
 * How many notes of the truth are found, each by one heard note at most.
 * Of one key both lists are in order and onsets within one tolerance, so that taking the first that fits finds the most.
 */
export function found(truth: readonly Stretched[], heard: readonly Stretched[], offsets: boolean): number {
  let count = 0;
  for (const key of new Set(truth.map((note) => note.key))) {
    const own = truth.filter((note) => note.key === key).sort((a, b) => a.on - b.on);
    const others = heard.filter((note) => note.key === key).sort((a, b) => a.on - b.on);
    const taken = new Set<Stretched>();
    for (const { on, off } of own) {
      const match = others.find(
        (other) =>
          !taken.has(other) &&
          rounded(Math.abs(other.on - on)) <= ONSET &&
          (!offsets ||
            rounded(Math.abs(other.off - off)) <= Math.max(OFFSET.least, OFFSET.share * (off - on))),
      );
      if (!match) continue;
      taken.add(match);
      count++;
    }
  }
  return count;
}
