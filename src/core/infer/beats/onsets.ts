import { secondsAt } from '../../model/clock';
import type { Performance } from '../../model/performance';

/** A moment at which something is struck. */
export interface Onset {
  seconds: number;
  /** How strongly it speaks for a beat. */
  weight: number;
}

/** Notes nearer than this are one onset; seconds. */
const TOGETHER = 0.03;
const MIDDLE_C = 60;

/** All onsets of a performance in order; low and loud notes, long ones and chords weigh more (common practice). */
export function onsetsOf(performance: Performance): Onset[] {
  const { clock, strands } = performance;
  const notes = strands.flatMap((strand) =>
    strand.notes.map((note) => {
      const seconds = secondsAt(clock, note.on);
      const held = Math.min(1, secondsAt(clock, note.off) - seconds);
      const low = Math.max(0, MIDDLE_C - note.key) / 24;
      return { seconds, weight: Math.sqrt(note.velocity / 127) * (0.6 + 0.5 * held + 0.4 * low) };
    }),
  );
  notes.sort((a, b) => a.seconds - b.seconds);
  const out: Onset[] = [];
  for (const note of notes) {
    const last = out.at(-1);
    if (last && note.seconds - last.seconds < TOGETHER) last.weight += 0.5 * note.weight;
    else out.push({ ...note });
  }
  return out;
}

/** How far a beat is drawn to the onsets around it, in seconds. */
export const NEAR = 0.05;

/** Beats in seconds, each drawn to the middle of what is struck near it: people tap less exactly than they play. */
export const drawnTo = (beats: readonly number[], onsets: readonly Onset[]): number[] =>
  beats.map((beat) => drawn(beat, onsets));

/** A beat drawn to the middle of what is struck around it. */
export function drawn(seconds: number, onsets: readonly Onset[]): number {
  let sum = 0;
  let weight = 0;
  for (let at = firstFrom(onsets, seconds - NEAR); at < onsets.length; at++) {
    const onset = onsets[at]!;
    if (onset.seconds > seconds + NEAR) break;
    sum += onset.weight * onset.seconds;
    weight += onset.weight;
  }
  return weight > 0 ? sum / weight : seconds;
}

/** Index of the first onset at a moment or after it; seconds. */
export function firstFrom(onsets: readonly Onset[], seconds: number): number {
  let low = 0;
  let high = onsets.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (onsets[middle]!.seconds < seconds) low = middle + 1;
    else high = middle;
  }
  return low;
}
