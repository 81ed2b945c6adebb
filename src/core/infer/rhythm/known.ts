import type { Beat } from '../../model/beats';
import type { Moment } from '../../model/time';

/** What the fit of one body of notes came to. */
export interface RhythmFit {
  /** For each beat that holds attacks the pattern that was read, by index of the beat. */
  patterns: Map<number, string>;
}

/** What speaks for an attack at a moment. */
export interface Support {
  moment: Moment;
  bonus: number;
}

/** A rhythm that the piece uses, to be tried elsewhere. */
export interface Familiar {
  pattern: string;
  offsets: number[];
  division: number;
}

/** What one part may know of the piece when it is heard again. */
export interface Ensemble {
  /** What speaks for attacks in a beat, by place: the share of the other parts that attack there (nats). */
  support(beat: number): readonly Support[];
  /** What a rhythm costs, given how often the piece uses it elsewhere. */
  surprise(pattern: string, beat: number, prior: number): number;
  /** The rhythms that the piece uses most in such a beat, or in several together. */
  familiar(beat: Beat, beats: number): readonly Familiar[];
}
