/** What is done with whole bars, over all parts. Indices from 0; `to` is the first that is no longer meant. */
export type BarsEdit =
  /** Empty bars before the one `at` an index; after the last where that is the number of bars. */
  | { what: 'insert'; at: number; count: number }
  | { what: 'remove'; from: number; to: number }
  /** Once more, or instead, before the bar `at` an index. */
  | { what: 'copy' | 'move'; from: number; to: number; at: number };

/** Bars that are put in at once. */
export const MOST_NEW_BARS = 200;

/** Bars as they are to follow each other: indices from 0 of those that there were, null for an empty one. */
export type BarOrder = readonly (number | null)[];

/** Why bars cannot be put in, taken out or moved: a sentence. */
export class BarsEditError extends Error {
  override name = 'BarsEditError';
}

/**
 * How bars follow each other after an edit.
 * @param bars how many there are
 * @throws BarsEditError for bars that are not there, and where none would be left or nothing changed
 */
export function orderAfter(edit: BarsEdit, bars: number): BarOrder {
  const all: (number | null)[] = Array.from({ length: bars }, (_, index) => index);
  if (edit.what === 'insert') {
    if (edit.at < 0 || edit.at > bars || edit.count < 1) throw new BarsEditError('There is no such place.');
    return all.toSpliced(edit.at, 0, ...Array.from({ length: edit.count }, () => null));
  }
  const { from, to } = edit;
  if (from < 0 || to > bars || from >= to) throw new BarsEditError('There are no such bars.');
  const meant = all.slice(from, to);
  if (edit.what === 'remove') {
    if (meant.length === bars) throw new BarsEditError('A score has at least one bar.');
    return all.toSpliced(from, meant.length);
  }
  if (edit.at < 0 || edit.at > bars) throw new BarsEditError('There is no such place.');
  if (edit.what === 'copy') return all.toSpliced(edit.at, 0, ...meant);
  if (edit.at >= from && edit.at <= to) throw new BarsEditError('The bars stand there already.');
  const rest = all.toSpliced(from, meant.length);
  return rest.toSpliced(edit.at > from ? edit.at - meant.length : edit.at, 0, ...meant);
}

/** Places of an order at which bars follow each other as they did, the first and the last of them. */
export interface Run {
  first: number;
  last: number;
}

/** The run of each place; an empty bar is one by itself. */
export function runsOf(order: BarOrder): Run[] {
  const runs: Run[] = [];
  order.forEach((bar, place) => {
    const before = order[place - 1];
    const run = runs.at(-1);
    if (run && typeof before === 'number' && bar === before + 1) {
      run.last = place;
      runs.push(run);
    } else runs.push({ first: place, last: place });
  });
  return runs;
}
