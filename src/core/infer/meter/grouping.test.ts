import { describe, expect, it } from 'vitest';
import { briefOf, madeFile, madeTrack, meterAt, type Stroke } from '../../../../tests/helpers/made-file';
import { seeded } from '../../basics/random';
import { type Groups, groupings, unitsOf } from '../../model/groups';
import { QUARTER } from '../../model/time';
import { readPerformance } from '../../sources/smf/performance';
import { transcribeNow } from '../../transcribe';

/** Bass where groups begin, a chord on what is left of them, jittered; ticks of an eighth are 240. */
function figure(bars: readonly Groups[], unit = 240): Stroke[] {
  const random = seeded(3);
  const strokes: Stroke[] = [];
  let at = 0;
  bars.forEach((groups, bar) => {
    for (const length of groups) {
      const on = at * unit + Math.round(random() * 20);
      strokes.push([on, on + unit - 30, 43 + ((bar * 5 + strokes.length) % 7)]);
      for (let each = 1; each < length; each++) {
        const after = (at + each) * unit + Math.round(random() * 20);
        for (const key of [64, 67]) strokes.push([after, after + unit - 60, key]);
      }
      at += length;
    }
  });
  return strokes;
}

function groupsOf(numerator: number, denominator: number, bars: readonly Groups[], brief = briefOf()) {
  const smf = madeFile(
    { events: [meterAt(0, numerator, denominator)] },
    madeTrack('Piano', 0, figure(bars, (960 * 2) / denominator)),
  );
  const { score, foundGroups } = transcribeNow(readPerformance(smf), brief);
  const written = score.bars.map(({ groups }) => unitsOf(groups, { numerator, denominator }));
  return { written, foundGroups, score };
}

const times = <T>(count: number, what: T): T[] => Array.from({ length: count }, () => what);

describe('groups', () => {
  it('of a bar are all sums of twos and threes, the usual one first', () => {
    // Common practice: 3+2, 2+2+3, 3+3+2.
    expect(groupings({ numerator: 5, denominator: 8 })).toEqual([
      [3, 2],
      [2, 3],
    ]);
    expect(groupings({ numerator: 7, denominator: 8 })).toEqual([
      [2, 2, 3],
      [2, 3, 2],
      [3, 2, 2],
    ]);
    expect(groupings({ numerator: 8, denominator: 8 })).toEqual([
      [3, 3, 2],
      [2, 2, 2, 2],
      [2, 3, 3],
      [3, 2, 3],
    ]);
    for (const [numerator, denominator] of [
      [4, 4],
      [3, 4],
      [6, 8],
      [12, 8],
      [2, 2],
    ] as const)
      expect(groupings({ numerator, denominator })).toEqual([]);
    for (const groups of groupings({ numerator: 11, denominator: 8 }))
      expect(groups.reduce((sum, each) => sum + each)).toBe(11);
  });

  it.each([
    [5, 8, [3, 2]],
    [5, 8, [2, 3]],
    [7, 8, [2, 2, 3]],
    [7, 8, [3, 2, 2]],
    [7, 8, [2, 3, 2]],
    [8, 8, [3, 2, 3]],
    [5, 4, [2, 3]],
    [11, 8, [3, 3, 3, 2]],
  ])('of %i/%i are heard: %j', (numerator, denominator, groups) => {
    const { written } = groupsOf(numerator, denominator, times(8, groups));
    expect(written).toEqual(times(8, groups));
  });

  it('change where the music does, and not for one odd bar of little weight', () => {
    const bars = [...times(8, [2, 3]), ...times(8, [3, 2])];
    expect(groupsOf(5, 8, bars).written).toEqual(bars);
  });

  it('are the usual ones where nothing speaks', () => {
    const even = Array.from({ length: 35 }, (_, at): Stroke => [at * 240, at * 240 + 200, 60]);
    const smf = madeFile({ events: [meterAt(0, 7, 8)] }, madeTrack('Flute', 0, even));
    const { score } = transcribeNow(readPerformance(smf), briefOf());
    expect(
      score.bars.every(
        ({ groups }) => groups.join() === [2, 2, 3].map((each) => each * (QUARTER / 2)).join(),
      ),
    ).toBe(true);
  });

  it('are those that were chosen, for all or a passage', () => {
    const bars = times(8, [3, 2, 2]);
    const chosen = { kind: 'groups' as const, numerator: 7, denominator: 8, groups: [2, 3, 2] };
    expect(groupsOf(7, 8, bars, briefOf(chosen)).written).toEqual(times(8, [2, 3, 2]));
    const passage = { ...chosen, from: 7 * 240 * 4, to: 7 * 240 * 6 };
    const { written, foundGroups } = groupsOf(7, 8, bars, briefOf(passage));
    expect(written).toEqual([...times(4, [3, 2, 2]), ...times(2, [2, 3, 2]), ...times(2, [3, 2, 2])]);
    expect(foundGroups).toEqual(bars);
    // Groups of another meter, or that do not add up, change nothing.
    for (const groups of [
      [2, 2],
      [3, 3, 3],
    ])
      expect(groupsOf(7, 8, bars, briefOf({ ...chosen, groups })).written).toEqual(bars);
    expect(groupsOf(7, 8, bars, briefOf({ ...chosen, numerator: 5, groups: [3, 2] })).written).toEqual(bars);
  });

  it('beam by what was heard', () => {
    const { score } = groupsOf(7, 8, times(8, [3, 2, 2]));
    const upper = score.parts[0]!.bars[0]!.voices[0]!;
    const onsets = upper.items.map(({ onset }) => onset / (QUARTER / 2));
    expect(onsets).toContain(3);
  });
});
