import { describe, expect, it } from 'vitest';
import { lanternFerry } from '../demo/lantern-ferry';
import type { Part, Score } from '../model/score';
import { writeMusicXml } from '../sources/musicxml/write';
import { sliceScore } from './slice';

const ferry = lanternFerry();
const [flute, clarinet] = ferry.parts as [Part, Part];
/** The demo with a line over bars 3 to 10 of its flute, by index, and groups over its parts. */
const score: Score = {
  ...ferry,
  parts: [
    {
      ...flute,
      spanners: [
        {
          id: 'o',
          kind: 'octave',
          octaves: 1,
          from: { bar: 3, at: 0 },
          to: { bar: 9, at: 0 },
          placement: 'above',
        },
      ],
    },
    clarinet,
    ...ferry.parts.slice(2),
  ],
  groups: [
    { from: 0, to: 3, symbol: 'bracket', joined: true },
    { from: 2, to: 3, symbol: 'brace', joined: true },
  ],
};
const window = (from: number, to: number, parts = [flute.id]) => sliceScore(score, new Set(parts), from, to);
const shifts = (from: number, to: number) =>
  [...writeMusicXml(window(from, to)).matchAll(/octave-shift type="(\w+)"/g)].map(([, type]) => type);

describe('a window on a score', () => {
  it('has what stretches over it from edge to edge, and nothing of what lies outside', () => {
    expect(shifts(0, 3)).toEqual([]);
    for (const [from, to] of [
      [0, 12],
      [0, 5],
      [4, 6],
      [6, 12],
    ] as const)
      expect(shifts(from, to)).toEqual(['down', 'stop']);
    expect(shifts(10, 12)).toEqual([]);
  });

  it('keeps the groups that hold two or more of the parts in view', () => {
    const ids = score.parts.map(({ id }) => id);
    expect(window(0, 2, ids.slice(0, 2)).groups).toEqual([
      { from: 0, to: 1, symbol: 'bracket', joined: true },
    ]);
    expect(window(0, 2, [ids[2]!, ids[3]!]).groups).toEqual([
      { from: 0, to: 1, symbol: 'bracket', joined: true },
      { from: 0, to: 1, symbol: 'brace', joined: true },
    ]);
    expect(window(0, 2, [ids[0]!]).groups).toEqual([]);
  });
});
