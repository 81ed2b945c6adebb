import { Equals, IsIn } from 'class-validator';
import { inPassage, jobKind, lastOver, OverPassage, type Passage, passageSubject } from '../kind';

/** Whether music that comes again is written out or as signs. */
export interface RepeatsChoice extends Passage {
  use: 'folded' | 'written-out';
}

/** Writes what is played again as repeats, endings, D.C. and D.S., or bar by bar. */
export class Repeats extends OverPassage implements RepeatsChoice {
  @Equals('repeats') kind = 'repeats' as const;
  @IsIn(['folded', 'written-out']) use!: RepeatsChoice['use'];
}

export const repeats = jobKind({
  type: Repeats,
  field: 'repeats',
  readBy: ['score'],
  initial: (): RepeatsChoice[] => [],
  add: (before: RepeatsChoice[], directive: Repeats): RepeatsChoice[] => lastOver(before, directive),
  subject: passageSubject,
  words: (directive) =>
    `What comes again ${directive.use === 'folded' ? 'as repeats' : 'written out'}${inPassage(directive)}`,
  doc: {
    fields: '`use`: `folded` or `written-out`; optional `from`, `to` (ticks of where it begins)',
    meaning:
      'whether music that is played again stands in the score that is handed over as repeats, endings, D.C. and D.S., or bar by bar, as it does unless folded',
  },
});
