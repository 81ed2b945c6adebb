import { type Folded, foldScore } from '../edit/fold';
import { splitBars } from '../edit/split-bars';
import { unitStart } from '../infer/form/units';
import { type Repeat, repeatEnd, sectionEdges } from '../model/form';
import type { Score } from '../model/score';
import type { Span } from '../model/time';
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
  const repeats = chosen.flatMap(({ repeat }) => repeat ?? []);
  const upbeat = chosen[0]!.upbeat;
  const folded =
    upbeat > 0
      ? foldedFromUpbeats(score, repeats, upbeat)
      : foldScore(score, repeats, chosen.find(({ goesBack }) => goesBack)?.goesBack ?? null);
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

/** Folds sections that begin with upbeats: the bars in which one ends and another begins are two. */
function foldedFromUpbeats(score: Score, repeats: readonly Repeat[], upbeat: Span): Folded {
  const edges = repeats.flatMap(sectionEdges);
  const { bars } = score;
  const isOnLine = (edge: number) => unitStart(bars, upbeat, edge) === bars[edge]!.start;
  const isWithin = (edge: number) => {
    const bar = bars[edge];
    return bar !== undefined && !isOnLine(edge) && unitStart(bars, upbeat, edge) < bar.start + bar.length;
  };
  const split = splitBars(score, new Set(edges.filter(isWithin)), upbeat);
  const whole = edges.includes(bars.length - 1) ? withoutSilentEnd(split.score) : split.score;
  const count = whole.bars.length;
  const placeOf = (edge: number) => {
    if (edge >= bars.length) return count;
    return Math.min(count, split.first[edge]! + (isOnLine(edge) ? 0 : 1));
  };
  const folded = foldScore(
    whole,
    repeats.map((repeat): Repeat => {
      const { from, length, ending, lastEnding } = repeat;
      const [begin, end, last] = [placeOf(from), placeOf(from + length), placeOf(repeatEnd(repeat))];
      return {
        ...repeat,
        from: begin,
        length: end - begin,
        ending: end - placeOf(from + length - ending),
        lastEnding: last - placeOf(repeatEnd(repeat) - lastEnding),
      };
    }),
    null,
  );
  // What is told of bars is told of those that the performance has.
  const asPlayed = <T extends { bar: number }>(list: readonly T[]): T[] =>
    list.map((each) => ({ ...each, bar: split.first.findLastIndex((place) => place <= each.bar) }));
  return { ...folded, differences: asPlayed(folded.differences), unsaid: asPlayed(folded.unsaid) };
}

/** A score whose last bar, the upbeat to nothing, is gone: the bar before it lacks what the first upbeat has. */
function withoutSilentEnd(score: Score): Score {
  const last = score.bars.length - 1;
  const isSilent =
    score.bars[last]!.missing > 0 &&
    score.tempos.every(({ bar }) => bar < last) &&
    score.parts.every(
      ({ bars, spanners = [], changes = [] }) =>
        bars[last]!.voices.every(({ items }) => items.every(({ kind }) => kind === 'rest')) &&
        !bars[last]!.marks &&
        changes.every(({ bar }) => bar < last) &&
        spanners.every(({ from, to }) => [from, to].every((end) => 'note' in end || end.bar < last)),
    );
  if (!isSilent) return score;
  return {
    ...score,
    bars: score.bars.slice(0, last),
    parts: score.parts.map((part) => ({ ...part, bars: part.bars.slice(0, last) })),
  };
}

/** The score that is handed over: folded where that was chosen. */
export const writtenScore = (transcription: Pick<Transcription, 'score' | 'folded'>) =>
  foldedScore(transcription)?.score ?? transcription.score;
