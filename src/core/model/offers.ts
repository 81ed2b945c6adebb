import type { Moment } from './time';

/** Kinds of marks that playing shows. */
export const OFFERED = [
  'dynamics',
  'hairpins',
  'accents',
  'pedal',
  'arpeggios',
  'tremolos',
  'slurs',
  'staccato',
] as const;
export type Offered = (typeof OFFERED)[number];

/** A mark that the playing of a part speaks for. */
export interface MarkOffer {
  kind: 'dynamics' | 'hairpins' | 'accents' | 'pedal' | 'arpeggios' | 'tremolos';
  from: Moment;
  /** Where a hairpin, a pedal or a tremolo ends. */
  to?: Moment;
  /** A dynamic by its name, `crescendo`, `diminuendo`, `accent`, `pedal`, `rolled up`, `rolled down`, `32nds` or `64ths`. */
  mark: string;
  /**
   * What was heard there. Velocities: at a hairpin's start and end; of an accent itself and around it.
   * Seconds: how long a pedal was held, or a chord took.
   * Strokes: of a tremolo.
   */
  heard: readonly number[];
  /** How much better it explains what is heard than no mark, in nats; infinite where it only says again what holds. */
  margin: number;
  /** It stands in the score. */
  shown: boolean;
}
