import { describe, expect, it } from 'vitest';
import { foldScore } from '@/core/edit/fold';
import { findRepeats, findReturn } from '@/core/infer/form/repeats';
import type { Score } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import { playedOrder } from '@/core/perform/bar-order';
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
});
