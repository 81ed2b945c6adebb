import type { Moment } from './time';

/** Kinds of marks that playing shows. */
export const OFFERED = [
  'dynamics',
  'hairpins',
  'accents',
  'pedal',
  'arpeggios',
  'slurs',
  'staccato',
] as const;
export type Offered = (typeof OFFERED)[number];

/** A mark that the playing of a part speaks for. */
export interface MarkOffer {
  kind: 'dynamics' | 'hairpins' | 'accents' | 'pedal' | 'arpeggios';
  from: Moment;
  /** Where a hairpin or a pedal ends. */
  to?: Moment;
  /** A dynamic by its name, `crescendo`, `diminuendo`, `accent`, `pedal`, `rolled up` or `rolled down`. */
  mark: string;
  /**
   * What was heard there. Velocities: at a hairpin's start and end; of an accent itself and around it.
   * Seconds: how long a pedal was held, or a chord took.
   */
  heard: readonly number[];
  /** How much better it explains what is heard than no mark, in nats; infinite where it only says again what holds. */
  margin: number;
  /** It stands in the score. */
  shown: boolean;
}
