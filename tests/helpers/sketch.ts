import { barsOfScore, type Frame, frameBars } from '@/core/model/frame';
import type { Attack, SketchNote } from '@/core/model/sketch';
import { QUARTER } from '@/core/model/time';
import { readPerformance } from '@/core/sources/smf/performance';
import { madeFile, madeTrack, meterAt } from './made-file';

const TICKS = 480;

/** Bars of one meter at 120 quarter notes a minute, 480 ticks each. */
export function madeFrame(bars: number, numerator = 4, denominator = 4): Frame {
  const end = (bars * TICKS * 4 * numerator) / denominator;
  const { clock } = readPerformance(
    madeFile({ events: [meterAt(0, numerator, denominator)] }, madeTrack('Piano', 0, [[0, end, 60]])),
  );
  return frameBars(clock, barsOfScore(clock, end));
}

/** A note on its way, played exactly where it is said to be; quarter notes and MIDI keys. */
export function sketched(
  at: number,
  length: number,
  key: number,
  more: Partial<SketchNote> = {},
): SketchNote {
  const on = Math.round(at * TICKS);
  const off = Math.round((at + length) * TICKS);
  const id = `1/t1c1/${1000 * on + key}` as const;
  return {
    id,
    key,
    velocity: 80,
    on,
    off,
    strike: { strand: 0, tick: on, held: (off - on) / (2 * TICKS), key },
    at: (on / TICKS) * QUARTER,
    until: (off / TICKS) * QUARTER,
    literal: undefined,
    start: Math.round(at * QUARTER),
    end: Math.round((at + length) * QUARTER),
    staff: 1,
    voice: 1,
    sources: [id],
    ...more,
  };
}

/** Notes that are struck together, read where they were played. */
export function attacked(...notes: SketchNote[]): Attack {
  const [first] = notes;
  return {
    tick: first!.on,
    at: first!.at,
    literal: undefined,
    even: false,
    start: first!.start,
    grace: false,
    margin: Number.POSITIVE_INFINITY,
    alternatives: [],
    division: 1,
    notes: notes.toSorted((a, b) => a.key - b.key),
  };
}
