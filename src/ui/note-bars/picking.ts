import type { NoteBarsData } from '../../core/workbench/note-bars';
import { notesBetween } from './raster';
import { keyOfY, type NoteSelection, type Strip, tickOfX, type View } from './view';

/** A note may be missed by so many pixels. */
const REACH = 3;
/** Rows of less than this height let a note be missed by one key. */
const LOW = 4;

/** The strip at a height of the field, in pixels from its top. */
export const stripAt = (strips: readonly Strip[], { top }: View, y: number): Strip | undefined =>
  strips.find((strip) => y + top >= strip.top && y + top < strip.top + strip.height + 1);

/** The note at a point of the field, in pixels; of several the last, which is drawn above the others. */
export function noteAt(
  strips: readonly Strip[],
  view: View,
  x: number,
  y: number,
): { strip: Strip; note: number } | null {
  const strip = stripAt(strips, view, y);
  if (!strip) return null;
  const wanted = keyOfY(strip, y + view.top, view.row);
  const { on, off, key } = strip.strand;
  const tick = tickOfX(view, x);
  const reach = REACH * view.ticksPerPixel;
  const [first, last] = notesBetween(strip.strand, tick - reach, tick + reach);
  for (let at = last - 1; at >= first; at--)
    if (
      Math.abs(key[at]! - wanted) <= (view.row < LOW ? 1 : 0) &&
      on[at]! - reach <= tick &&
      off[at]! + reach >= tick
    )
      return { strip, note: at };
  return null;
}

/** All notes that a box touches, given by two opposite corners in pixels. */
export function notesIn(
  strips: readonly Strip[],
  view: View,
  [x0, y0, x1, y1]: readonly [number, number, number, number],
): NoteSelection {
  const found = new Map<number, Set<number>>();
  const [left, right] = [tickOfX(view, Math.min(x0, x1)), tickOfX(view, Math.max(x0, x1))];
  const [high, low] = [Math.min(y0, y1) + view.top, Math.max(y0, y1) + view.top];
  for (const strip of strips) {
    if (strip.top + strip.height < high || strip.top > low) continue;
    const [top, bottom] = [keyOfY(strip, high, view.row), keyOfY(strip, low, view.row)];
    const { on, off, key } = strip.strand;
    const [first, last] = notesBetween(strip.strand, left, right);
    const picked = new Set<number>();
    for (let at = first; at < last; at++)
      if (off[at]! >= left && on[at]! <= right && key[at]! <= top && key[at]! >= bottom) picked.add(at);
    if (picked.size > 0) found.set(strip.index, picked);
  }
  return found;
}

/** What is in either of two selections. */
export function union(a: NoteSelection, b: NoteSelection): NoteSelection {
  const all = new Map([...a].map(([strand, notes]) => [strand, new Set(notes)]));
  for (const [strand, notes] of b) all.set(strand, new Set([...(all.get(strand) ?? []), ...notes]));
  return all;
}

/** The same notes of another state, by their events; those that are gone are let go. */
export function carriedOver(
  notes: NoteSelection,
  before: Pick<NoteBarsData, 'strands'>,
  now: Pick<NoteBarsData, 'strands'>,
): NoteSelection {
  const out = new Map<number, Set<number>>();
  for (const [index, own] of notes) {
    const was = before.strands[index]!;
    const at = now.strands.findIndex(({ id }) => id === was.id);
    const is = now.strands[at];
    if (!is) continue;
    const wanted = new Set([...own].map((note) => was.event[note]));
    const found = new Set<number>();
    is.event.forEach((event, note) => {
      if (wanted.has(event)) found.add(note);
    });
    if (found.size > 0) out.set(at, found);
  }
  return out;
}
