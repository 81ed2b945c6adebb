import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chordText } from '../../model/chord-text';
import type { LocalKey } from '../../model/sketch';
import { QUARTER } from '../../model/time';
import { chordNamed } from './chord-names';
import { type BeatSound, findChords } from './chords';

const C_MAJOR: LocalKey = { fifths: 0, minor: false };

/** Beats of keys, each a quarter note long, four to a bar. */
const beatsOf = (chords: readonly (readonly number[])[], key = C_MAJOR): BeatSound[] =>
  chords.map((keys, index) => {
    const weights = new Array<number>(12).fill(0);
    const lows = new Array<number>(12).fill(0);
    for (const each of keys) weights[each % 12]!++;
    if (keys.length > 0) lows[Math.min(...keys) % 12] = 1;
    return {
      start: index * QUARTER,
      end: (index + 1) * QUARTER,
      weights,
      lows,
      inside: index % 4 === 0 ? 0 : index % 4 === 2 ? 1 : 2,
      key,
    };
  });

const times = <T>(count: number, value: T): T[] => Array.from({ length: count }, () => value);
const named = (beats: readonly BeatSound[]) =>
  findChords(beats).map(({ at, symbol }) => `${at / QUARTER} ${chordText(symbol)}`);

describe('chord symbols from what sounds', () => {
  it('name root and kind, and the bass where it is another tone (common practice)', () => {
    const bars = [
      ...times(4, [48, 64, 67, 72]),
      ...times(4, [53, 65, 69, 72]),
      ...times(2, [50, 65, 69, 72]),
      ...times(2, [43, 65, 71, 74]),
      ...times(4, [52, 60, 67, 72]),
    ];
    expect(named(beatsOf(bars))).toEqual(['0 C', '4 F', '8 Dm7', '10 G7', '12 C/E']);
  });

  it('stay through passing notes', () => {
    const bars = [
      [48, 64, 67, 72],
      [48, 64, 67, 74],
      [48, 64, 67, 76],
      [48, 64, 67, 77],
    ];
    expect(named(beatsOf([...bars, ...bars]))).toEqual(['0 C']);
  });

  it('are not read from a tune by itself, a cluster, or silence', () => {
    expect(named(beatsOf(times(8, [60])))).toEqual([]);
    expect(named(beatsOf(times(8, [60, 61, 62, 63, 64, 65])))).toEqual([]);
    expect(named(beatsOf(times(8, [])))).toEqual([]);
  });

  it('spell their roots in the key that is heard', () => {
    const over = (keys: number[], fifths: number, minor = false) =>
      named(beatsOf(times(4, keys), { fifths, minor }))[0];
    expect(over([58, 62, 65], -2)).toBe('0 B♭');
    expect(over([58, 62, 65], 5)).toBe('0 A♯');
    expect(over([54, 57, 61], 3)).toBe('0 F♯m');
    expect(over([56, 59, 62, 65], 0, true)).toBe('0 G♯°7');
  });

  it('follow a transposition (property)', () => {
    const chord = fc.constantFrom([0, 4, 7], [0, 3, 7], [0, 4, 7, 10], [0, 3, 7, 10], [0, 3, 6, 10]);
    const progression = fc.array(fc.tuple(fc.nat(11), chord), { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(progression, fc.integer({ min: 1, max: 11 }), (chords, by) => {
        const played = (up: number) =>
          findChords(
            beatsOf(
              chords.flatMap(([root, tones]) =>
                times(
                  4,
                  tones.map((tone) => 48 + root + up + tone),
                ),
              ),
              // A key that no chord is outside of more than another.
              { fifths: 0, minor: false },
            ).map((beat) => ({ ...beat, key: { fifths: ((((up * 7) % 12) + 18) % 12) - 6, minor: false } })),
          ).map(({ at, symbol }) => [
            at,
            symbol.kind,
            ([0, 2, 4, 5, 7, 9, 11]['CDEFGAB'.indexOf(symbol.root.step)]! + symbol.root.alter - up + 36) % 12,
          ]);
        expect(played(by)).toEqual(played(0));
      }),
    );
  });

  it('are written as names that are read back as the same chords', () => {
    for (const [bars] of [
      [times(4, [50, 65, 69, 72])],
      [times(4, [43, 65, 71, 74])],
      [times(4, [52, 60, 67])],
    ] as const)
      for (const { symbol } of findChords(beatsOf(bars))) {
        const again = chordNamed(chordText(symbol));
        expect(again).toMatchObject({ root: symbol.root, kind: symbol.kind });
      }
  });
});
