import type { Decisions } from '../decisions/decisions';
import type { Bracket } from '../decisions/kinds/brackets';
import { familyBrackets } from '../instruments/brackets';
import type { StrandId } from '../model/ids';
import type { PartGroup } from '../model/score';

/** The groups over parts as decided, by what leads them in their order; null where nothing was. */
export function decidedGroups(leaders: readonly StrandId[], { brackets }: Decisions): PartGroup[] | null {
  const groups = brackets?.flatMap(({ from, to, ...group }) => {
    const ends = [leaders.indexOf(from), leaders.indexOf(to)];
    // One that has lost an end waits.
    if (ends.includes(-1)) return [];
    return [{ ...group, from: Math.min(...ends), to: Math.max(...ends) }];
  });
  return groups ?? null;
}

interface Grouped {
  leader: StrandId;
  instrument: string;
}

/** The brackets over parts in a brief's words. */
export const bracketsOf = (
  parts: readonly Pick<Grouped, 'leader'>[],
  groups: readonly PartGroup[],
): Bracket[] =>
  groups.map(({ from, to, ...group }) => ({
    ...group,
    from: parts[from]!.leader,
    to: parts[to]!.leader,
  }));

/**
 * The brackets with another one over some parts, which replaces those over the
 * same parts and any that would cross it; `none` only takes those away.
 */
export function withBracket(
  parts: readonly Grouped[],
  groups: readonly PartGroup[] | undefined,
  added: PartGroup,
): Bracket[] {
  const isInside = (a: PartGroup, b: PartGroup) => a.from >= b.from && a.to <= b.to;
  const isKept = (group: PartGroup) => {
    if (group.from === added.from && group.to === added.to) return false;
    const isApart = group.to < added.from || group.from > added.to;
    return isApart || isInside(group, added) || isInside(added, group);
  };
  const kept = (groups ?? familyBrackets(parts)).filter(isKept);
  const isNone = added.symbol === 'none' && !added.joined && !added.name;
  return bracketsOf(parts, isNone ? kept : [...kept, added]);
}
