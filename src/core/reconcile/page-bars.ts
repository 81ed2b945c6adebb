import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import type { PartBar, Score } from '../model/score';
import { isUnpitched } from '../perform';
import { reconcile } from '.';
import type { Ledger } from './ledger';
import { sideOfScore } from './reading';

/** Two versions of a score, note by note. */
export const ledgerOf = (old: Score, now: Score): Ledger | null => remembered(now, LEDGER, { old, now });

const LEDGER = node('ledger of versions', ({ old, now }: { old: Score; now: Score }) =>
  reconcile(sideOfScore(old, isUnpitched), sideOfScore(now, isUnpitched)),
);

/** What sounds in a bar of all parts, in the order in which it is read. */
const musicOf = ({ parts }: Score, bar: number): string =>
  parts.map(({ bars }) => musicOfBar(bars[bar])).join('\n');

/** When what sounds in a bar of one part. */
export const musicOfBar = (bar: PartBar | undefined): string =>
  (bar?.voices ?? [])
    .flatMap(({ items }) =>
      items.flatMap((item) =>
        item.kind === 'chord'
          ? [`${item.onset} ${item.duration} ${item.notes.map(({ key }) => key).join(' ')}`]
          : [],
      ),
    )
    .join(';');

/**
 * Where each bar of a version of a score stands on the pages of another version: by index, and absent for one that is not
 * there. A bar whose music is in both once is the same, wherever it stands, and so are its neighbours that are alike
 * (patience comparison of texts, B. Cohen, from memory: what is unique first, then outwards); the others are
 * as they are laid over each other in order.
 */
export const barsAcross = (old: Score, now: Score): ReadonlyMap<number, number> =>
  remembered(now, ACROSS, { old, now });

const ACROSS = node('bars of versions', ({ old, now }: { old: Score; now: Score }) => {
  const [before, after] = [old, now].map((score) => score.bars.map((_, bar) => musicOf(score, bar))) as [
    string[],
    string[],
  ];
  const across = new Map<number, number>();
  const taken = new Set<number>();
  const pair = (one: number, two: number): boolean => {
    if (across.has(one) || taken.has(two) || one < 0 || two < 0) return false;
    if (one >= before.length || two >= after.length) return false;
    across.set(one, two);
    taken.add(two);
    return true;
  };
  const single = onceIn(after);
  for (const [music, one] of onceIn(before)) {
    const two = single.get(music);
    if (two !== undefined && /\d/.test(music)) pair(one, two);
  }
  for (const by of [1, -1])
    for (const one of [...across.keys()].sort((a, b) => by * (a - b)))
      for (let at = 1; ; at++) {
        const [next, other] = [one + by * at, across.get(one)! + by * at];
        if (before[next] !== after[other] || !pair(next, other)) break;
      }
  for (const { one, two } of ledgerOf(old, now)?.bars ?? []) if (one !== null && two !== null) pair(one, two);
  return across;
});

/** Texts that a list has once, with where. */
function onceIn(texts: readonly string[]): Map<string, number> {
  const found = new Map<string, number | null>();
  texts.forEach((text, index) => {
    found.set(text, found.has(text) ? null : index);
  });
  return new Map([...found].flatMap(([text, index]) => (index === null ? [] : [[text, index]])));
}
