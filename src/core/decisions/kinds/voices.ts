import { Equals, IsIn } from 'class-validator';
import { inPassage, OfStrandOverPassage, strandPassageKind } from '../kind';

/** How many voices a staff may have at most. */
export class Voices extends OfStrandOverPassage {
  @Equals('voices') kind = 'voices' as const;
  @IsIn([1, 2]) most!: 1 | 2;
}

export const voices = strandPassageKind({
  type: Voices,
  field: 'voices',
  readBy: ['rhythm'],
  words: (directive) => `${directive.most === 1 ? 'one voice' : 'up to two voices'}${inPassage(directive)}`,
  doc: {
    fields: '`most`: 1 or 2; optional `strand`; optional `from`, `to` (ticks)',
    meaning: 'how many voices a staff may have',
  },
});
