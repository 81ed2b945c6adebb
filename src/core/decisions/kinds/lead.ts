import { Equals, IsNumber, Max, Min } from 'class-validator';
import { OfStrand, OrNull, strandKind } from '../kind';

/** Sets how far a strand's part sounds ahead of the beat; `milliseconds: null` goes back to what was found. */
export class Lead extends OfStrand {
  @Equals('lead') kind = 'lead' as const;
  @OrNull() @IsNumber() @Min(-500) @Max(500) milliseconds!: number | null;
}

export const lead = strandKind({
  type: Lead,
  field: 'lead',
  readBy: ['rhythm'],
  add: (_: number | null | undefined, { milliseconds }: Lead): number | null | undefined => milliseconds,
  words: ({ milliseconds }) =>
    milliseconds === null ? 'lead as found' : `lead ${milliseconds.toLocaleString('en')} ms`,
  doc: {
    fields: '`strand`, `milliseconds` or null',
    meaning: 'how far the strand’s part sounds ahead of the beat; null goes back to what was found',
  },
});
