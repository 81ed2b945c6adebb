import { Equals, IsIn } from 'class-validator';
import { inPassage, OfStrandOverPassage, strandPassageKind } from '../kind';

/** How the bars of a part are written: out, as signs that repeat the bar before, or as slashes for the beats. */
export const SHORTHANDS = ['written-out', 'bar-repeats', 'slashes'] as const;
export type ShorthandUse = (typeof SHORTHANDS)[number];

/** Writes bars that are like the one before as a sign, or all bars of a passage as slashes. */
export class Shorthand extends OfStrandOverPassage {
  @Equals('shorthand') kind = 'shorthand' as const;
  @IsIn(SHORTHANDS) use!: ShorthandUse;
}

const WORDS: Record<ShorthandUse, string> = {
  'written-out': 'bars written out',
  'bar-repeats': 'like bars as bar repeats',
  slashes: 'slashes for the beats',
};

export const shorthand = strandPassageKind({
  type: Shorthand,
  field: 'shorthand',
  readBy: ['score'],
  words: (directive) => `${WORDS[directive.use]}${inPassage(directive)}`,
  doc: {
    fields:
      '`use`: `written-out`, `bar-repeats` or `slashes`; optional `strand`; optional `from`, `to` (ticks)',
    meaning:
      'writes bars that are like the one before as a sign for it, or the beats of all bars as slashes; what sounds stays',
  },
});
