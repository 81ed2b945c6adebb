import type { Item, Part, PartBar } from '../model/score';

/**
 * A part as it sounds where tablature stands below the same notes on a staff:
 * what both say is played once. Tablature that says something else is played as well.
 */
export function withoutTablature(part: Part): Part {
  const isTab = (staff: number) => part.clefs[staff - 1] === 'tab';
  if (part.clefs.length === 1 || !part.clefs.includes('tab')) return part;
  return { ...part, bars: part.bars.map((bar) => once(bar, isTab)) };
}

function once(bar: PartBar, isTab: (staff: number) => boolean): PartBar {
  const onStaff = new Set<string>();
  for (const { staff, items } of bar.voices)
    for (const item of isTab(staff) ? [] : items)
      if (item.kind === 'chord') for (const { key } of item.notes) onStaff.add(`${item.onset} ${key}`);
  const silent = (item: Item): Item => {
    if (item.kind === 'rest' || !item.notes.every(({ key }) => onStaff.has(`${item.onset} ${key}`)))
      return item;
    const { onset, duration, value, tuplet } = item;
    return { kind: 'rest', onset, duration, value, ...(tuplet && { tuplet }), hidden: true };
  };
  return {
    ...bar,
    voices: bar.voices.map((line) => (isTab(line.staff) ? { ...line, items: line.items.map(silent) } : line)),
  };
}
