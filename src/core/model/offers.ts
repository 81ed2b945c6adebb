import type { EventId } from './ids';
import type { ChordSymbol } from './marks';
import type { Moment } from './time';

/** Kinds of marks that playing shows. */
export const OFFERED = [
  'dynamics',
  'hairpins',
  'accents',
  'fermatas',
  'pedal',
  'arpeggios',
  'tremolos',
  'trills',
  'ghosts',
  'bends',
  'chords',
  'rehearsals',
  'slurs',
  'staccato',
] as const;
export type Offered = (typeof OFFERED)[number];

/** A mark that the playing of a part speaks for. */
export interface MarkOffer {
  kind: Exclude<Offered, 'slurs' | 'staccato'>;
  from: Moment;
  /** Where a hairpin, a fermata, a pedal, a tremolo, a trill or a chord ends. */
  to?: Moment;
  /** A dynamic by its name, `crescendo`, `diminuendo`, `accent`, `fermata`, `pedal`, `rolled up`, `rolled down`, `32nds`, `64ths`, `trill`, `ghost`, `scoop`, `plop`, `fall`, `doit`, `slide`, a letter, or a chord. */
  mark: string;
  /** Of a bend: its note, and the one that it slides into. */
  note?: EventId;
  until?: EventId;
  /** Of a ghost note: its key. */
  key?: number;
  /** Of a chord. */
  symbol?: ChordSymbol;
  /**
   * What was heard there. Velocities: at a hairpin's start and end; of an accent itself and around it;
   * of a ghost note itself and of full strokes.
   * Seconds: how long a pedal was held, or a chord took. Of a fermata: how many times as long it takes.
   * Strokes: of a tremolo or a trill. Semitones: of a bend.
   * Deviations: how much more than usual changes at a rehearsal mark.
   */
  heard: readonly number[];
  /** How much better it explains what is heard than no mark, in nats; infinite where it only says again what holds. */
  margin: number;
  /** It was set by a machine, to the unit: it stands as long as nothing else is decided. */
  sure?: true;
  /** It stands in the score. */
  shown: boolean;
}
