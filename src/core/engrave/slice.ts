import type { PartId } from '../model/ids';
import type { Anchor, Spanner } from '../model/marks';
import {
  clefAt,
  keyInBar,
  type Part,
  regrouped,
  type Score,
  writtenFifths,
  writtenKeys,
} from '../model/score';

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
  const shown = score.parts.filter((part) => partIds.has(part.id));
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
    ...(score.swingsSaid && { swingsSaid: true as const }),
    rehearsals: rebase(score.rehearsals),
    ...(score.multiRests && {
      multiRests: score.multiRests
        .filter((rest) => rest.from >= from && rest.to <= to)
        .map((rest) => ({ from: rest.from - from, to: rest.to - from })),
    }),
    parts: shown.map((part) => slicePart(score, part, from, to)),
    ...(score.groups && { groups: regrouped(score.groups, score.parts, shown) }),
  };
}

function slicePart(score: Score, part: Part, from: number, to: number): Part {
  const { spanners, changes = [], ...others } = part;
  const opening = changes.filter(({ bar, at }) => bar < from || (bar === from && at === 0));
  const transposed = opening.findLast((change) => change.kind === 'transposition');
  const transposition = transposed?.transposition ?? part.transposition;
  const key = writtenKeys(score, part).findLast(({ bar, at }) => bar < from || (bar === from && at === 0));
  const isOwnKey = key && key.fifths !== writtenFifths(keyInBar(score, from).fifths, transposition);
  return {
    ...others,
    // A sign at the beginning of a line would have nothing before it to repeat (common practice).
    bars: part.bars.slice(from, to).map((bar, index) => {
      const { shown, ...others } = bar;
      return index === 0 && shown === 'repeat' ? others : bar;
    }),
    clefs: part.clefs.map((_, staff) => clefAt(part, staff + 1, from, 0)),
    transposition,
    ...(spanners && {
      spanners: spanners.flatMap((each) => cutSpanner(score, each, from, to)),
    }),
    changes: [
      ...(isOwnKey ? [{ kind: 'key' as const, bar: 0, at: 0, fifths: key.fifths, minor: key.minor }] : []),
      ...changes
        .filter((change) => !opening.includes(change) && change.bar < to)
        .map((change) => ({ ...change, bar: change.bar - from })),
    ],
  };
}

/** What stretches over bars goes from edge to edge of the window; what lies outside of it is not there. */
function cutSpanner({ bars }: Score, spanner: Spanner, from: number, to: number): Spanner[] {
  const barOf = (end: Anchor): number | null => ('note' in end ? null : end.bar);
  const [first, last] = [barOf(spanner.from), barOf(spanner.to)];
  if ((first !== null && first >= to) || (last !== null && last < from)) return [];
  const rebased = (end: Anchor): Anchor => {
    if ('note' in end) return end;
    if (end.bar < from) return { ...end, bar: 0, at: 0 };
    if (end.bar >= to) return { ...end, bar: to - 1 - from, at: bars[to - 1]!.length };
    return { ...end, bar: end.bar - from };
  };
  return [{ ...spanner, from: rebased(spanner.from), to: rebased(spanner.to) }];
}
