import { Equals, IsNumber, Max, Min } from 'class-validator';
import { inPassage, OfStrandOverPassage, strandPassageKind } from '../kind';

/** How readily gaps are closed: 0 keeps every one, 1 as heard, more closes more. */
export class Lengths extends OfStrandOverPassage {
  @Equals('lengths') kind = 'lengths' as const;
  @IsNumber() @Min(0) @Max(4) closing!: number;
}

export const lengths = strandPassageKind({
  type: Lengths,
  field: 'lengths',
  readBy: ['rhythm'],
  words: (directive) =>
    `gaps ${directive.closing === 0 ? 'all kept' : directive.closing === 1 ? 'as heard' : `closed ${directive.closing} times as readily`}${inPassage(directive)}`,
  doc: {
    fields: '`closing`: 0–4; optional `strand`; optional `from`, `to` (ticks)',
    meaning: 'how readily gaps are closed: 0 keeps every one, 1 as heard',
  },
});
