import { Equals, IsIn } from 'class-validator';
import { TECHNIQUE_NAMES } from '../../instruments/name-techniques';
import { OfStrand, OrNull, strandKind } from '../kind';

/** Plays as the instrument is played by itself, whatever the name says. */
export const ORDINARY = 'ordinary';

/** How the notes of a strand are played: what a text asks for where its part comes to them. */
export class PlayTechnique extends OfStrand {
  @Equals('technique') kind = 'technique' as const;
  @OrNull() @IsIn([ORDINARY, ...TECHNIQUE_NAMES]) technique!: string | null;
}

export const technique = strandKind({
  type: PlayTechnique,
  field: 'technique',
  readBy: ['cast', 'stock'],
  add: (_: string | null | undefined, directive: PlayTechnique): string | null | undefined =>
    directive.technique,
  words: (directive) =>
    directive.technique === null ? 'played as its name says' : `played ${directive.technique}`,
  doc: {
    fields:
      '`strand`, `technique`: a name such as `pizzicato` or `muted`, `ordinary`, or null for what its name says',
    meaning: 'how the strand is played; joined to others, its part has the text at each change',
  },
});
