import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { inTurns } from './turns';

const bars = { downbeats: [0, 2, 4, 6, 8], end: 9.5, loops: false, range: null };

describe('two readings in turns', () => {
  it('play the same bars one after the other, then the next', () => {
    expect([...inTurns({ ...bars, from: 4.5, span: 2 })]).toEqual([
      { reading: 0, from: 4, until: 8 },
      { reading: 1, from: 4, until: 8 },
      { reading: 0, from: 8, until: 9.5 },
      { reading: 1, from: 8, until: 9.5 },
    ]);
  });

  it('play an upbeat from the start', () => {
    const [first] = inTurns({ ...bars, downbeats: [0.5, 2.5], from: 0, span: 1 });
    expect(first).toEqual({ reading: 0, from: 0, until: 2.5 });
  });

  it('play chosen bars only, and again where they are looped', () => {
    const chosen = { ...bars, range: [2, 6] as const, from: 0, span: 1 };
    expect([...inTurns(chosen)].map(({ reading }) => reading)).toEqual([0, 1]);
    const looped = inTurns({ ...chosen, loops: true });
    const heard = Array.from({ length: 7 }, () => looped.next().value);
    expect(heard.map((turn) => turn?.reading)).toEqual([0, 1, 0, 1, 0, 1, 0]);
  });

  it('leave nothing out and play nothing more than once each, from the bar that they begin in', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.2, max: 5, noNaN: true }), { minLength: 1, maxLength: 40 }),
        fc.integer({ min: 1, max: 8 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (lengths, span, share) => {
          let end = 0;
          const downbeats = lengths.map((length) => {
            const start = end;
            end += length;
            return start;
          });
          const turns = [...inTurns({ downbeats, end, span, from: share * end, range: null, loops: false })];
          for (const reading of [0, 1]) {
            const own = turns.filter((turn) => turn.reading === reading);
            own.forEach((turn, index) => {
              if (index > 0) expect(turn.from).toBe(own[index - 1]!.until);
            });
            expect(own[0]!.from).toBeLessThanOrEqual(share * end + 1e-6);
            expect(own.at(-1)!.until).toBe(end);
          }
        },
      ),
    );
  });
});
