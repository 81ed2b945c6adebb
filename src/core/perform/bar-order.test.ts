import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Bar, Barline, Jump } from '../model/score';
import { QUARTER } from '../model/time';
import { playedOrder } from './bar-order';

const LENGTH = 4 * QUARTER;
const bar = (index: number, more: Partial<Bar> = {}): Bar => ({
  index,
  number: index + 1,
  start: index * LENGTH,
  length: LENGTH,
  meter: { numerator: 4, denominator: 4 },
  groups: [],
  missing: 0,
  ...more,
});
const forward: Barline = { repeat: { direction: 'forward' } };
const backward = (times?: number): Barline => ({
  repeat: { direction: 'backward', ...(times && { times }) },
});
const begins = (...numbers: number[]): Barline => ({ ending: { numbers, type: 'start' } });
const ends = (...numbers: number[]): Barline => ({ ending: { numbers, type: 'stop' } });
const jump = (kind: Jump['kind'], at = LENGTH): Jump => ({ kind, at });

/** Bars from shorthand, and the numbers in which they are played. */
const order = (...bars: Partial<Bar>[]): string =>
  playedOrder(bars.map((more, index) => bar(index, more)))
    .map((played) => played.bar + 1)
    .join(' ');

/** The structures are those of engraving handbooks; how each is played is common practice and MusicXML 4.0. */
describe('the order in which bars are played', () => {
  it.each<[string, string, Partial<Bar>[]]>([
    ['no repeats', '1 2 3', [{}, {}, {}]],
    ['a repeat from the start', '1 2 1 2 3', [{}, { right: backward() }, {}]],
    ['a section', '1 2 3 2 3 4', [{}, { left: forward }, { right: backward() }, {}]],
    ['three times', '1 1 1 2', [{ right: backward(3) }, {}]],
    [
      'two sections, the second without a sign of its own',
      '1 1 2 3 2 3',
      [{ right: backward() }, {}, { right: backward() }],
    ],
    [
      'first and second ending',
      '1 2 1 3 4',
      [
        {},
        { left: begins(1), right: { ...backward(), ...ends(1) } },
        { left: begins(2), right: ends(2) },
        {},
      ],
    ],
    [
      'endings 1–2 and 3',
      '1 2 1 2 1 3',
      [
        {},
        { left: begins(1, 2), right: { ...backward(), ...ends(1, 2) } },
        { left: begins(3), right: ends(3) },
      ],
    ],
    [
      'an ending over two bars, then a section with endings of its own',
      '1 2 3 1 4 5 6 5 7',
      [
        {},
        { left: begins(1) },
        { right: { ...backward(), ...ends(1) } },
        { left: begins(2), right: ends(2) },
        { left: forward },
        { left: begins(1), right: { ...backward(), ...ends(1) } },
        { left: begins(2), right: ends(2) },
      ],
    ],
    ['D.C. al Fine', '1 2 3 1 2', [{}, { jumps: [jump('fine')] }, { jumps: [jump('da-capo')] }]],
    [
      'D.S. al Fine',
      '1 2 3 4 2 3',
      [{}, { jumps: [jump('segno', 0)] }, { jumps: [jump('fine')] }, { jumps: [jump('dal-segno')] }],
    ],
    [
      'D.S. al Coda',
      '1 2 3 4 2 5 6',
      [
        {},
        { jumps: [jump('segno', 0), jump('to-coda')] },
        {},
        { jumps: [jump('dal-segno')] },
        { jumps: [jump('coda', 0)] },
        {},
      ],
    ],
    ['D.C. without Fine plays the whole again', '1 2 1 2', [{}, { jumps: [jump('da-capo')] }]],
    [
      'after D.C. no section is repeated',
      '1 1 2 3 1 2 3',
      [{ right: backward() }, {}, { jumps: [jump('da-capo')] }],
    ],
    [
      'after D.C. the last ending is played',
      '1 2 1 3 4 1 3',
      [
        {},
        { left: begins(1), right: { ...backward(), ...ends(1) } },
        { left: begins(2), right: ends(2), jumps: [jump('fine')] },
        { jumps: [jump('da-capo')] },
      ],
    ],
    [
      'a jump at the end of a section waits for its repeat',
      '1 2 1 2 1 2',
      [{}, { right: backward(), jumps: [jump('da-capo')] }],
    ],
  ])('%s: %s', (_, played, bars) => {
    expect(order(...bars)).toBe(played);
  });

  it('leaves and enters in the middle of a bar where the signs stand there', () => {
    const half = LENGTH / 2;
    const played = playedOrder([
      bar(0),
      bar(1, { jumps: [jump('segno', half)] }),
      bar(2, { jumps: [jump('fine', half)] }),
      bar(3, { jumps: [jump('dal-segno', half)] }),
    ]);
    expect(played.map((each) => [each.bar, each.from, each.to, each.pass])).toEqual([
      [0, 0, LENGTH, 0],
      [1, 0, LENGTH, 0],
      [2, 0, LENGTH, 0],
      [3, 0, half, 0],
      [1, half, LENGTH, 1],
      [2, 0, half, 1],
    ]);
  });

  it('always ends, whatever the signs say', () => {
    const barline = fc.record(
      {
        repeat: fc.record({
          direction: fc.constantFrom('forward' as const, 'backward' as const),
          times: fc.integer({ min: 1, max: 4 }),
        }),
        ending: fc.record({
          numbers: fc.array(fc.integer({ min: 1, max: 3 }), { maxLength: 2 }),
          type: fc.constantFrom('start' as const, 'stop' as const, 'discontinue' as const),
        }),
      },
      { requiredKeys: [] },
    );
    const signs = fc.array(
      fc.record({
        kind: fc.constantFrom<Jump['kind']>('segno', 'coda', 'fine', 'to-coda', 'da-capo', 'dal-segno'),
        at: fc.constantFrom(0, QUARTER, LENGTH),
      }),
      { maxLength: 2 },
    );
    fc.assert(
      fc.property(
        fc.array(fc.record({ left: barline, right: barline, jumps: signs }), { minLength: 1, maxLength: 8 }),
        (bars) => {
          const played = playedOrder(bars.map((more, index) => bar(index, more)));
          expect(played.length).toBeLessThan(2000);
          for (const each of played) expect(each.to).toBeGreaterThan(each.from);
        },
      ),
      { numRuns: 500 },
    );
  });
});
