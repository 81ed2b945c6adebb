import { NEW_PART_SPAN, newNotesFrom } from '../model/ids';
import { eachNote, type PartBar } from '../model/score';
import { channelsOf, type KeptNames } from '../sources/musicxml/played';
import type { ScoreReading } from '../sources/musicxml/source';
import { barsAcross, ledgerOf, musicOfBar, sameOnPages } from './page-bars';

/**
 * What parts and notes of a new version of a score are to be called, so that those of the version
 * before keep their names wherever both are laid over each other, in whatever order parts stand,
 * whatever they are called and however many bars came or went.
 */
export function namesKept(old: ScoreReading, now: ScoreReading, version: number): KeptNames {
  // Where nothing in it is new, its bars say all.
  const { isAll } = sameOnPages(old.asRead, now.asRead);
  const ledger = isAll ? null : ledgerOf(old.asRead, now.asRead);
  const partners = new Map<number, number>(isAll ? now.asRead.parts.map((_, index) => [index, index]) : []);
  for (const { one, two, whole } of ledger?.lines ?? [])
    if (one !== null && two !== null && whole) partners.set(two, one);
  const taken = new Set(partners.values());
  // All of its notes may be others: then its name says what it is.
  now.asRead.parts.forEach(({ name }, two) => {
    if (partners.has(two)) return;
    const one = old.asRead.parts.findIndex((part, index) => !taken.has(index) && name && part.name === name);
    if (one < 0) return;
    partners.set(two, one);
    taken.add(one);
  });
  const numbers = now.asRead.parts.map(() => new Map<string, number>());
  const used = new Set<string>();
  const name = (line: number, id: string, by: number, as: string) => {
    const number = old.names[by]?.numbers.get(as);
    const own = numbers[line];
    if (!own || own.has(id) || used.has(as) || number === undefined) return;
    own.set(id, number);
    used.add(as);
  };
  // Bars that were moved are not laid over each other in order.
  const inOrder = new Map(ledger?.bars.map(({ one, two }) => [one, two]));
  for (const [bar, place] of barsAcross(old.asRead, now.asRead)) {
    if (inOrder.get(bar) === place) continue;
    for (const [two, one] of partners) {
      const [before, after] = [old.asRead.parts[one]?.bars[bar], now.asRead.parts[two]?.bars[place]];
      if (!before || !after || musicOfBar(before) !== musicOfBar(after)) continue;
      const [were, are] = [notesIn(before), notesIn(after)];
      are.forEach((id, at) => {
        const as = were[at];
        if (as !== undefined) name(two, id, one, as);
      });
    }
  }
  for (const { one, two } of ledger?.entries ?? [])
    if (one && two && partners.get(two.line) === one.line) name(two.line, two.id, one.line, one.id);
  const channels = channelsOf(now.asRead.parts);
  let track = highestTrack(old);
  return {
    parts: now.asRead.parts.map((_, index) => {
      const own = old.names[partners.get(index) ?? -1];
      if (own) return { ...own, numbers: numbers[index]! };
      track++;
      return { track, channel: channels[index]!, span: NEW_PART_SPAN, numbers: numbers[index]! };
    }),
    fresh: newNotesFrom(version),
    highest: track,
  };
}

/** The notes of a bar in the order in which they are read. */
function notesIn(bar: PartBar): string[] {
  const ids: string[] = [];
  eachNote([bar], ({ id }) => ids.push(id));
  return ids;
}

/** No track beyond it was ever used by a score. */
export const highestTrack = ({ kept, names }: ScoreReading): number =>
  kept?.highest ?? Math.max(0, ...names.map(({ track }) => track));
