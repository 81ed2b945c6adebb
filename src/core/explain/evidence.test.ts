import { describe, expect, it } from 'vitest';
import { briefOf, madeFile, madeTrack, type Stroke } from '../../../tests/helpers/made-file';
import { EMPTY_BRIEF } from '../decisions/brief';
import type { SmfEvent } from '../sources/smf/events';
import { readPerformance } from '../sources/smf/performance';
import { transcribeNow } from '../transcribe';
import { evidenceOf } from './evidence';

const tempo = (tick: number, perMinute: number): SmfEvent => ({
  kind: 'tempo',
  tick,
  microsPerQuarter: Math.round(6e7 / perMinute),
});

/** Eight bars of eighths whose second half comes at `offbeat` of the quarter. */
const eighths = (offbeat: number, shift = 0): Stroke[] =>
  Array.from({ length: 64 }, (_, at): Stroke => {
    const on = Math.round((Math.floor(at / 2) + (at % 2 ? offbeat : 0)) * 480) + shift;
    return [on, on + 150, 60 + (at % 5)];
  });

const read = (strokes: readonly Stroke[], events: SmfEvent[] = [], brief = EMPTY_BRIEF) =>
  transcribeNow(readPerformance(madeFile({ events }, madeTrack('Oboe', 0, strokes))), brief);

describe('evidence', () => {
  it('tells how far attacks are from their places, in milliseconds', () => {
    // 12 ticks at 120 quarter notes a minute are 12.5 ms.
    const { deviations } = evidenceOf(
      read(
        eighths(0.5, 12),
        [],
        // Neither the file nor the part is late as a whole: that is what they deviate by.
        briefOf({ kind: 'offset', ticks: 0 }, { kind: 'lead', strand: '1/t2c1', milliseconds: 0 }),
      ),
      0,
    );
    expect(deviations).toHaveLength(64);
    for (const each of deviations) expect(each).toBeCloseTo(12.5, 1);
  });

  it('compares grids: straight eighths are off by nothing on their own, by much on triplets', () => {
    const { grids } = evidenceOf(read(eighths(0.5)), 0);
    const away = new Map(grids.map((each) => [each.slots, each.away]));
    expect([away.get(2), away.get(4), away.get(6)]).toEqual([0, 0, 0]);
    // Every second attack lies half-way between two triplet slots: a sixth of 500 ms.
    expect(away.get(3)).toBeCloseTo(500 / 12, 1);
  });

  it('follows tempo and swing bar by bar', () => {
    const { bars } = evidenceOf(read(eighths(2 / 3), [tempo(0, 120), tempo(4 * 1920, 96)]), 0);
    expect(bars.map((each) => Math.round(each.tempo))).toEqual([120, 120, 120, 120, 96, 96, 96, 96]);
    for (const { ratio } of bars) expect(ratio).toBeCloseTo(2 / 3, 2);
    const quarters = Array.from({ length: 32 }, (_, at): Stroke => [at * 480, at * 480 + 400, 60]);
    expect(evidenceOf(read(quarters), 0).bars.every(({ ratio }) => ratio === null)).toBe(true);
  });
});
