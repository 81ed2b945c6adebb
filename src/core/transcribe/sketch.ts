import type { GridChoice } from '../brief/decisions';
import type { Instrument } from '../instruments/catalogue';
import type { Moment } from '../score/time';

/** What routing decided for one part. */
export interface PartPlan {
  /** MusicXML id, `P1` … */
  id: string;
  name: string;
  abbreviation: string;
  instrument: Instrument;
  staves: 1 | 2;
  /** The strands that it is written from; the first leads. */
  strands: string[];
  grid: GridChoice;
  /** Why it became what it is, for people. */
  why: string;
}

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
