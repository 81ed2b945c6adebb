import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sketched } from '../../../../tests/helpers/sketch';
import type { SketchNote } from '../../model/sketch';
import { QUARTER } from '../../model/time';
import { separateVoices } from './voices';

const both = () => 2 as const;
const voicesOf = (notes: readonly SketchNote[]) =>
  new Map(notes.map((note) => [`${note.start / QUARTER} ${note.key}`, note.voice]));

/** In each voice, whatever begins together ends together, and nothing sounds under the next. */
function expectLines(notes: readonly SketchNote[]): void {
  for (const voice of [1, 2]) {
    const own = notes.filter((note) => note.voice === voice).toSorted((a, b) => a.start - b.start);
    for (const [index, note] of own.entries())
      for (const other of own.slice(index + 1)) {
        if (other.start === note.start) expect(other.end).toBe(note.end);
        else expect(note.end).toBeLessThanOrEqual(other.start);
      }
  }
}

describe('the voices of a staff', () => {
  it('are one for a line, and for chords that move together', () => {
    const line = [60, 62, 64, 65].map((key, at) => sketched(at, 1, key));
    separateVoices(line, false, both);
    expect(line.every(({ voice }) => voice === 1)).toBe(true);
    const chords = [0, 1, 2].flatMap((at) => [60, 64, 67].map((key) => sketched(at, 1, key + at)));
    separateVoices(chords, false, both);
    expect(chords.every(({ voice }) => voice === 1)).toBe(true);
  });

  it('are two where one note is held over moving ones, the upper one first', () => {
    const held = [sketched(0, 4, 76), ...[60, 62, 64, 65].map((key, at) => sketched(at, 1, key))];
    separateVoices(held, false, both);
    expect(voicesOf(held)).toEqual(
      new Map([
        ['0 76', 1],
        ['0 60', 2],
        ['1 62', 2],
        ['2 64', 2],
        ['3 65', 2],
      ]),
    );
    const below = [sketched(0, 4, 48), ...[60, 62, 64, 65].map((key, at) => sketched(at, 1, key))];
    separateVoices(below, false, both);
    expect(below.map(({ voice }) => voice)).toEqual([2, 1, 1, 1, 1]);
  });

  it('are hands and feet on drums: stems up and down (common practice)', () => {
    const kit = [sketched(0, 0.5, 42), sketched(0, 1, 36), sketched(0.5, 0.5, 38)];
    separateVoices(kit, true, both);
    expect(kit.map(({ voice }) => voice)).toEqual([1, 2, 1]);
  });

  it('are as many as may be', () => {
    const held = [sketched(0, 4, 76), ...[60, 62, 64, 65].map((key, at) => sketched(at, 1, key))];
    separateVoices(held, false, () => 1);
    expect(held.every(({ voice }) => voice === 1)).toBe(true);
    expectLines(held);
    const kit = [sketched(0, 0.5, 42), sketched(0, 1, 36)];
    separateVoices(kit, true, () => 1);
    expect(kit.map(({ voice }) => voice)).toEqual([1, 1]);
  });

  it('never overlap themselves, whatever is played', () => {
    const notes = fc.uniqueArray(
      fc.tuple(fc.nat(15), fc.integer({ min: 1, max: 8 }), fc.integer({ min: 40, max: 84 })),
      { maxLength: 30, selector: ([at, , key]) => `${at} ${key}` },
    );
    fc.assert(
      fc.property(notes, fc.constantFrom<1 | 2>(1, 2), (all, most) => {
        const made = all.map(([at, length, key]) => sketched(at / 2, length / 2, key));
        separateVoices(made, false, () => most);
        expectLines(made);
        expect(made.every(({ voice, start, end }) => voice <= most && end > start)).toBe(true);
      }),
    );
  });
});
