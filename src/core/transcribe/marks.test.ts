import { describe, expect, it } from 'vitest';
import { madeFile, madeTrack, type Stroke } from '../../../tests/helpers/made-file';
import { barsOfScore, frameBars } from '../model/frame';
import type { SmfEvent } from '../sources/smf/events';
import { readPerformance } from '../sources/smf/performance';
import { tempoMarks } from './marks';

const strokes = Array.from({ length: 64 }, (_, at): Stroke => [at * 480, at * 480 + 400, 60]);
const tempo = (quarter: number, perMinute: number): SmfEvent => ({
  kind: 'tempo',
  tick: quarter * 480,
  microsPerQuarter: Math.round(6e7 / perMinute),
});

/** The tempos that are read, as quarter and figure. */
function printedIn(...events: SmfEvent[]) {
  const performance = readPerformance(madeFile({ events }, madeTrack('Flute', 0, strokes)));
  const tempos = events.filter(({ kind }) => kind === 'tempo');
  const marks = tempoMarks(
    performance,
    frameBars(performance.clock, barsOfScore(performance.clock, 64 * 480)),
  );
  expect(marks).toHaveLength(tempos.length);
  return marks.flatMap(({ bar, printed }) => (printed === null ? [] : [[bar, Math.round(printed)]]));
}

describe('tempos', () => {
  it('are printed where they hold', () => {
    expect(printedIn(tempo(0, 90), tempo(16, 120), tempo(32, 120))).toEqual([
      [0, 90],
      [4, 120],
    ]);
  });

  it('sound only where they are steps of a change', () => {
    const slowing = [56, 57, 58, 59].map((quarter, step) => tempo(quarter, 96 - 8 * step));
    expect(printedIn(tempo(0, 104), ...slowing, tempo(60, 60))).toEqual([
      [0, 104],
      [15, 60],
    ]);
  });

  it('begin with the one that goes on, whatever a first beat cut short has', () => {
    expect(printedIn(tempo(0, 131), tempo(1, 126))).toEqual([[0, 126]]);
  });

  it('begin with the one of the first whole bar, whatever an upbeat has', () => {
    const meter = (quarter: number, beats: number): SmfEvent => ({
      kind: 'timeSignature',
      tick: quarter * 480,
      numerator: beats,
      denominator: 4,
      clocks: 24,
      thirtySeconds: 8,
    });
    expect(printedIn(meter(0, 1), tempo(0, 71), meter(1, 4), tempo(1, 81))).toEqual([[0, 81]]);
  });

  it('begin with the mean pace in free playing', () => {
    const free = Array.from({ length: 64 }, (_, at) => tempo(at, at === 0 ? 150 : at % 2 === 0 ? 104 : 96));
    const [[bar, figure] = []] = printedIn(...free);
    expect(bar).toBe(0);
    expect(Math.abs(figure! - 100)).toBeLessThanOrEqual(1);
  });
});
