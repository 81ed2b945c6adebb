import type { PartGroup } from '../model/score';
import { type Family, instrumentOf } from './catalogue';

/** Families that share a bracket (common practice); keyboards and plucked instruments stand alone. */
const BRACKETED: ReadonlySet<Family> = new Set(['woodwind', 'brass', 'percussion', 'voice', 'strings']);

/** Brackets over neighbours of one family, for a score that does not say its own groups. */
export function familyBrackets(parts: readonly { instrument: string }[]): PartGroup[] {
  const groups: PartGroup[] = [];
  const familyAt = (at: number) => (parts[at] ? instrumentOf(parts[at].instrument).family : null);
  parts.forEach((_, index) => {
    const family = familyAt(index)!;
    if (!BRACKETED.has(family) || familyAt(index - 1) === family || familyAt(index + 1) !== family) return;
    let to = index;
    while (familyAt(to + 1) === family) to++;
    groups.push({ from: index, to, symbol: 'bracket', joined: true });
  });
  return groups;
}
