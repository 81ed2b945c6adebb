import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sameBars } from './same-bars';

const bars = (text: string) => [...text].map((each) => (each === '.' ? '' : `0 4 ${each.charCodeAt(0)}`));
const across = (before: string, after: string) =>
  [...sameBars(bars(before), bars(after)).across].sort(([a], [b]) => a - b);

describe('bars that hold the very same music', () => {
  it('are found where they stand, also where others were moved past them', () => {
    expect(across('abcdef', 'abefcd')).toEqual([
      [0, 0],
      [1, 1],
      [2, 4],
      [3, 5],
      [4, 2],
      [5, 3],
    ]);
  });

  it('go by their neighbours where there are several alike', () => {
    expect(across('axxbxxc', 'bxxcaxx')).toEqual([
      [0, 4],
      [1, 5],
      [2, 6],
      [3, 0],
      [4, 1],
      [5, 2],
      [6, 3],
    ]);
  });

  it('are in order where nothing tells them apart', () => {
    expect(across('xxxx', 'xx')).toEqual([
      [0, 0],
      [1, 1],
    ]);
    expect(across('a..b', 'a....b')).toEqual([
      [0, 0],
      [1, 1],
      [2, 2],
      [3, 5],
    ]);
  });

  it('are all there is where bars went, came again or stand elsewhere; not where one may have changed', () => {
    const isAll = (before: string, after: string) => sameBars(bars(before), bars(after)).isAll;
    expect(isAll('abcd', 'ad')).toBe(true);
    expect(isAll('abcd', 'abab.cd')).toBe(true);
    expect(isAll('abcd', 'dabc')).toBe(true);
    expect(isAll('abcd', 'abxd')).toBe(false);
    // The third may be another one now, or the second again in the place of a third that went.
    expect(isAll('abcd', 'abbd')).toBe(false);
  });

  it('are one to one, and alike, whatever is done', () => {
    const text = fc.string({ unit: fc.constantFrom(...'abcde.'), maxLength: 14 });
    fc.assert(
      fc.property(text, text, (before, after) => {
        const found = sameBars(bars(before), bars(after)).across;
        expect(new Set(found.values()).size).toBe(found.size);
        for (const [one, two] of found) expect(before[one]).toBe(after[two]);
      }),
    );
  });
});
