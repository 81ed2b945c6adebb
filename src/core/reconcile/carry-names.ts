import { eventOfNote, indexOf } from '../model/ids';
import { mapNotes, type Part } from '../model/score';
import { isUnpitched } from '../perform';
import { channelsOf, type KeptNames, NEW_NOTES_FROM } from '../sources/musicxml/as-file';
import type { ScoreReading } from '../sources/musicxml/source';
import { reconcile } from '.';
import { sideOfScore } from './reading';

/** Versions have ranges of numbers for what is new in them; these take turns. */
const RANGES = 8;

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
  const before = namesOf(old);
  const numbers = new Map<string, number>();
  const used = new Set<string>();
  for (const { one, two } of ledger?.entries ?? []) {
    if (!one || !two || partners.get(two.line) !== one.line || numbers.has(two.id) || used.has(one.id))
      continue;
    const number = before.numbers.get(one.id);
    if (number === undefined) continue;
    numbers.set(two.id, number);
    used.add(one.id);
  }
  const channels = channelsOf(now.asRead.parts);
  let track = before.highest;
  return {
    parts: now.asRead.parts.map((_, index) => {
      const own = before.parts[partners.get(index) ?? -1];
      if (own) return own;
      track++;
      return { track, channel: channels[index]!, span: NEW_NOTES_FROM };
    }),
    numbers,
    fresh: NEW_NOTES_FROM * (1 + ((version - 2) % RANGES)),
    highest: track,
  };
}

/** What a score calls its parts and notes: tracks and channels, and numbers by the names as they were read. */
function namesOf({ score, readAs, kept }: ScoreReading): Pick<KeptNames, 'parts' | 'numbers' | 'highest'> {
  const numbers = new Map<string, number>();
  for (const [name, read] of readAs) {
    const event = eventOfNote(name);
    // What a tie goes on to is named by the note that begins it.
    if (event && !name.includes('.')) numbers.set(read, indexOf(event));
  }
  const parts = score.parts.map(({ id }, index) => {
    const [, track = '0', channel = '1'] = /t(\d+)c(\d+)/.exec(id) ?? [];
    const span = kept?.parts[index]?.span ?? countOf(score.parts[index]!);
    return { track: Number(track) - 1, channel: Number(channel) - 1, span };
  });
  return { parts, numbers, highest: kept?.highest ?? Math.max(0, ...parts.map(({ track }) => track)) };
}

/** Notes of a part, graces and tied ones with them. */
function countOf({ bars }: Part): number {
  let count = 0;
  mapNotes(bars, (note) => {
    count++;
    return note;
  });
  return count;
}
