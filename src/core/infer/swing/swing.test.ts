import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../../../tests/helpers/sketch';
import { seeded } from '../../basics/random';
import { finished } from '../../basics/steps';
import { beatsOfFrame } from '../../model/beats';
import type { SwungValue } from '../../model/score';
import { QUARTER } from '../../model/time';
import type { Played } from '../rhythm/fit-span';
import { findSwing } from './swing';

const BARS = 16;
const beats = beatsOfFrame(madeFrame(BARS));

/** A part's attacks: the places of one beat in each beat of some bars, scattered by up to `jitter` quarters. */
function part(places: readonly number[], { jitter = 0.02, seed = 1, from = 0, to = BARS } = {}): Played[] {
  const random = seeded(seed);
  return Array.from({ length: 4 * (to - from) }, (_, beat) => places.map((place) => 4 * from + beat + place))
    .flat()
    .map((at) => ({
      at: (at + jitter * (2 * random() - 1)) * QUARTER,
      spread: 0.06 * QUARTER,
      grace: Number.POSITIVE_INFINITY,
      hurried: 0,
      collision: 0.7,
    }))
    .sort((a, b) => a.at - b.at);
}

const found = (value: SwungValue, ...parts: Played[][]) =>
  finished(findSwing(value, parts, beats, BARS)).swings;

describe('swing', () => {
  it.each([0.57, 0.6, 0.64, 0.7])('of eighths at %f is found with its ratio', (ratio) => {
    const [swing, ...more] = found('eighth', part([0, ratio]), part([0], { seed: 2 }));
    expect(more).toEqual([]);
    expect(swing).toMatchObject({ from: 0, to: BARS, value: 'eighth' });
    expect(Math.abs(swing!.ratio - ratio)).toBeLessThan(0.01);
  });

  it.each([0.58, 0.62, 0.69])(
    'of 16ths at %f is found with its ratio, and is no swing of eighths',
    (ratio) => {
      const line = part([0, ratio / 2, 0.5, 0.5 + ratio / 2], { jitter: 0.01 });
      const [swing, ...more] = found('16th', line, part([0, 0.5], { seed: 3 }));
      expect(more).toEqual([]);
      expect(swing).toMatchObject({ from: 0, to: BARS, value: '16th' });
      expect(Math.abs(swing!.ratio - ratio)).toBeLessThan(0.02);
      expect(found('eighth', line)).toEqual([]);
    },
  );

  it('is found where it begins and ends', () => {
    const straight = part([0, 0.5], { to: 8 });
    const swung = part([0, 2 / 3], { from: 8, seed: 4 });
    expect(found('eighth', [...straight, ...swung])).toMatchObject([{ from: 8, to: BARS }]);
  });

  it.each<[string, number[]]>([
    ['quarters', [0]],
    ['straight eighths', [0, 0.5]],
    ['straight 16ths', [0, 0.25, 0.5, 0.75]],
    ['triplets', [0, 1 / 3, 2 / 3]],
    ['sextuplets', [0, 1 / 6, 1 / 3, 1 / 2, 2 / 3, 5 / 6]],
    ['dotted eighths', [0, 0.75]],
    ['quintuplets', [0, 0.2, 0.4, 0.6, 0.8]],
  ])('is not found in %s', (_, places) => {
    for (const value of ['eighth', '16th'] as const)
      for (const seed of [1, 2, 3]) expect(found(value, part(places, { seed }))).toEqual([]);
  });

  it('is not found where attacks lie anywhere', () => {
    for (const seed of [1, 2, 3, 4, 5]) {
      const random = seeded(seed);
      const anywhere = part(Array.from({ length: 3 }, random), { jitter: 0.5, seed });
      for (const value of ['eighth', '16th'] as const) expect(found(value, anywhere)).toEqual([]);
    }
  });

  it('keeps its ratio where part of its lateness was taken for a lead', () => {
    const late = part([0, 0.64]).map((each) => ({ ...each, at: each.at - 0.03 * QUARTER }));
    const [swing] = found('eighth', late.slice(1));
    expect(Math.abs(swing!.ratio - 0.64)).toBeLessThan(0.012);
  });

  it('is not asked of beats that divide in three', () => {
    const compound = beatsOfFrame(madeFrame(BARS, 6, 8));
    expect(finished(findSwing('eighth', [part([0, 0.66])], compound, BARS))).toEqual({ swings: [], gain: 0 });
  });
});
