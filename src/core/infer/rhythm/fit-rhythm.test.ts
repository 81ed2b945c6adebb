import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { attacked, madeFrame, sketched } from '../../../../tests/helpers/sketch';
import { seeded } from '../../basics/random';
import { finished } from '../../basics/steps';
import { DEFAULT_GRID } from '../../decisions/kinds/grid';
import { beatsOfFrame } from '../../model/beats';
import type { Attack } from '../../model/sketch';
import { QUARTER } from '../../model/time';
import { type FitOptions, fitRhythm, patternOf } from './fit-rhythm';

/** Longer than what is searched at once, so that there are seams. */
const BARS = 100;
const frame = madeFrame(BARS);
const beats = beatsOfFrame(frame);

const options: FitOptions = {
  sigma: 0.008,
  secondsPerUnit: () => 0.5 / QUARTER,
  choiceAt: () => DEFAULT_GRID,
  swingAt: () => undefined,
  singleLine: true,
  chordal: false,
  drums: false,
  ensemble: null,
};

/** What a beat may hold, in quarter notes; common practice. */
const RHYTHMS = [[0], [0, 0.5], [0, 0.25, 0.5, 0.75], [0, 0.75], [0, 0.5, 0.75], []];

/** A line of such beats, each attack up to 12 ms off. */
function line(choices: readonly number[], seed: number): { attacks: Attack[]; places: number[] } {
  const random = seeded(seed);
  const places = choices.flatMap((choice, beat) => RHYTHMS[choice]!.map((at) => beat + at));
  const attacks = places.map((at, index) =>
    attacked(sketched(Math.max(0, at + (random() - 0.5) * 0.048), 0.2, 60 + (index % 7))),
  );
  return { attacks, places };
}

const startsOf = (attacks: readonly Attack[]) => attacks.map(({ start }) => start / QUARTER);

describe('a long line', () => {
  it('is read as it was meant, over all seams of the search', () => {
    const choices = fc.array(fc.nat(RHYTHMS.length - 1), { minLength: 4 * BARS, maxLength: 4 * BARS });
    fc.assert(
      fc.property(choices, fc.nat(1000), (chosen, seed) => {
        const { attacks, places } = line(chosen, seed);
        finished(fitRhythm(attacks, frame, beats, options));
        expect(startsOf(attacks)).toEqual(places);
      }),
      { numRuns: 25 },
    );
  });

  it('keeps what is pinned, and reads the rest around it', () => {
    const { attacks, places } = line(
      Array.from({ length: 4 * BARS }, (_, at) => at % 3),
      1,
    );
    attacks[10]!.pinned = places[10]! * QUARTER + QUARTER / 4;
    finished(fitRhythm(attacks, frame, beats, options));
    expect(attacks[10]!.start).toBe(attacks[10]!.pinned);
    expect(attacks[10]!.margin).toBe(Number.POSITIVE_INFINITY);
    expect(startsOf(attacks).toSpliced(10, 1)).toEqual(places.toSpliced(10, 1));
  });

  it('tells for each beat which pattern it holds', () => {
    const { attacks } = line([1, 2, ...Array<number>(4 * BARS - 2).fill(5)], 2);
    const { patterns } = finished(fitRhythm(attacks, frame, beats, options));
    expect([...patterns].toSorted((a, b) => a[0] - b[0])).toEqual([
      [0, patternOf([0, QUARTER / 2], QUARTER)],
      [1, patternOf([0, QUARTER / 4, QUARTER / 2, (3 * QUARTER) / 4], QUARTER)],
    ]);
  });
});

describe('a pattern', () => {
  it('is its places, once each, without grace notes', () => {
    expect(patternOf([-1, 0, 0, 5, 7], 10)).toBe('10:0 5 7');
    expect(patternOf([], 10)).toBe('10:');
  });
});
