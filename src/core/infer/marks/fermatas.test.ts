import { describe, expect, it } from 'vitest';
import { QUARTER } from '../../model/time';
import { findFermatas } from './fermatas';

const quarters = (...places: number[]) => places.map((place) => place * QUARTER);
const paces = (...tempos: [at: number, pace: number][]) =>
  tempos.map(([at, quartersPerMinute]) => ({ at: at * QUARTER, quartersPerMinute }));
const found = (tempos: [number, number][], starts: number[], end = 16) =>
  findFermatas(paces(...tempos), quarters(...starts), end * QUARTER).map(({ at, to }) => [
    at / QUARTER,
    to / QUARTER,
  ]);

describe('fermatas that tempos tell', () => {
  it('are where one note alone is slower, and all goes on as before', () => {
    expect(
      found(
        [
          [0, 100],
          [3, 50],
          [4, 100],
        ],
        [0, 1, 2, 3, 4, 5],
      ),
    ).toEqual([[3, 4]]);
  });

  it('may be the last of the piece', () => {
    expect(
      found(
        [
          [0, 100],
          [12, 40],
        ],
        [0, 4, 8, 12],
      ),
    ).toEqual([[12, 16]]);
  });

  it('are none where music goes on within, where it stays slower, in a rit., and of no note', () => {
    expect(
      found(
        [
          [0, 100],
          [3, 50],
          [5, 100],
        ],
        [0, 1, 2, 3, 4, 5],
      ),
    ).toEqual([]);
    expect(
      found(
        [
          [0, 100],
          [3, 50],
          [4, 60],
        ],
        [0, 1, 2, 3, 4, 5],
      ),
    ).toEqual([]);
    expect(
      found(
        [
          [0, 100],
          [1, 90],
          [2, 80],
          [3, 70],
          [4, 100],
        ],
        [0, 1, 2, 3, 4],
      ),
    ).toEqual([]);
    expect(
      found(
        [
          [0, 100],
          [3.5, 50],
          [4, 100],
        ],
        [0, 1, 2, 3, 4],
      ),
    ).toEqual([]);
  });
});
