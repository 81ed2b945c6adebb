import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { localKeys } from './local-keys';

/** Pitch classes that sound in a beat, a quarter note each. */
const beat = (...classes: number[]): number[] =>
  Array.from({ length: 12 }, (_, pc) => classes.filter((each) => each === pc).length);
const times = (count: number, ...beats: number[][]): number[][] =>
  Array.from({ length: count }, () => beats).flat();
/** Tonic, subdominant and dominant of a major key. */
const cadence = (tonic: number) =>
  [
    [0, 4, 7],
    [5, 9, 0],
    [7, 11, 2, 5],
    [0, 4, 7],
  ].map((chord) => beat(...chord.map((each) => (each + tonic) % 12)));

describe('the key that is heard', () => {
  it('is the printed one where nothing speaks for another', () => {
    expect(localKeys(times(4, ...cadence(0)), () => 0)).toEqual(Array(16).fill({ fifths: 0, minor: false }));
  });

  it('changes within a signature', () => {
    const found = localKeys([...times(4, ...cadence(0)), ...times(4, ...cadence(4))], () => 0);
    expect(found[2]).toEqual({ fifths: 0, minor: false });
    expect(found.at(-3)).toEqual({ fifths: 4, minor: false });
  });

  it('has of two names the one nearer to the signature', () => {
    const six = times(4, ...cadence(6));
    expect(localKeys(six, () => 5).at(-1)!.fifths).toBe(6);
    expect(localKeys(six, () => -5).at(-1)!.fifths).toBe(-6);
  });

  it('stays what it is where the signature changes its name only, and lies near it in any case', () => {
    const found = localKeys(times(8, ...cadence(1)), (at) => (at < 16 ? -5 : 7));
    expect(found[4]!.fifths).toBe(-5);
    expect(found.at(-1)!.fifths).toBe(7);
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 12, maxLength: 12 }), {
          maxLength: 12,
        }),
        fc.integer({ min: -7, max: 7 }),
        (weights, signature) => {
          const keys = localKeys(weights, () => signature);
          expect(keys).toHaveLength(weights.length);
          expect(keys.every(({ fifths }) => Math.abs(fifths - signature) <= 8)).toBe(true);
        },
      ),
    );
  });
});
