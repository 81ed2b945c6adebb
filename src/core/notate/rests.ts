import { fullLength } from '../model/meter';
import type { Bar, Item, PartBar, Rest } from '../model/score';
import { type Stretch, writeBar } from './rhythm';

type Measured = Pick<Bar, 'length' | 'meter' | 'groups' | 'missing'>;

/**
 * The rests of a bar in which nothing sounds: one for the whole bar, or, where
 * the bar is shorter than its meter, as an upbeat is, the values themselves,
 * since a whole bar's rest is read there as long as the meter.
 */
export function barRests(bar: Measured): Rest[] {
  const { length, meter, missing } = bar;
  const isFull = length === fullLength(meter);
  if (isFull)
    return [{ kind: 'rest', onset: 0, duration: length, value: { type: 'whole', dots: 0 }, wholeBar: true }];
  return writeBar(bar, [{ start: missing, end: missing + length }]).map(
    ({ onset, duration, value, tuplet }): Rest => ({
      kind: 'rest',
      onset: onset - missing,
      duration,
      value,
      ...(tuplet && { tuplet }),
    }),
  );
}

/** A bar in which a part rests. @param staves of the part */
export const restingBar = (bar: Measured, staves: number): PartBar => ({
  voices: Array.from({ length: staves }, (_, staff) => ({
    voice: 1,
    staff: staff + 1,
    items: barRests(bar),
  })),
});

/** The items of a voice with rests that follow each other made into those that the meter wants; others stay. */
export function joinRests(items: readonly Item[], bar: Bar): Item[] {
  const isPlain = (item: Item | undefined) => item?.kind === 'rest' && !item.tuplet && !item.hidden;
  const hasRuns = items.some((item, at) => isPlain(item) && isPlain(items[at + 1]));
  if (!hasRuns) return [...items];
  const stretches: Stretch<Item>[] = items.map((item) => {
    const start = item.onset + bar.missing;
    const end = start + item.duration;
    return isPlain(item) ? { start, end } : { start, end, content: item };
  });
  const joined: Stretch<Item>[] = [];
  for (const stretch of stretches) {
    const last = joined.at(-1);
    if (last && !last.content && !stretch.content) last.end = stretch.end;
    else joined.push({ ...stretch });
  }
  const rests = writeBar(bar, joined)
    .filter(({ content }) => !content)
    .map(
      ({ onset, duration, value, tuplet }): Rest => ({
        kind: 'rest',
        onset: onset - bar.missing,
        duration,
        value,
        ...(tuplet && { tuplet }),
      }),
    );
  // Where a rest would get into another's tuplet, all stay.
  if (rests.some(({ tuplet }) => tuplet)) return [...items];
  return [...items.filter((item) => !isPlain(item)), ...rests].sort((a, b) => a.onset - b.onset);
}
