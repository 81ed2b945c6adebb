import type { PartId } from '../model/ids';
import { keyInBar, type Score } from '../model/score';
import { QUARTER } from '../model/time';
import { restAround } from './turns';

/** Bars from `from` up to but not including `to` that make one system. */
export interface SystemPlan {
  from: number;
  to: number;
  /** Seconds of rest around its end, to turn the page in. */
  rest: number;
}

/** Widths in staff spaces, by eye: a bar line and its air, and a note of each length. */
const BAR_AIR = 2.5;
const NOTE_AIR = 1.7;
const LONGER_AIR = 1;
const ACCIDENTAL = 0.9;
const SYSTEM_HEAD = 7;
const LETTER = 0.85;
const MULTI_REST = 10;

/**
 * Divides the bars into systems of at most `width` staff spaces. An estimate:
 * the engraver stretches or squeezes each system to the exact width.
 *
 * @param first index of the bar that the first of them begins with
 */
export function planSystems(
  score: Score,
  partIds: ReadonlySet<PartId>,
  width: number,
  first = 0,
): SystemPlan[] {
  const parts = score.parts.filter((part) => partIds.has(part.id));
  const longest = (label: 'name' | 'abbreviation') => Math.max(0, ...parts.map((part) => part[label].length));
  const plans: Omit<SystemPlan, 'rest'>[] = [];
  let from = first;
  let used = 0;
  score.bars.forEach((_, index) => {
    if (index < first) return;
    const rest = score.multiRests?.find((each) => each.from <= index && index < each.to);
    // A rest over several bars is one thing to read, never cut.
    if (rest && rest.from < index) return;
    const onsets = new Map<number, number>();
    const altered = new Set<number>();
    for (const part of parts)
      for (const line of part.bars[index]!.voices)
        for (const item of line.items) {
          const known = onsets.get(item.onset) ?? Number.POSITIVE_INFINITY;
          onsets.set(item.onset, Math.min(known, item.duration));
          if (item.kind === 'chord' && item.notes.some((note) => note.accidental)) altered.add(item.onset);
        }
    let size = BAR_AIR + ACCIDENTAL * altered.size;
    for (const duration of onsets.values())
      size += NOTE_AIR + LONGER_AIR * Math.sqrt(Math.min(duration / QUARTER, 4));
    if (rest) size = MULTI_REST;
    const changes = index > 0 && keyInBar(score, index) !== keyInBar(score, index - 1);
    if (changes) size += 4;
    const label = LETTER * longest(from === 0 ? 'name' : 'abbreviation');
    const head = SYSTEM_HEAD + label + Math.abs(keyInBar(score, from).fifths);
    if (index > from && head + used + size > width) {
      plans.push({ from, to: index });
      from = index;
      used = 0;
    }
    used += size;
  });
  if (score.bars.length > from) plans.push({ from, to: score.bars.length });
  return plans.map((plan) => ({ ...plan, rest: restAround(score, partIds, plan.to - 1) }));
}
