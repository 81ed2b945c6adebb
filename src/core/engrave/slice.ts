import type { PartId } from '../model/ids';
import { keyInBar, type Score } from '../model/score';

/**
 * A window on a score: some parts, and the bars from `from` up to but not
 * including `to`. Everything that holds at its start is restated there.
 */
export function sliceScore(score: Score, partIds: ReadonlySet<PartId>, from: number, to: number): Score {
  const inside = (bar: number) => bar >= from && bar < to;
  const rebase = <T extends { bar: number }>(marks: readonly T[]): T[] =>
    marks.filter((mark) => inside(mark.bar)).map((mark) => ({ ...mark, bar: mark.bar - from }));
  const opening = { ...keyInBar(score, from), bar: 0 };
  const before = score.tempos.findLast(({ bar, at }) => bar < from || (bar === from && at === 0));
  const holding = before && before.bar < from ? [{ ...before, bar: 0, at: 0, printed: null }] : [];
  return {
    title: '',
    bars: score.bars.slice(from, to),
    keys: [opening, ...rebase(score.keys).filter((key) => key.bar > 0)],
    tempos: [...holding, ...rebase(score.tempos)],
    ...(score.swings && {
      swings: score.swings
        .filter((swing) => swing.from < to && swing.to > from)
        .map((swing) => ({ ...swing, from: swing.from - from, to: swing.to - from })),
    }),
    rehearsals: rebase(score.rehearsals),
    parts: score.parts
      .filter((part) => partIds.has(part.id))
      .map((part) => ({ ...part, bars: part.bars.slice(from, to) })),
  };
}
