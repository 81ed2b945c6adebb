import { type Folded, foldScore } from '../edit/fold';
import { playedOrder } from '../perform/bar-order';
import type { Transcription } from '../transcribe';

/**
 * The score as it is handed over where what comes again is written as signs; null where nothing is.
 * @throws Error where its signs would not play what was played
 */
export function foldedScore({
  score,
  folded: chosen,
}: Pick<Transcription, 'score' | 'folded'>): Folded | null {
  if (chosen.length === 0) return null;
  const folded = foldScore(
    score,
    chosen.flatMap(({ repeat }) => repeat ?? []),
    chosen.find(({ goesBack }) => goesBack)?.goesBack ?? null,
  );
  const order = playedOrder(folded.score.bars);
  const isSame =
    order.length === folded.writtenAs.length &&
    order.every(({ bar, from, to }, at) => {
      const { length } = folded.score.bars[bar]!;
      return bar === folded.writtenAs[at] && from === 0 && to === length;
    });
  if (!isSame) throw new Error('The repeats would not play what was played. Write them out.');
  return folded;
}

/** The score that is handed over: folded where that was chosen. */
export const writtenScore = (transcription: Pick<Transcription, 'score' | 'folded'>) =>
  foldedScore(transcription)?.score ?? transcription.score;
