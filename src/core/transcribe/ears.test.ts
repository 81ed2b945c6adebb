import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { madeFrame, sketched } from '../../../tests/helpers/sketch';
import { isSame } from '../basics/same';
import { gatherAttacks } from '../infer/attacks/attacks';
import { NO_LEAD } from '../infer/lead/lead-of';
import type { SketchNote } from '../model/sketch';
import { earsOf, playedAttacks, struckIn } from './ears';
import type { Hearing } from './hear';

const FRAME = madeFrame(8);

/** A part of one strand that plays these notes, one strike each. */
const heard = (notes: SketchNote[], more: Partial<Hearing> = {}): Hearing => ({
  strands: [],
  bodies: [notes],
  staves: 1,
  singleLine: true,
  unpitched: false,
  unwritable: [],
  tidiness: { attacks: false, releases: false },
  strikes: [notes.map(({ strike }) => strike).sort((a, b) => a.tick - b.tick)],
  ...more,
});

/** Notes a quarter apart, each played early or late, with these keys. */
const played = (keys: readonly number[], off = 0.01): SketchNote[] =>
  keys.map((key, at) => sketched(1 + at + off * ((at % 5) - 2), 0.8, key));

const someKeys = fc.array(fc.integer({ min: 30, max: 90 }), { minLength: 3, maxLength: 24 });

describe('what the ensemble hears of a part', () => {
  it('stays as it is when a pitch moves on its side of the middle, whatever the pitches are', () => {
    fc.assert(
      fc.property(someKeys, fc.nat(), fc.integer({ min: 0, max: 127 }), (keys, which, other) => {
        const at = which % keys.length;
        const middle = keys.toSorted((a, b) => a - b)[keys.length >> 1]!;
        const moved = keys.with(at, other);
        const isBeyond = moved.toSorted((a, b) => a - b)[moved.length >> 1] !== middle;
        fc.pre(!isBeyond && other >= middle === keys[at]! >= middle);
        expect(isSame(earsOf(heard(played(keys))), earsOf(heard(played(moved))))).toBe(true);
      }),
    );
  });

  it('is another where a pitch comes over the middle, or a note comes at another time', () => {
    const before = earsOf(heard(played([60, 61, 62, 63, 64])));
    expect(isSame(before, earsOf(heard(played([60, 66, 62, 63, 64]))))).toBe(false);
    expect(isSame(before, earsOf(heard(played([60, 61, 62, 63, 64], 0.02))))).toBe(false);
  });

  it('has no pitch at all where no lead is looked for', () => {
    for (const more of [{ unpitched: true }, { tidiness: { attacks: true, releases: true } }])
      expect(
        isSame(earsOf(heard(played([60, 61, 62]), more)), earsOf(heard(played([90, 31, 72]), more))),
      ).toBe(true);
  });

  it('divides high from low where all of its keys do', () => {
    fc.assert(
      fc.property(someKeys, (keys) => {
        const [strikes = []] = struckIn(earsOf(heard(played(keys)))).strikes;
        const middle = keys.toSorted((a, b) => a - b)[keys.length >> 1]!;
        expect(strikes.map(({ key }) => key).sort((a, b) => a - b)[keys.length >> 1]).toBe(middle);
        expect(strikes.map(({ key }) => key >= middle)).toEqual(keys.map((key) => key >= middle));
      }),
    );
  });

  it('attacks where its notes do, chords and rolls included', () => {
    const chord = fc.record({
      at: fc.integer({ min: 0, max: 100 }),
      keys: fc.uniqueArray(fc.integer({ min: 40, max: 80 }), { minLength: 1, maxLength: 4 }),
      roll: fc.integer({ min: 0, max: 24 }),
    });
    fc.assert(
      fc.property(fc.array(chord, { minLength: 1, maxLength: 12 }), fc.boolean(), (chords, written) => {
        const notes = chords.flatMap(({ at, keys, roll }) =>
          keys.map((key, index) => sketched(at / 4 + (index * roll) / 480, 0.5, key)),
        );
        const hearing = heard(notes, { tidiness: { attacks: written, releases: written } });
        const attacks = gatherAttacks(
          notes.map((note) => ({ ...note })),
          FRAME,
          written,
        );
        expect(playedAttacks(earsOf(hearing), [NO_LEAD], FRAME).map(({ at }) => Math.round(at))).toEqual(
          attacks.map(({ at }) => Math.round(at)),
        );
      }),
    );
  });
});
