import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { instrumentOf } from '../../instruments/catalogue';
import { divideNotes, type Seat } from './divide';

const seat = (id: string): Seat => {
  const { lowest, highest, comfortable, singleLine } = instrumentOf(id);
  return { lowest, highest, comfortable, doubles: !singleLine };
};
const QUARTER = 480;
const chords = (...keys: number[][]) =>
  keys.flatMap((chord, at) => chord.map((key) => ({ on: at * QUARTER, off: (at + 1) * QUARTER, key })));

describe('the chairs of a section', () => {
  const horns = Array.from({ length: 4 }, () => seat('horn-f'));

  it('take the notes of chords from the top', () => {
    const notes = chords([48, 55, 60, 64], [47, 55, 62, 65], [48, 55, 60, 64]);
    expect(divideNotes(notes, horns, QUARTER, 48)).toEqual([3, 2, 1, 0, 3, 2, 1, 0, 3, 2, 1, 0]);
  });

  it('go on with their lines where not all play', () => {
    // The two lower ones rest in the second chord, the two upper ones in the third.
    const notes = chords([48, 52, 62, 67], [64, 69], [47, 50], [48, 52, 62, 67]);
    expect(divideNotes(notes, horns, QUARTER, 48)).toEqual([3, 2, 1, 0, 1, 0, 3, 2, 3, 2, 1, 0]);
  });

  it('hold what they hold while another moves', () => {
    const two = [seat('flute'), seat('flute')];
    const notes = [
      { on: 0, off: 1920, key: 79 },
      { on: 0, off: 480, key: 72 },
      { on: 480, off: 960, key: 74 },
      { on: 960, off: 1440, key: 76 },
    ];
    expect(divideNotes(notes, two, QUARTER, 48)).toEqual([0, 1, 1, 1]);
  });

  it('have what their instruments have', () => {
    const strings = ['violin', 'viola', 'cello'].map(seat);
    // A low line alone is the cello's, a high one the violin's.
    expect(new Set(divideNotes(chords([38], [40], [43], [41]), strings, QUARTER, 48))).toEqual(new Set([2]));
    expect(new Set(divideNotes(chords([86], [88], [91], [90]), strings, QUARTER, 48))).toEqual(new Set([0]));
  });

  it('are given each note once, and the same each time', () => {
    const note = fc.record({
      on: fc.integer({ min: 0, max: 4000 }),
      length: fc.integer({ min: 1, max: 1500 }),
      key: fc.integer({ min: 0, max: 127 }),
    });
    fc.assert(
      fc.property(fc.array(note, { maxLength: 40 }), fc.integer({ min: 2, max: 5 }), (drawn, count) => {
        const notes = drawn
          .map(({ on, length, key }) => ({ on, off: on + length, key }))
          .sort((a, b) => a.on - b.on || a.key - b.key);
        const seats = Array.from({ length: count }, () => seat('violin'));
        const given = divideNotes(notes, seats, QUARTER, 48);
        expect(given.length).toBe(notes.length);
        expect(given.every((each) => each >= 0 && each < count)).toBe(true);
        expect(divideNotes(notes, seats, QUARTER, 48)).toEqual(given);
      }),
      { numRuns: 60 },
    );
  });
});
