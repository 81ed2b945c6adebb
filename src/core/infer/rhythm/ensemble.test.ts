import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../../../tests/helpers/sketch';
import { finished } from '../../basics/steps';
import { beatsOfFrame } from '../../model/beats';
import { QUARTER } from '../../model/time';
import { type Heard, Listening } from './ensemble';
import { patternOf } from './fit-rhythm';

const heardBy = (bodies: readonly Heard[], over: typeof beats) => finished(Listening.to(bodies, over));
const beats = beatsOfFrame(madeFrame(2));

/** A body that attacks at these places; quarter notes. */
function heard(...places: number[]): Heard {
  const patterns = new Map<number, string>();
  for (let beat = 0; beat < beats.length; beat++) {
    const offsets = places.filter((at) => Math.floor(at) === beat).map((at) => (at - beat) * QUARTER);
    if (offsets.length > 0) patterns.set(beat, patternOf(offsets, QUARTER));
  }
  return { starts: places.map((at) => at * QUARTER), patterns };
}

describe('what a part knows of the others', () => {
  const eighths = [0, 0.5, 1, 1.5, 2, 2.5, 3, 3.5];

  it('is where they attack, by how many of those that play there do', () => {
    const listening = heardBy([heard(0, 1), heard(0, 0.5), heard(0, 0.5)], beats);
    const support = new Map(
      listening
        .for(0)
        .support(0)
        .map(({ moment, bonus }) => [moment / QUARTER, bonus]),
    );
    expect(support.get(0)).toBeCloseTo(support.get(0.5)!, 6);
    expect(support.has(0.25)).toBe(false);
    const alone = new Map(
      listening
        .for(1)
        .support(0)
        .map(({ moment, bonus }) => [moment / QUARTER, bonus]),
    );
    expect(alone.get(0.5)!).toBeLessThan(alone.get(0)!);
  });

  it('is nothing where nobody else plays', () => {
    expect(
      heardBy([heard(...eighths)], beats)
        .for(0)
        .support(1),
    ).toEqual([]);
  });

  it('makes rhythms that the piece uses likelier than those it does not', () => {
    const listening = heardBy([heard(...eighths), heard(...eighths)], beats).for(0);
    const pair = patternOf([0, QUARTER / 2], QUARTER);
    const triplet = patternOf([0, QUARTER / 3, (2 * QUARTER) / 3], QUARTER);
    const prior = 2;
    expect(listening.surprise(pair, 3, prior)).toBeLessThan(listening.surprise(triplet, 3, prior));
    expect(listening.familiar(beats[0]!, 1).map(({ pattern, division }) => [pattern, division])).toEqual([
      [pair, 2],
    ]);
  });

  it('does not count the rhythm that is being asked about', () => {
    const once = heardBy([heard(0, 1 / 3, 2 / 3, 1, 2, 3)], beats).for(0);
    const triplet = patternOf([0, QUARTER / 3, (2 * QUARTER) / 3], QUARTER);
    // In its own beat the triplet is the only one, elsewhere it is one that was heard.
    expect(once.surprise(triplet, 0, 2)).toBeGreaterThan(once.surprise(triplet, 1, 2));
  });
});
