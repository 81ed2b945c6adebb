import { Equals, IsInt, Max, Min } from 'class-validator';
import { OfStrand, strandKind } from '../kind';

/** Moves a strand to another channel, 1–16. */
export class SetChannel extends OfStrand {
  @Equals('channel') kind = 'channel' as const;
  @IsInt() @Min(1) @Max(16) channel!: number;
}

export const channel = strandKind({
  type: SetChannel,
  /** 0–15. */
  field: 'channel',
  readBy: ['clean'],
  add: (_: number | undefined, directive: SetChannel): number | undefined => directive.channel - 1,
  words: (directive) => `channel ${directive.channel}`,
  doc: { fields: '`strand`, `channel` (1–16)', meaning: 'moves a strand to another channel' },
});
