import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { attacked, sketched } from '../../../../tests/helpers/sketch';
import { finished } from '../../basics/steps';
import type { Attack } from '../../model/sketch';
import { splitHands } from './hands';

const stavesOf = (attacks: readonly Attack[]) => attacks.map(({ notes }) => notes.map(({ staff }) => staff));

describe('hands', () => {
  it('take what lies far apart, each its own', () => {
    const attacks = [0, 1, 2].map((at) =>
      attacked(sketched(at, 1, 40 + at), sketched(at, 1, 52 + at), sketched(at, 1, 72), sketched(at, 1, 76)),
    );
    finished(splitHands(attacks));
    expect(stavesOf(attacks)).toEqual(Array(3).fill([2, 2, 1, 1]));
  });

  it('follow a line over middle C instead of breaking it there', () => {
    // A scale from below middle C to far above it, over held octaves in the bass.
    const scale = [55, 57, 59, 60, 62, 64, 65, 67, 69, 71, 72];
    const attacks = scale.map((key, at) =>
      at === 0
        ? attacked(sketched(0, 11, 31), sketched(0, 11, 43), sketched(0, 1, key))
        : attacked(sketched(at, 1, key)),
    );
    finished(splitHands(attacks));
    const upper = attacks.map(({ notes }) => notes.at(-1)!.staff);
    expect(upper).toEqual(Array(scale.length).fill(1));
  });

  it('hold a chord that one hand can hold in one hand', () => {
    const attacks = [0, 1].map((at) =>
      attacked(sketched(at, 1, 60), sketched(at, 1, 64), sketched(at, 1, 67)),
    );
    finished(splitHands(attacks));
    for (const staves of stavesOf(attacks)) expect(new Set(staves).size).toBe(1);
  });

  it('take what is let go together: a short octave above an accompanying chord that is held', () => {
    // Joplin, Maple Leaf Rag (1899), bar 1 as printed: the E flat in the middle is a 16th of the right hand.
    const attacks = [
      attacked(sketched(0, 0.5, 44), sketched(0, 0.5, 56)),
      attacked(sketched(0.25, 0.25, 68)),
      attacked(
        ...[51, 56, 60].map((key) => sketched(0.5, 0.5, key)),
        sketched(0.5, 0.25, 63),
        sketched(0.5, 0.25, 75),
      ),
      attacked(sketched(0.75, 0.25, 68)),
      attacked(...[51, 56, 60].map((key) => sketched(1, 0.5, key)), sketched(1, 0.25, 72)),
    ];
    finished(splitHands(attacks));
    expect(stavesOf(attacks)[2]).toEqual([2, 2, 2, 1, 1]);
  });

  it('never cross within one attack', () => {
    const chord = fc.uniqueArray(fc.integer({ min: 30, max: 96 }), { minLength: 1, maxLength: 9 });
    fc.assert(
      fc.property(fc.array(chord, { minLength: 1, maxLength: 12 }), (chords) => {
        const attacks = chords.map((keys, at) => attacked(...keys.map((key) => sketched(at, 0.9, key))));
        finished(splitHands(attacks));
        for (const staves of stavesOf(attacks)) {
          expect(staves.toSorted((a, b) => b - a)).toEqual(staves);
        }
      }),
    );
  });
});
