import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type BarAt, strandBars } from '../../../tests/helpers/strand-bars';
import { noteAt, notesIn, stripAt, union } from './picking';
import { layOutStrips, type View, xOf, yOfKey } from './view';

const bar = fc
  .tuple(
    fc.integer({ min: 0, max: 5000 }),
    fc.integer({ min: 1, max: 900 }),
    fc.integer({ min: 40, max: 70 }),
  )
  .map(([on, length, key]): BarAt => [on, on + length, key]);
const strands = fc.array(
  fc
    .array(bar, { minLength: 1, maxLength: 40 })
    .map((bars) => strandBars(bars.toSorted((a, b) => a[0] - b[0]))),
  { minLength: 1, maxLength: 4 },
);
const view: View = { start: 100, ticksPerPixel: 7, top: 12, row: 6 };

describe('what is under the pointer', () => {
  it('is the note that is drawn there, or one that is drawn above it', () => {
    fc.assert(
      fc.property(strands, fc.nat(), (all, pick) => {
        const { strips } = layOutStrips(all, view.row);
        const strip = strips[pick % strips.length]!;
        const note = pick % strip.strand.on.length;
        const { on, off, key } = strip.strand;
        const x = xOf(view, (on[note]! + off[note]!) / 2);
        const y = yOfKey(strip, key[note]!, view.row) + view.row / 2 - view.top;
        expect(stripAt(strips, view, y)).toBe(strip);
        const found = noteAt(strips, view, x, y)!;
        expect(found.strip).toBe(strip);
        expect(found.note).toBeGreaterThanOrEqual(note);
        expect(key[found.note]).toBe(key[note]);
      }),
    );
  });

  it('is nothing between strips, above them or off a note', () => {
    const { strips } = layOutStrips([strandBars([[1000, 1100, 60]])], view.row);
    const y = yOfKey(strips[0]!, 60, view.row) + 1 - view.top;
    expect(noteAt(strips, view, xOf(view, 1050), y)?.note).toBe(0);
    expect(noteAt(strips, view, xOf(view, 1100) + 4, y)).toBeNull();
    expect(noteAt(strips, view, xOf(view, 1050), y + view.row)).toBeNull();
    expect(stripAt(strips, view, -13)).toBeUndefined();
    expect(noteAt(strips, view, xOf(view, 1050), 5000)).toBeNull();
  });

  it('lets low rows be missed by a key', () => {
    const low = { ...view, row: 2 };
    const { strips } = layOutStrips([strandBars([[1000, 1100, 60]])], low.row);
    const y = yOfKey(strips[0]!, 60, low.row) - low.top;
    expect(noteAt(strips, low, xOf(low, 1050), y - 1)?.note).toBe(0);
    expect(noteAt(strips, low, xOf(low, 1050), y - 3)).toBeNull();
  });
});

describe('a box', () => {
  it('holds just the notes that it touches, whichever corners it is given by', () => {
    const corner = fc.record({
      x: fc.integer({ min: -50, max: 900 }),
      y: fc.integer({ min: -20, max: 900 }),
    });
    fc.assert(
      fc.property(strands, corner, corner, (all, from, to) => {
        const { strips } = layOutStrips(all, view.row);
        const found = notesIn(strips, view, [from.x, from.y, to.x, to.y]);
        expect(notesIn(strips, view, [to.x, to.y, from.x, from.y])).toEqual(found);
        const [left, right] = [Math.min(from.x, to.x), Math.max(from.x, to.x)];
        const [above, below] = [Math.min(from.y, to.y) + view.top, Math.max(from.y, to.y) + view.top];
        for (const strip of strips) {
          const { on, off, key } = strip.strand;
          if (strip.top + strip.height < above || strip.top > below) continue;
          const touched = [...on.keys()].filter((note) => {
            const y = yOfKey(strip, key[note]!, view.row);
            // A pixel belongs to the row whose upper edge it touches.
            return (
              y <= below &&
              y + view.row > above &&
              xOf(view, off[note]!) >= left &&
              // Notes that begin on the right edge have no pixel inside.
              xOf(view, on[note]!) < right
            );
          });
          expect([...(found.get(strip.index) ?? [])]).toEqual(touched);
        }
      }),
    );
  });

  it('goes together with what was selected before', () => {
    const both = union(
      new Map([[0, new Set([1])]]),
      new Map([
        [0, new Set([2])],
        [1, new Set([0])],
      ]),
    );
    expect(both).toEqual(
      new Map([
        [0, new Set([1, 2])],
        [1, new Set([0])],
      ]),
    );
  });
});
