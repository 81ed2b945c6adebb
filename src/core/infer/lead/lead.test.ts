import { describe, expect, it } from 'vitest';
import { briefOf, madeFile, madeTrack, type Stroke } from '../../../../tests/helpers/made-file';
import { seeded } from '../../basics/random';
import { EMPTY_BRIEF } from '../../decisions/brief';
import { readPerformance } from '../../sources/smf/performance';
import { transcribeNow } from '../../transcribe';

const TICKS = 480;
/** Ticks in 10 ms at 120 quarter notes a minute. */
const TEN = 9.6;

/** One of several players of the same quarters and eighths; `ahead` in milliseconds. */
function player(seed: number, ahead: number, jitter = 8, bars = 16): Stroke[] {
  const random = seeded(seed);
  return Array.from({ length: bars }, (_, bar) =>
    [0, 1, 1.5, 2, 3].map((beat, at): Stroke => {
      const away = (random() + random() + random() - 1.5) * 2 * (jitter / 10) * TEN - (ahead / 10) * TEN;
      const on = Math.max(0, Math.round((4 * bar + beat) * TICKS + away));
      return [on, on + 200, 60 + ((bar + at) % 7)];
    }),
  ).flat();
}

const heard = (...players: Stroke[][]) =>
  transcribeNow(
    readPerformance(
      madeFile(...players.map((strokes, index) => madeTrack(`Violin ${index + 1}`, index, strokes))),
    ),
    EMPTY_BRIEF,
  );
const leadsOf = (...players: Stroke[][]) =>
  heard(...players).readings.map(({ leads }) => Math.round(1000 * leads[0]!.seconds));

describe('leads', () => {
  it.each([30, 55, 80, 105, 140])('of %i ms are found among three who are on the beat', (ahead) => {
    for (const seed of [1, 2, 3]) {
      const [early, ...others] = leadsOf(
        player(seed, ahead),
        player(seed + 10, 0),
        player(seed + 20, 0),
        player(seed + 30, 0),
      );
      expect(Math.abs(early! - ahead)).toBeLessThan(10);
      expect(others).toEqual([0, 0, 0]);
    }
  });

  it('of a whole ensemble are seen by the beat that they miss', () => {
    const { offset, readings } = heard(player(1, 40), player(2, 40), player(3, 40));
    // What all have in common is the file's, and no lead of any.
    expect(Math.abs((-10 * offset) / TEN - 40)).toBeLessThan(10);
    for (const { leads } of readings) expect(Math.abs(leads[0]!.seconds)).toBeLessThan(0.01);
  });

  it('behind the beat are leads too', () => {
    const [late] = leadsOf(player(1, -45), player(2, 0), player(3, 0));
    expect(Math.abs(late! + 45)).toBeLessThan(10);
  });

  it('are not seen in a handful of notes, nor in a file to the tick', () => {
    expect(leadsOf(player(1, 60, 8, 1), player(2, 0), player(3, 0))[0]).toBe(0);
    const exact = player(1, 0, 0).map(([on, off, key]): Stroke => [on + 120, off + 120, key]);
    expect(leadsOf(exact, player(2, 0, 0))).toEqual([0, 0]);
  });

  it('give way to what you decide, strand by strand', () => {
    const performance = readPerformance(
      madeFile(madeTrack('Violin', 0, player(1, 60)), madeTrack('Viola', 1, player(2, 0))),
    );
    const { readings } = transcribeNow(
      performance,
      briefOf({ kind: 'lead', strand: '1/t1c1', milliseconds: 25 }),
    );
    expect(readings[0]!.leads).toEqual([{ seconds: 0.025 }]);
    expect(Math.abs(readings[0]!.foundLeads[0]!.seconds - 0.06)).toBeLessThan(0.01);
    expect(readings[1]!.leads).toEqual([{ seconds: 0 }]);
  });
});
