import type { EventId } from './ids';
import type { Ornament } from './marks';
import type { Moment } from './time';

/** The notes of one strand that are struck at one tick. */
export interface Strike {
  /** Index among the strands of the part. */
  strand: number;
  tick: number;
  /** How long the longest of them is held, in seconds. */
  held: number;
  /** The highest. */
  key: number;
}

/** A sign over a note, and how many semitones its neighbours lie above and below. */
export interface SketchOrnament {
  name: Extract<Ornament, 'trill-mark' | 'mordent' | 'inverted-mordent' | 'turn' | 'inverted-turn'>;
  above?: 1 | 2;
  below?: 1 | 2;
}

/** A note on its way from played to written. Moments count from the start of the piece. */
export interface SketchNote {
  id: EventId;
  /** Sounding MIDI key. */
  key: number;
  velocity: number;
  /** As played: ticks. */
  on: number;
  off: number;
  /** What it is struck with. */
  strike: Strike;
  /** Where attack and release lie in score time once lead and swing are taken out; not on any grid yet. */
  at: Moment;
  until: Moment;
  /** The same with the swing left in, where there is any: triplets within it are played as they stand. */
  literal: { at: Moment; until: Moment } | undefined;
  /** As written, once fitted. */
  start: Moment;
  end: Moment;
  staff: number;
  voice: number;
  /** A grace note before the note that starts at `start`; it takes no time. */
  grace?: true;
  /** Held well short of what is written. */
  staccato?: true;
  /** Struck again and again: strokes across the stem. */
  tremolo?: number;
  /** Played with quick strokes on its neighbours, which a sign stands for. */
  ornament?: SketchOrnament;
  /** Runs into the next note of its line. */
  legato?: true;
  sources: EventId[];
}

/** Another place where an attack could stand. */
export interface Alternative {
  start: Moment;
  grace: boolean;
  /** How much worse the whole reading would be, in nats. */
  worse: number;
}

/** Notes that attack together. */
export interface Attack {
  /** Median played onset, in ticks. */
  tick: number;
  /** The same in score time, lead and swing taken out. */
  at: Moment;
  /** The same with the swing left in, where there is any. */
  literal: Moment | undefined;
  /** Within swing, but read as it stands: one of a tuplet or of even 16ths. */
  even: boolean;
  /** Where it is written. */
  start: Moment;
  /** A place that is not to be fitted: it was written to the tick, or you decided it. */
  pinned?: Moment;
  grace: boolean;
  /** How much worse the next-best place would be, in nats; infinite where nothing was fitted. */
  margin: number;
  /** The other places that were weighed, best first. */
  alternatives: Alternative[];
  /** What the beat was divided in, where it was fitted. */
  division: number;
  notes: SketchNote[];
}

/** A key that holds for a while, whatever the signature: its own signature on the line of fifths, which has no end, in concert pitch. */
export interface LocalKey {
  fifths: number;
  minor: boolean;
}
