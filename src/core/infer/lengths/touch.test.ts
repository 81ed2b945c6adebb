import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import '../../../../tests/helpers/properties';
import { layOutFile } from '../../../../tests/helpers/desk';
import { madeFile, madeTrack, type Stroke } from '../../../../tests/helpers/made-file';
import { seeded } from '../../basics/random';
import { EMPTY_BRIEF } from '../../decisions/brief';
import { QUARTER } from '../../model/time';
import { transcribeNow } from '../../transcribe';
import { shortPassages, type Touch } from './touch';

const touch = fc.record({
  usual: fc.integer({ min: -50, max: 100 }).map((cost) => cost / 10),
  short: fc.integer({ min: -50, max: 100 }).map((cost) => cost / 10),
});

/** What a division into passages costs: 5 for each beginning, 2 for each end. */
function costOf(touches: readonly Touch[], passages: readonly boolean[]): number {
  let cost = 0;
  touches.forEach(({ usual, short }, at) => {
    const [now, before] = [passages[at]!, at > 0 && passages[at - 1]!];
    cost += (now ? short : usual) + (now && !before ? 5 : 0) + (!now && before ? 2 : 0);
  });
  return cost + (passages.at(-1) ? 2 : 0);
}

describe('passages that are played short', () => {
  it('are divided as cheaply as can be (property, against all divisions)', () => {
    fc.assert(
      fc.property(fc.array(touch, { maxLength: 9 }), (touches) => {
        const found = costOf(touches, shortPassages(touches, { begin: 5, end: 2 }));
        for (let which = 0; which < 2 ** touches.length; which++) {
          const other = touches.map((_, at) => ((which >> at) & 1) === 1);
          expect(found).toBeLessThanOrEqual(costOf(touches, other) + 1e-9);
        }
      }),
      { numRuns: 60 },
    );
  });

  /** Quarters on a piano, each held for some share of its value. */
  const lengthsOf = (shares: readonly number[]) => {
    const strokes = shares.map(
      (share, at): Stroke => [at * 480, at * 480 + Math.round(480 * share), 60 + ((at * 2) % 7)],
    );
    const { score } = transcribeNow(
      layOutFile(madeFile(madeTrack('Flute', 0, strokes)), EMPTY_BRIEF).performance,
      EMPTY_BRIEF,
    );
    return score.parts[0]!.bars.flatMap(({ voices }) =>
      voices.flatMap(({ items }) =>
        items.flatMap((item) => (item.kind === 'chord' ? [item.duration / QUARTER] : [])),
      ),
    );
  };

  it('keep their values, where the same notes are held elsewhere (common practice)', () => {
    const random = seeded(3);
    const held = Array.from({ length: 24 }, () => 0.88 + 0.11 * random());
    const short = Array.from({ length: 12 }, () => 0.3 + 0.3 * random());
    const lengths = lengthsOf([...held, ...short, ...held]);
    expect(lengths.filter((each) => each === 1).length).toBeGreaterThanOrEqual(57);
  });

  it('are not what is let go exactly on the grid: that has rests', () => {
    const held = Array.from({ length: 16 }, () => 1);
    const rests = Array.from({ length: 8 }, () => 0.5);
    expect(lengthsOf([...held, ...rests]).slice(16)).toEqual(Array(8).fill(0.5));
  });
});
