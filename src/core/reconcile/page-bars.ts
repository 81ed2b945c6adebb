import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import type { Note, PartBar, Score } from '../model/score';
import { isUnpitched } from '../perform';
import type { PlayedBar } from '../perform/bar-order';
import { reconcile } from '.';
import type { BarPair, Ledger } from './ledger';
import { sideOfScore } from './reading';
import { type SameBars, sameBars } from './same-bars';

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
          ? [
              `${item.onset} ${item.duration} ${keysOf(item.notes)}+${keysOf(item.graces)}+${keysOf(item.gracesAfter)}`,
            ]
          : [],
      ),
    )
    .join(';');

const keysOf = (notes: readonly Note[] = []): string => notes.map(({ key }) => key).join(' ');

/** Bars of two versions of a score that hold the very same music, part by part. */
export const sameOnPages = (old: Score, now: Score): SameBars => remembered(now, SAME, { old, now });

const SAME = node('same bars of versions', ({ old, now }: { old: Score; now: Score }) => {
  const texts = (score: Score) => score.bars.map((_, bar) => musicOf(score, bar));
  const same = sameBars(texts(old), texts(now));
  return { ...same, isAll: same.isAll && old.parts.length === now.parts.length };
});

/**
 * Where each bar of a version of a score stands on the pages of another version: by index, and absent for one that is not
 * there. Those that are the very same stand where they do; the others are as both versions are laid over each other in order.
 */
export const barsAcross = (old: Score, now: Score): ReadonlyMap<number, number> =>
  remembered(now, ACROSS, { old, now });

const ACROSS = node('bars of versions', ({ old, now }: { old: Score; now: Score }) => {
  const { across: same, isAll } = sameOnPages(old, now);
  if (isAll) return same;
  const across = new Map(same);
  const taken = new Set(same.values());
  for (const { one, two } of ledgerOf(old, now)?.bars ?? [])
    if (one !== null && two !== null && !across.has(one) && !taken.has(two)) {
      across.set(one, two);
      taken.add(two);
    }
  return across;
});

/** A score in the order in which its bars are played. */
export interface Played {
  score: Score;
  order: readonly PlayedBar[];
}

/**
 * Bars as they are played in two versions of a score of which the second has no new music: in the order of the first,
 * then those that only the second plays; null where something in it is new.
 */
export function samePlayed(old: Played, now: Played): BarPair[] | null {
  const { across, isAll } = sameOnPages(old.score, now.score);
  if (!isAll) return null;
  const left = new Map(now.order.map(({ bar, pass }, two) => [`${bar} ${pass}`, two]));
  const pairs = old.order.map(({ bar, pass }, one): BarPair => {
    const name = `${across.get(bar)} ${pass}`;
    const two = left.get(name) ?? null;
    left.delete(name);
    return { one, two };
  });
  return [...pairs, ...[...left.values()].map((two): BarPair => ({ one: null, two }))];
}
