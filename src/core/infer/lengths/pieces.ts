import type { Frame } from '../../model/frame';
import { type Bar, barIndexOf } from '../../model/score';
import type { Moment } from '../../model/time';
import { writeBar } from '../../notate/rhythm';

/** Pieces by stretch, for each kind of bar; found by the bar, since naming its kind takes longer than the rest. */
const countsOfKind = new Map<string, Map<number, number>>();
const countsOfBar = new WeakMap<Bar, Map<number, number>>();
const MOST_COUNTS = 20_000;
/** Makes one number of two moments of a bar; a longer one, of twelve quarters and more, is counted anew each time. */
const BEYOND = 2 ** 26;

function countsIn(bar: Bar): Map<number, number> {
  const known = countsOfBar.get(bar);
  if (known) return known;
  const kind = `${bar.meter.numerator}/${bar.meter.denominator} ${bar.groups.join(' ')}`;
  const counts = countsOfKind.get(kind) ?? new Map<number, number>();
  countsOfKind.set(kind, counts);
  countsOfBar.set(bar, counts);
  return counts;
}

/** How many symbols a stretch of one voice takes, over bar lines too. */
export function piecesOf(frame: Frame, start: Moment, end: Moment): number {
  let count = 0;
  for (let index = barIndexOf(frame.bars, start); index < frame.bars.length; index++) {
    const bar = frame.bars[index]!;
    if (bar.start >= end) break;
    const zero = bar.start - bar.missing;
    const from = Math.max(start - zero, bar.missing);
    const to = Math.min(end - zero, bar.missing + bar.length);
    if (to <= from) continue;
    count += from === bar.missing && to === bar.missing + bar.length ? 1 : piecesInBar(bar, from, to);
    if (count > 8) break;
  }
  return count;
}

function piecesInBar(bar: Bar, from: Moment, to: Moment): number {
  const counts = countsIn(bar);
  const name = from * BEYOND + to;
  const known = bar.length < BEYOND ? counts.get(name) : undefined;
  if (known) return known;
  const full = { ...bar, missing: 0, length: bar.groups.reduce((sum, group) => sum + group, 0) };
  const stretches = [
    ...(from > 0 ? [{ start: 0, end: from }] : []),
    { start: from, end: to, content: true },
    ...(to < full.length ? [{ start: to, end: full.length }] : []),
  ];
  const count = writeBar(full, stretches).filter((piece) => piece.content).length;
  if (counts.size > MOST_COUNTS) counts.clear();
  counts.set(name, count);
  return count;
}
