import type { PartGroup } from '../../model/score';
import { escapeXml } from './xml';

/** Elements that stand before and after a part in the list. */
export interface GroupEdges {
  before: string[];
  after: string[];
}

/**
 * The `part-group` elements around each part of a list (MusicXML 4.0): groups
 * may lie inside each other; the wider one opens first and closes last.
 *
 * @param count of the parts
 */
export function groupEdges(groups: readonly PartGroup[], count: number): GroupEdges[] {
  const nested = groups.toSorted((a, b) => a.from - b.from || b.to - a.to);
  const numberOf = (group: PartGroup) =>
    1 + nested.filter((each) => each !== group && each.from <= group.from && each.to >= group.to).length;
  return Array.from({ length: count }, (_, index) => ({
    before: nested
      .filter(({ from }) => from === index)
      .map(
        (group) =>
          `<part-group type="start" number="${numberOf(group)}">` +
          (group.name === undefined ? '' : `<group-name>${escapeXml(group.name)}</group-name>`) +
          `<group-symbol>${group.symbol}</group-symbol>` +
          `<group-barline>${group.joined ? 'yes' : 'no'}</group-barline></part-group>`,
      ),
    after: nested
      .toReversed()
      .filter(({ to }) => to === index)
      .map((group) => `<part-group type="stop" number="${numberOf(group)}"/>`),
  }));
}
