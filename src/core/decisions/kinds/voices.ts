import { Equals, IsIn } from 'class-validator';
import {
  inPassage,
  inTurn,
  lastOver,
  OfStrandOverPassage,
  type Passage,
  passageSubject,
  strandKind,
} from '../kind';

/** How many voices a staff may have at most. */
export class Voices extends OfStrandOverPassage {
  @Equals('voices') kind = 'voices' as const;
  @IsIn([1, 2]) most!: 1 | 2;
}

type VoiceChoices = ({ most: 1 | 2 } & Passage)[] | undefined;

export const voices = strandKind({
  type: Voices,
  field: 'voices',
  readBy: ['rhythm'],
  add: (before: VoiceChoices, directive: Voices): VoiceChoices => lastOver(before, directive),
  join: inTurn,
  subject: passageSubject,
  words: (directive) => `${directive.most === 1 ? 'one voice' : 'up to two voices'}${inPassage(directive)}`,
  doc: {
    fields: '`most`: 1 or 2; optional `strand`; optional `from`, `to` (ticks)',
    meaning: 'how many voices a staff may have',
  },
});
