import type { Steps } from '../basics/steps';
import type { Playing } from '../decisions/kinds/play-like';
import type { Performance } from '../model/performance';
import type { Desk } from './desk';
import { type Likened, playedLike, playedLikeInSteps } from './play-like';
import { vary } from './vary';

/**
 * What is heard of a job and handed over: its performance in the manner of another source, and varied, where that
 * was decided.
 *
 * @param performance as cleaned, or with its notes elsewhere in the same time
 * @param takes what of the other source's manner counts where notes have their places already
 */
export function soundingOf(
  { decisions, player }: Pick<Desk, 'decisions' | 'player'>,
  performance: Performance,
  takes: readonly Playing[] = decisions.playLike?.takes ?? [],
): Performance {
  const liked = player && takes.length > 0 ? playedLike(performance, player, takes).performance : performance;
  return vary(liked, decisions);
}

/** How far another source plays the piece: notes of both, of the one, of the other; bars that are not played. */
export type LikeFigures = Omit<Likened, 'performance'>;

/** Null where the piece is not played like another source. In steps, so that what sounds is at hand afterwards. */
export function* likeFigures({ decisions, player, performance }: Desk): Steps<LikeFigures | null> {
  const takes = decisions.playLike?.takes ?? [];
  if (!player || takes.length === 0) return null;
  const { performance: _, ...figures } = yield* playedLikeInSteps(performance, player, takes);
  return figures;
}
