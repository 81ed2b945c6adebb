import type { BarPair, ClockDifference } from './ledger';
import type { ReadBar, Side } from './reading';

/** Tempos differ from here on (share): files round them to whole microseconds, scores to whole figures. */
const SAME_TEMPO = 0.005;

/** What two readings say differently about the bars that they share: where it begins to differ, not at each bar after. */
export function compareBars(bars: readonly BarPair[], one: Side, two: Side): ClockDifference[] {
  const found: ClockDifference[] = [];
  const before = new Map<ClockDifference['kind'], string>();
  for (const { one: a, two: b } of bars) {
    if (a === null || b === null) continue;
    for (const [kind, says] of facts(one.bars[a]!, two.bars[b]!)) {
      const text =
        kind === 'number' ? String(Number(says?.[1]) - Number(says?.[0])) : (says?.join(' ') ?? '');
      if (says && before.get(kind) !== text) found.push({ kind, one: a, two: b, says });
      before.set(kind, text);
    }
  }
  return found;
}

const facts = (one: ReadBar, two: ReadBar): [ClockDifference['kind'], [string, string] | null][] => [
  ['meter', one.meter === two.meter ? null : [one.meter, two.meter]],
  ['number', one.number === two.number ? null : [one.number, two.number]],
  [
    'key',
    one.fifths === null || two.fifths === null || one.fifths === two.fifths
      ? null
      : [String(one.fifths), String(two.fifths)],
  ],
  [
    'tempo',
    one.tempo === null || two.tempo === null || Math.abs(one.tempo / two.tempo - 1) <= SAME_TEMPO
      ? null
      : [one.tempo.toFixed(1), two.tempo.toFixed(1)],
  ],
];
