import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { barIndexOf, type SwungValue } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import { soundedNotes } from '@/core/perform/play';
import { swungMoments } from '@/core/perform/swing';
import { readPerformance } from '@/core/sources/smf/performance';
import { transcribeNow } from '@/core/transcribe';
import { madeFile, madeTrack, type Stroke } from './helpers/made-file';

const TICKS = 480;
const BARS = 16;

/** What stands in a beat of swung music, as written and as it sounds at 2:1. */
interface Kind {
  written: number[];
  sounding: number[];
}
const alike = (...places: number[]): Kind => ({ written: places, sounding: places });
const quarter = alike(0);
const triplet = alike(0, 1 / 3, 2 / 3);
const sixteenths = alike(0, 1 / 4, 1 / 2, 3 / 4);

/** What swings, and what is found beside it in such music (common practice). */
const SWUNG: [value: SwungValue, pairs: Kind, others: Kind[]][] = [
  ['eighth', { written: [0, 1 / 2], sounding: [0, 2 / 3] }, [quarter, triplet, sixteenths]],
  [
    '16th',
    { written: sixteenths.written, sounding: [0, 1 / 3, 1 / 2, 5 / 6] },
    [quarter, alike(0, 1 / 2), triplet, { written: [0, 1 / 2, 3 / 4], sounding: [0, 1 / 2, 5 / 6] }],
  ],
];

/** Half of each bar are pairs, and all of the outer bars: what is not swung is the exception. */
function barsOf(pairs: Kind, others: readonly Kind[]) {
  const kind = fc.constantFrom(pairs, ...others);
  const outer = Array.from({ length: 4 }, () => pairs);
  return fc
    .array(fc.tuple(kind, kind), { minLength: BARS - 2, maxLength: BARS - 2 })
    .map((bars): Kind[] => [...outer, ...bars.flatMap(([one, two]) => [pairs, one, pairs, two]), ...outer]);
}

function played(kinds: readonly Kind[]) {
  const onsets = kinds.flatMap(({ sounding }, beat) =>
    sounding.map((phase) => Math.round((beat + phase) * TICKS)),
  );
  const ends = [...onsets.slice(1), kinds.length * TICKS];
  const strokes = onsets.map((on, index): Stroke => [on, ends[index]!, 60 + ((index * 5) % 12)]);
  return {
    onsets,
    result: transcribeNow(readPerformance(madeFile(madeTrack('Clarinet', 0, strokes))), EMPTY_BRIEF),
  };
}

describe('swung music that was programmed to the tick', () => {
  it.each(SWUNG)(
    'is swung throughout in %ss: pairs even, the rest as it stands, playing as it was',
    (value, pairs, others) => {
      fc.assert(
        fc.property(barsOf(pairs, others), (kinds) => {
          const { onsets, result } = played(kinds);
          const { score, swings } = result;
          expect(swings.map((swing) => [swing.value, swing.from, swing.to])).toEqual([[value, 0, BARS]]);
          const notes = soundedNotes(score, score.parts[0]!);
          expect(notes.map(({ start }) => start)).toEqual(
            kinds.flatMap(({ written }, beat) =>
              written.map((phase) => Math.round((beat + phase) * QUARTER)),
            ),
          );
          const sounding = swungMoments(
            score,
            notes,
            (moment) => score.bars[barIndexOf(score.bars, moment)]!,
          );
          notes.forEach(({ start }, index) => {
            expect(Math.abs((sounding(start) / QUARTER) * TICKS - onsets[index]!)).toBeLessThan(3);
          });
        }),
        { numRuns: 60 },
      );
    },
  );

  it.each([
    ['triplets', triplet],
    ['sextuplets', alike(0, 1 / 6, 1 / 3, 1 / 2, 2 / 3, 5 / 6)],
    ['16ths', sixteenths],
    ['dotted eighths', alike(0, 3 / 4)],
  ])('is not swung where it is all %s', (_, kind) => {
    const { result } = played(Array.from({ length: 4 * BARS }, () => kind));
    expect(result.swings).toEqual([]);
  });
});
