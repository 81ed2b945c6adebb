import { ArrayMaxSize, ArrayMinSize, ArrayUnique, Equals, IsArray, IsIn, Matches } from 'class-validator';
import type { SourceId } from '../../model/ids';
import { Directive, jobKind, OrNull } from '../kind';
import { SOURCE_ID } from './leads';

/** What can be taken of how another source is played. */
export const PLAYING = ['tempo', 'timing', 'velocity', 'controllers'] as const;
export type Playing = (typeof PLAYING)[number];

/** Plays the piece as another source of the job is played; null plays it as it is. */
export class PlayLike extends Directive {
  @Equals('play-like') kind = 'play-like' as const;
  @OrNull() @Matches(SOURCE_ID) source!: SourceId | null;
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(PLAYING.length)
  @ArrayUnique()
  @IsIn(PLAYING, { each: true })
  takes!: Playing[];
}

export type LikeChoice = { source: SourceId; takes: readonly Playing[] };

export const playLike = jobKind({
  type: PlayLike,
  field: 'playLike',
  readBy: ['vary'],
  initial: (): LikeChoice | null => null,
  add: (_: LikeChoice | null, { source, takes }: PlayLike): LikeChoice | null => source && { source, takes },
  words: ({ source, takes }) =>
    source === null ? 'Played as it is' : `Played like source ${source}: ${takes.join(', ')}`,
  doc: {
    fields: '`source` or null, `takes`: of `tempo`, `timing`, `velocity`, `controllers`',
    meaning:
      'plays the notes of the leading source as another source plays them, for playback and hand-over; its pages stay',
  },
});
