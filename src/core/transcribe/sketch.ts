import type { Moment } from '../score/time';

/** A note on its way from played to written. Moments count from the start of the piece. */
export interface SketchNote {
  id: string;
  /** Sounding MIDI key. */
  key: number;
  velocity: number;
  /** As played: ticks. */
  on: number;
  off: number;
  /** As written, once fitted. */
  start: Moment;
  end: Moment;
  staff: number;
  voice: number;
  sources: string[];
}

/** Notes that attack together. */
export interface Attack {
  /** Median played onset, in ticks. */
  tick: number;
  start: Moment;
  notes: SketchNote[];
}
