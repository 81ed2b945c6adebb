import { Equals, IsIn } from 'class-validator';
import { inPassage, OfStrandOverPassage, strandPassageKind } from '../kind';

export const SHORT_NOTES = ['heard', 'staccato', 'rests'] as const;
export type ShortNotes = (typeof SHORT_NOTES)[number];

export interface ValuesChoice {
  /** Dots that one note has at most; more is tied. */
  dots: 0 | 1 | 2;
  /** How notes that are let go early are written: as found, longer with a dot, or short with a rest. */
  short: ShortNotes;
}

export const DEFAULT_VALUES: ValuesChoice = { dots: 1, short: 'heard' };

const DOTS = ['ties instead of dots', 'one dot at most', 'two dots at most'] as const;
const SHORT: Record<ShortNotes, string> = {
  heard: 'short notes as heard',
  staccato: 'short notes longer, staccato',
  rests: 'short notes short, with rests',
};

/** Which values lengths are written in. */
export class Values extends OfStrandOverPassage implements ValuesChoice {
  @Equals('values') kind = 'values' as const;
  @IsIn([0, 1, 2]) dots!: 0 | 1 | 2;
  @IsIn(SHORT_NOTES) short!: ShortNotes;
}

export const values = strandPassageKind({
  type: Values,
  field: 'values',
  readBy: ['rhythm'],
  words: (directive) => `${DOTS[directive.dots]}, ${SHORT[directive.short]}${inPassage(directive)}`,
  doc: {
    fields:
      '`dots`: 0–2; `short`: `heard`, `staccato` or `rests`; optional `strand`; optional `from`, `to` (ticks)',
    meaning:
      'which values lengths are written in: how many dots a note has at most before it is tied, and whether notes let go early are longer with a staccato dot or short with a rest',
  },
});
