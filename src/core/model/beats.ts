import type { Frame } from './frame';
import { beatsOf, isCompound } from './meter';
import { type Moment, QUARTER, type Span } from './time';

/** A stretch of time that is divided in one way: a beat, or a quarter of a longer one. */
export interface Beat {
  start: Moment;
  length: Span;
  bar: number;
  /** It divides in three by its meter. */
  ternary: boolean;
  /** How many beats from here on, this one included, lie in the same bar and are alike. */
  run: number;
}

/** All beats of the piece in order, long ones cut into quarters, clipped to their bars. */
export function beatsOfFrame(frame: Frame): Beat[] {
  const beats: Beat[] = [];
  frame.bars.forEach((bar, index) => {
    const end = bar.start + bar.length;
    const inBar: Beat[] = [];
    for (const beat of beatsOf(bar)) {
      const start = bar.start - bar.missing + beat.start;
      const size = beat.length > 1.5 * QUARTER || beat.length === 2 * QUARTER ? QUARTER : beat.length;
      for (let at = start; at < start + beat.length; at += size) {
        const low = Math.max(at, bar.start);
        const high = Math.min(at + size, end);
        if (high <= low) continue;
        const length = high - low;
        const ternary =
          Number.isInteger(Math.log2(length / (1.5 * QUARTER))) &&
          (isCompound(bar.meter) || bar.meter.denominator > 4);
        inBar.push({ start: low, length, bar: index, ternary, run: 1 });
      }
    }
    for (let at = inBar.length - 2; at >= 0; at--) {
      const beat = inBar[at]!;
      const next = inBar[at + 1]!;
      if (next.length === beat.length && next.ternary === beat.ternary) beat.run = next.run + 1;
    }
    beats.push(...inBar);
  });
  return beats;
}
