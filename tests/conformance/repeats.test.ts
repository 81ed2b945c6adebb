import { describe, expect, it } from 'vitest';
import { seeded } from '@/core/basics/random';
import { foldScore } from '@/core/edit/fold';
import { findRepeats, findReturn } from '@/core/infer/form/repeats';
import type { Score } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import { playedOrder } from '@/core/perform/bar-order';
import { reconcile } from '@/core/reconcile';
import type { ReadNote, Side } from '@/core/reconcile/reading';
import works from '../../bench/form.json';

/** Bars without parts: enough for signs and their order. */
const barsOnly = (count: number): Score => ({
  title: '',
  bars: Array.from({ length: count }, (_, index) => ({
    index,
    number: index + 1,
    start: index * 4 * QUARTER,
    length: 4 * QUARTER,
    meter: { numerator: 4, denominator: 4 },
    groups: [4 * QUARTER],
    missing: 0,
  })),
  keys: [],
  tempos: [],
  rehearsals: [],
  parts: [],
});

/**
 * Works with printed repeats, played out by the expansion of a reference library
 * (music21 from PyPI; scripts/form-facts.py), and folded here.
 */
describe.each(Object.entries(works))('%s', (_, { kinds, sounds, order }) => {
  const played = {
    kinds: order.map((bar) => kinds[bar]!),
    sounds: order.map((bar) => sounds[bar] === '1'),
  };
  const repeats = findRepeats(played);
  const back = findReturn(played, repeats);
  const { score, writtenAs } = foldScore(
    barsOnly(order.length),
    back?.repeats ?? repeats,
    back?.goesBack ?? null,
  );

  it('plays in the same order when it is folded', () => {
    const again = playedOrder(score.bars).map(({ bar }) => bar);
    expect(again).toEqual(writtenAs);
    const kindOf = new Map(writtenAs.map((bar, at) => [bar, played.kinds[at]!]));
    expect(again.map((bar) => kindOf.get(bar))).toEqual(played.kinds);
  });

  it('is as short as it was printed, or shorter', () => {
    expect(score.bars.length).toBeLessThanOrEqual(kinds.length);
  });

  it('is told from what is printed: each bar that is played again is known for the one that it is', () => {
    const printed = kinds.map((_, bar) => bar);
    const { bars, entries } = reconcile(madeOf(kinds, printed), madeOf(kinds, order))!;
    for (const { one, two, again } of bars) {
      if (two === null) continue;
      if (one !== null) expect(kinds[order[two]!]).toBe(kinds[one]);
      else expect(again === undefined || kinds[order[again]!] === kinds[order[two]!]).toBe(true);
    }
    const paired = new Set(bars.flatMap(({ one, two }) => (one === null ? [] : [two])));
    for (const { one, two, differs } of entries)
      if (two && paired.has(Math.floor(two.start / BAR))) expect([one?.key, differs]).toEqual([two.key, []]);
  });
});

const BAR = 4 * QUARTER;

/** Music in which bars of one kind are alike and all others are not, played in some order. */
function madeOf(kinds: readonly number[], order: readonly number[]): Side {
  const notes = order.flatMap((bar, at) => {
    const random = seeded(kinds[bar]! + 1);
    return Array.from({ length: 8 }, (_, eighth): ReadNote => {
      const start = at * BAR + (eighth * QUARTER) / 2;
      const key = 40 + Math.floor(random() * 40);
      return { id: `${at}/${eighth}`, line: 0, key, start, end: start + QUARTER / 2 };
    });
  });
  return {
    kind: 'score',
    lines: [{ id: 'x', name: 'x', unpitched: false, notes }],
    bars: order.map((written, at) => ({
      start: at * BAR,
      length: BAR,
      written,
      number: String(written + 1),
      meter: '4/4',
      groups: [],
      missing: 0,
      fifths: 0,
      tempo: null,
    })),
  };
}
