import type { Beat } from '../model/beats';
import { type Frame, tickOfMoment } from '../model/frame';
import type { Strand } from '../model/performance';

/** Sounding time of each pitch class in each beat over all pitched strands, in quarter notes; what is held over beats counts in each. */
export function pitchWeights(strands: readonly Strand[], frame: Frame, beats: readonly Beat[]): number[][] {
  const ticks = beats.map(({ start }) => tickOfMoment(frame, start));
  const weights = ticks.map(() => new Array<number>(12).fill(0));
  for (const { notes } of strands) {
    let beat = 0;
    for (const { on, off, key } of notes) {
      while (beat + 1 < ticks.length && ticks[beat + 1]! <= on) beat++;
      for (let at = beat; at < ticks.length && ticks[at]! < Math.max(off, on + 1); at++) {
        const end = ticks[at + 1] ?? Number.POSITIVE_INFINITY;
        const inside = Math.min(Math.max(off, on + 1), end) - Math.max(on, ticks[at]!);
        weights[at]![key % 12]! += inside / frame.clock.ticksPerQuarter;
      }
    }
  }
  return weights;
}

/** The same by bars. */
export function inBars(
  weights: readonly (readonly number[])[],
  beats: readonly Beat[],
  { bars }: Frame,
): number[][] {
  const out = bars.map(() => new Array<number>(12).fill(0));
  weights.forEach((own, beat) => {
    const bar = out[beats[beat]!.bar]!;
    for (let pc = 0; pc < 12; pc++) bar[pc]! += own[pc]!;
  });
  return out;
}
