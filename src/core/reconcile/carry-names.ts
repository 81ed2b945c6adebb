import { NEW_PART_SPAN, newNotesFrom } from '../model/ids';
import { isUnpitched } from '../perform';
import { channelsOf, type KeptNames } from '../sources/musicxml/played';
import type { ScoreReading } from '../sources/musicxml/source';
import { reconcile } from '.';
import { sideOfScore } from './reading';

/**
 * What parts and notes of a new version of a score are to be called, so that those of the version
 * before keep their names wherever both are laid over each other, in whatever order parts stand,
 * whatever they are called and however many bars came or went.
 */
export function namesKept(old: ScoreReading, now: ScoreReading, version: number): KeptNames {
  const ledger = reconcile(sideOfScore(old.asRead, isUnpitched), sideOfScore(now.asRead, isUnpitched));
  const partners = new Map<number, number>();
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
  for (const { one, two } of ledger?.entries ?? []) {
    if (!one || !two || partners.get(two.line) !== one.line) continue;
    const own = numbers[two.line];
    if (!own || own.has(two.id) || used.has(one.id)) continue;
    const number = old.names[one.line]?.numbers.get(one.id);
    if (number === undefined) continue;
    own.set(two.id, number);
    used.add(one.id);
  }
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

/** No track beyond it was ever used by a score. */
export const highestTrack = ({ kept, names }: ScoreReading): number =>
  kept?.highest ?? Math.max(0, ...names.map(({ track }) => track));
