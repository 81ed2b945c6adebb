import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { EventId } from '../../model/ids';
import type { SketchNote } from '../../model/sketch';
import { QUARTER } from '../../model/time';
import { playerTexts } from './players';

/** Notes of players, each as start and length in quarters and the players that have it. */
function staff(rows: readonly (readonly [start: number, length: number, ...players: number[]])[]) {
  const playerOf = new Map<EventId, number>();
  const notes = rows.map(([start, length, ...players], at): SketchNote => {
    const sources = players.map((player): EventId => {
      const id: EventId = `1/t${player}c1/${at}`;
      playerOf.set(id, player);
      return id;
    });
    const id = sources[0]!;
    const from = start * QUARTER;
    const to = (start + length) * QUARTER;
    // What one plays alone is no unison.
    const key = players.length > 1 ? 60 : 60 + players[0]!;
    const strike = { strand: 0, tick: from, held: 1, key };
    return {
      id,
      key,
      velocity: 80,
      on: from,
      off: to,
      strike,
      at: from,
      until: to,
      literal: undefined,
      start: from,
      end: to,
      staff: 1,
      voice: 1,
      sources,
    };
  });
  const texts = playerTexts(notes, playerOf);
  return texts.map(({ at, text }) => [at / QUARTER, text]);
}

describe('players that share a staff', () => {
  it('are told where one is alone, and where they play the same', () => {
    expect(
      staff([
        [0, 4, 1],
        [4, 4, 1],
        [8, 4, 1],
        [8, 4, 2],
        [12, 2, 1, 2],
        [14, 2, 1, 2],
        [16, 4, 1],
        [16, 4, 2],
        [20, 4, 2],
        [24, 4, 2],
      ]),
    ).toEqual([
      [0, '1.'],
      [12, 'a2'],
      [20, '2.'],
    ]);
  });

  it('are not told for a rest of a beat, nor while the other holds a note', () => {
    expect(
      staff([
        [0, 1, 1],
        [0, 1, 2],
        [1, 1, 1],
        [2, 1, 1],
        [2, 1, 2],
        [3, 9, 2],
        [3, 1, 1],
        [4, 1, 1],
        [5, 7, 1],
        [12, 1, 1],
        [12, 1, 2],
      ]),
    ).toEqual([]);
  });

  it('are never told the same twice on end', () => {
    const row = fc.tuple(
      fc.integer({ min: 0, max: 40 }),
      fc.integer({ min: 1, max: 6 }),
      fc.constantFrom([1], [2], [1, 2]),
    );
    fc.assert(
      fc.property(fc.array(row, { maxLength: 30 }), (rows) => {
        const texts = staff(rows.map(([start, length, players]) => [start, length, ...players]));
        for (const [, text] of texts) expect(['1.', '2.', 'a2']).toContain(text);
        const places = texts.map(([at]) => at);
        expect(new Set(places).size).toBe(places.length);
      }),
    );
  });
});
