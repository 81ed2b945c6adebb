import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { beatGroups, beatsOf } from '../model/meter';
import type { Item } from '../model/score';
import { type NoteType, QUARTER } from '../model/time';
import { beamVoice } from './beams';
import { itemSpan, type Stretch, writeBar } from './rhythm';

const SHORT: Partial<Record<NoteType, string>> = {
  whole: 'w',
  half: 'h',
  quarter: 'q',
  eighth: '8',
  '16th': '16',
  '32nd': '32',
};

const barOf = (numerator: number, denominator: number) => {
  const meter = { numerator, denominator };
  return { meter, groups: beatGroups(meter), missing: 0, length: (4 * QUARTER * numerator) / denominator };
};

/** Lengths in quarters, rests negative, to written values: `q~8` is tied, `(8)` a rest, `3:8` in a triplet. */
function written(numerator: number, denominator: number, lengths: readonly number[]): string {
  let at = 0;
  const stretches = lengths.map((length): Stretch<true> => {
    const start = at;
    at += Math.abs(length) * QUARTER;
    return { start: Math.round(start), end: Math.round(at), ...(length > 0 && { content: true as const }) };
  });
  return writeBar(barOf(numerator, denominator), stretches)
    .map((piece) => {
      const value = `${piece.tuplet ? `${piece.tuplet.actual}:` : ''}${SHORT[piece.value.type]}${'.'.repeat(piece.value.dots)}`;
      return piece.content ? value + (piece.last ? '' : '~') : `(${value})`;
    })
    .join(' ');
}

const T = 1 / 3;

/**
 * Notation of rhythm as engraving handbooks teach it (common practice; the
 * cases are our own wording of rules that they share).
 */
describe('values that show the meter', () => {
  it.each([
    // 4/4
    [4, 4, [4], 'w'],
    [4, 4, [3, 1], 'h. q'],
    [4, 4, [1, 3], 'q q~ h'],
    [4, 4, [1, 2, 1], 'q h q'],
    [4, 4, [1.5, 2.5], 'q. 8~ h'],
    [4, 4, [0.5, 1, 0.5, 2], '8 q 8 h'],
    [4, 4, [1.5, 1, 1.5], 'q. 8~ 8 q.'],
    [4, 4, [2.5, 1.5], 'h~ 8 q.'],
    [4, 4, [0.5, 3.5], '8 q.~ h'],
    [4, 4, [0.75, 0.25, 0.25, 0.75, 0.25, 0.5, 0.25, 1], '8. 16 16 8. 16 8 16 q'],
    // 3/4, 2/4, cut time
    [3, 4, [3], 'h.'],
    [3, 4, [1, 2], 'q h'],
    [3, 4, [1.5, 1.5], 'q. q.'],
    [3, 4, [2.5, 0.5], 'h~ 8 8'],
    [2, 4, [0.5, 1, 0.5], '8 q 8'],
    [2, 4, [0.5, 1.5], '8 q.'],
    [2, 2, [1, 3], 'q q~ h'],
    // Compound
    [6, 8, [3], 'h.'],
    [6, 8, [1.5, 1.5], 'q. q.'],
    [6, 8, [2, 1], 'q.~ 8 q'],
    [6, 8, [1, 0.5, 0.5, 1], 'q 8 8 q'],
    [6, 8, [1, 1, 1], 'q 8~ 8 q'],
    [6, 8, [2.5, 0.5], 'q.~ q 8'],
    [9, 8, [4.5], 'h.~ q.'],
    [12, 8, [6], 'w.'],
    // Irregular
    [5, 8, [2.5], 'q.~ q'],
    [5, 8, [1.5, 1], 'q. q'],
    [5, 8, [1, 1.5], 'q 8~ q'],
    [7, 8, [3.5], 'h~ q.'],
    [7, 8, [1, 1, 1.5], 'q q q.'],
    [5, 4, [5], 'h.~ h'],
  ] as [number, number, number[], string][])('%i/%i %j is %s', (n, d, lengths, expected) => {
    expect(written(n, d, lengths)).toBe(expected);
  });

  it.each([
    [4, 4, [1, -3], 'q (q) (h)'],
    [4, 4, [-1, 1, -2], '(q) q (h)'],
    [4, 4, [1, -2, 1], 'q (q) (q) q'],
    [4, 4, [0.25, -0.75, 3], '16 (16) (8) q~ h'],
    [4, 4, [-0.75, 0.25, 3], '(8) (16) 16 q~ h'],
    [3, 4, [1, -2], 'q (q) (q)'],
    [3, 4, [-2, 1], '(q) (q) q'],
    [6, 8, [-1.5, 1.5], '(q.) q.'],
    [6, 8, [0.5, -1, 1.5], '8 (8) (8) q.'],
    [6, 8, [-1, 0.5, 1.5], '(q) 8 q.'],
    [12, 8, [-3, 3], '(h.) h.'],
    [5, 8, [-1.5, 1], '(q.) q'],
  ] as [number, number, number[], string][])('rests in %i/%i %j: %s', (n, d, lengths, expected) => {
    expect(written(n, d, lengths)).toBe(expected);
  });

  it.each([
    [4, 4, [T, T, T, 3], '3:8 3:8 3:8 q~ h'],
    [4, 4, [2 * T, T, 3], '3:q 3:8 q~ h'],
    [2, 4, [2 * T, 2 * T, 2 * T], '3:q 3:q 3:q'],
    [4, 4, [4 * T, 4 * T, 4 * T], '3:h 3:h 3:h'],
    [2, 4, [T / 2, T / 2, T / 2, T / 2, T / 2, T / 2, 1], '6:16 6:16 6:16 6:16 6:16 6:16 q'],
    [2, 4, [0.5, T / 2, T / 2, T / 2, 1], '8 3:16 3:16 3:16 q'],
    [2, 4, [-T, T, T, 1], '(3:8) 3:8 3:8 q'],
    [2, 4, [1 + T, 2 * T], '3:h 3:q'],
    [2, 4, [0.2, 0.2, 0.2, 0.2, 0.2, 1], '5:16 5:16 5:16 5:16 5:16 q'],
    [6, 8, [T / 2, T / 2, T / 2, 1, 1.5], '3:16 3:16 3:16 q q.'],
    [3, 4, [1, 2 * T, 2 * T, 2 * T], 'q 3:q 3:q 3:q'],
    [3, 4, [-7 / 12, 1 / 12, 2 * T, T, 2 * T, 2 * T], '(3:8) (3:16) (3:32) 3:32 3:8~ 3:8 3:8 3:8~ 3:8 3:q'],
    // Over two beats where three notes divide them; beat by beat where they only lean across.
    [4, 4, [1 + T, 2 * T, 1 + T, 2 * T], 'q~ 3:8 3:q q~ 3:8 3:q'],
    [2, 4, [T, 2 * T, 2 * T, T], '3:8 3:q 3:q 3:8'],
    [2, 4, [T, 4 * T, T], '3:8 3:q~ 3:q 3:8'],
    [4, 4, [-2, -T, 1, T], '(h) (3:8) 3:q~ 3:8 3:8'],
    [4, 4, [-(3 + T), 2 * T], '(h) (q) (3:8) 3:q'],
  ] as [number, number, number[], string][])('tuplets in %i/%i %j: %s', (n, d, lengths, expected) => {
    expect(written(n, d, lengths)).toBe(expected);
  });

  it('always fill the bar exactly, in values that exist', () => {
    const meters = fc.constantFrom(
      [2, 4],
      [3, 4],
      [4, 4],
      [5, 4],
      [6, 4],
      [2, 2],
      [3, 2],
      [3, 8],
      [5, 8],
      [6, 8],
      [7, 8],
      [8, 8],
      [9, 8],
      [12, 8],
    );
    fc.assert(
      fc.property(
        meters,
        fc.array(fc.tuple(fc.integer({ min: 1, max: 24 }), fc.boolean()), { minLength: 1, maxLength: 30 }),
        ([n, d], raw) => {
          const bar = barOf(n!, d!);
          let at = 0;
          const stretches: Stretch<true>[] = [];
          for (const [length, sounds] of raw) {
            const end = Math.min(at + (length * QUARTER) / 8, bar.length);
            if (end > at) stretches.push({ start: at, end, ...(sounds && { content: true as const }) });
            at = end;
          }
          if (at < bar.length) stretches.push({ start: at, end: bar.length });
          let sum = 0;
          for (const piece of writeBar(bar, stretches)) {
            expect(piece.onset).toBe(sum);
            expect(itemSpan(piece.value, piece.tuplet)).toBe(piece.duration);
            sum += piece.duration;
          }
          expect(sum).toBe(bar.length);
        },
      ),
      { numRuns: 500 },
    );
  });
});

describe('beams', () => {
  const beams = (n: number, d: number, lengths: readonly number[]): string => {
    const bar = barOf(n, d);
    let at = 0;
    const stretches = lengths.map((length): Stretch<true> => {
      const start = at;
      at += Math.abs(length) * QUARTER;
      return { start, end: at, ...(length > 0 && { content: true as const }) };
    });
    const items = writeBar(bar, stretches).map((piece): Item => {
      const timed = { onset: piece.onset, duration: piece.duration, value: piece.value };
      return piece.content ? { kind: 'chord', ...timed, notes: [] } : { kind: 'rest', ...timed };
    });
    beamVoice(items, bar);
    const signs: Record<string, string> = {
      begin: '[',
      continue: '-',
      end: ']',
      'forward hook': '>',
      'backward hook': '<',
    };
    return items
      .map((item) =>
        item.kind === 'chord' && item.beams ? item.beams.map((beam) => signs[beam]).join('') : '.',
      )
      .join(' ');
  };
  const eighths = (count: number) => new Array<number>(count).fill(0.5);

  it.each([
    [4, 4, eighths(8), '[ - - ] [ - - ]'],
    [3, 4, eighths(6), '[ - - - - ]'],
    [2, 4, eighths(4), '[ - - ]'],
    [6, 8, eighths(6), '[ - ] [ - ]'],
    [9, 8, eighths(9), '[ - ] [ - ] [ - ]'],
    [5, 8, eighths(5), '[ - ] [ ]'],
    [7, 8, eighths(7), '[ ] [ ] [ - ]'],
    [4, 4, [0.5, 0.25, 0.25, 0.5, 0.5, 2], '[ -[ ]] [ ] .'],
    [2, 4, [0.75, 0.25, 0.25, 0.75], '[ ]< [> ]'],
    [2, 4, [0.25, 0.5, 0.25, 1], '[> - ]< .'],
    [2, 4, [0.5, -0.5, 0.5, 0.5], '. . [ ]'],
    [2, 4, [0.25, -0.25, 0.25, 0.25, 1], '[[ . -- ]] .'],
    [2, 4, [0.125, 0.125, 0.25, 0.5, 1], '[[[ --] -] ] .'],
  ] as [number, number, number[], string][])('%i/%i %j: %s', (n, d, lengths, expected) => {
    expect(beams(n, d, lengths)).toBe(expected);
  });
});

describe('beats', () => {
  it.each([
    [4, 4, 4],
    [6, 8, 2],
    [9, 8, 3],
    [5, 8, 2],
    [7, 8, 3],
    [5, 4, 5],
    [3, 8, 1],
    [2, 2, 2],
  ])('%i/%i has %i', (numerator, denominator, count) => {
    const meter = { numerator, denominator };
    const beats = beatsOf({ meter, groups: beatGroups(meter) });
    expect(beats).toHaveLength(count);
    expect(beats.reduce((sum, beat) => sum + beat.length, 0)).toBe((4 * QUARTER * numerator) / denominator);
  });
});
