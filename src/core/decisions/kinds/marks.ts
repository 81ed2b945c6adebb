import { Equals, IsIn, IsNumber, Max, Min } from 'class-validator';
import { OFFERED, type Offered } from '../../model/offers';
import {
  inPassage,
  inTurn,
  isWhole,
  MayBeAbsent,
  OfStrandOverPassage,
  type Passage,
  passageSubject,
  strandKind,
} from '../kind';

/** Whether marks that playing shows stand in the score. */
export interface MarksChoice extends Passage {
  what: Offered;
  use: 'shown' | 'left';
  /** How much more than usual a mark must explain to be offered; 1 where absent. */
  reluctance?: number;
}

/** Shows the marks of one kind that the playing of a strand speaks for, or leaves them out. */
export class Marks extends OfStrandOverPassage implements MarksChoice {
  @Equals('marks') kind = 'marks' as const;
  @IsIn(OFFERED) what!: Offered;
  @IsIn(['shown', 'left']) use!: 'shown' | 'left';
  @MayBeAbsent() @IsNumber() @Min(0.25) @Max(4) reluctance?: number;
}

export const marks = strandKind({
  type: Marks,
  field: 'marks',
  readBy: ['score'],
  add: (before: MarksChoice[] | undefined, added: Marks): MarksChoice[] => [
    // What holds everywhere silences what was said of the same marks before.
    ...(before ?? []).filter(({ what }) => what !== added.what || !isWhole(added)),
    added,
  ],
  join: inTurn,
  subject: (directive) => `${directive.what} ${passageSubject(directive)}`,
  words: (directive) =>
    `${directive.what} ${directive.use === 'shown' ? 'as played are written' : 'as played are left out'}${inPassage(directive)}`,
  doc: {
    fields:
      '`what`: `dynamics`, `hairpins`, `accents`, `fermatas`, `pedal`, `arpeggios`, `tremolos`, `trills`, `ghosts`, `bends`, `chords`, `rehearsals`, `slurs` or `staccato`; `use`: `shown` or `left`; optional `reluctance` (0.25–4); optional `strand`; optional `from`, `to` (ticks)',
    meaning:
      'whether marks that the playing shows stand in the score; slurs, staccato, and dynamics and fermatas that a program set do unless left out, the others where shown',
  },
});
