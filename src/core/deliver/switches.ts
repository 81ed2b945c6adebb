import type { KeySwitchFor } from '../decisions/kinds/hand-over';
import type { EventId } from '../model/ids';
import type { PlayedNote } from '../model/performance';
import type { Manner } from './source';

/** A key that tells a sampled instrument how to go on. Ticks. */
export interface Switch {
  on: number;
  off: number;
  key: number;
}

/** A switch sounds this share of a quarter, and so much before the note that it is for (common practice). */
const AHEAD = 1 / 16;

/**
 * Key switches before each change of technique, for those techniques that have
 * one; the ordinary way of playing is the technique without a name.
 */
export function switchesFor(
  notes: readonly PlayedNote[],
  manners: ReadonlyMap<EventId, Manner>,
  keys: readonly KeySwitchFor[],
  ticksPerQuarter: number,
): Switch[] {
  const keyOf = new Map(keys.map(({ technique, key }) => [technique, key]));
  const ahead = Math.max(1, Math.round(ticksPerQuarter * AHEAD));
  const switches: Switch[] = [];
  let holding: number | undefined;
  for (const { id, on } of notes.toSorted((a, b) => a.on - b.on)) {
    const key = keyOf.get(manners.get(id)?.technique ?? '');
    if (key === undefined || key === holding) continue;
    holding = key;
    const at = Math.max(0, on - ahead);
    switches.push({ on: at, off: at + ahead, key });
  }
  return switches;
}
