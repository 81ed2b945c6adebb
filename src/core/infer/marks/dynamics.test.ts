import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../../../tests/helpers/sketch';
import { finished } from '../../basics/steps';
import { QUARTER } from '../../model/time';
import { findAccents } from './accents';
import { readDynamics } from './dynamics';
import { type Loudness, loudnessOf } from './loudness';
import { ensembleOf } from './tutti';

const { bars } = madeFrame(24);

/** Quarter notes of these velocities, one after another. */
const played = (velocities: readonly number[]): Loudness[] =>
  velocities.map((level, at) => ({
    at: at * QUARTER,
    until: (at + 1) * QUARTER,
    heard: level,
    level,
  }));
/** A hand that is off by a little, always the same. */
const uneven = (level: number, at: number) => level + [0, 2, -2, 1, -1, 3, -3][(at * 5) % 7]!;
const times = (count: number, level: number) => Array.from({ length: count }, () => level);
const read = (velocities: readonly number[], reluctance = 1) => {
  const all = played(velocities.map(uneven));
  return finished(readDynamics(all, bars, reluctance, ensembleOf([all], bars), 0));
};
const said = (velocities: readonly number[]) =>
  read(velocities).steps.map(({ at, dynamic }) => `${at / QUARTER} ${dynamic}`);

// Common practice: soft and loud passages are told where they begin, gradual ways by hairpins to a goal.
describe('dynamics', () => {
  it('stand where passages of another loudness begin', () => {
    expect(said([...times(32, 50), ...times(32, 95), ...times(32, 50)])).toEqual(['0 p', '32 f', '64 p']);
  });

  it('are a hairpin and its goal where the way is gradual', () => {
    const way = Array.from({ length: 16 }, (_, at) => 50 + (45 * at) / 16);
    const { steps, hairpins } = read([...times(32, 50), ...way, ...times(32, 95)]);
    expect(steps.map(({ dynamic }) => dynamic)).toEqual(['p', 'f']);
    expect(hairpins).toHaveLength(1);
    const [{ from, to, opens }] = hairpins as [(typeof hairpins)[0]];
    expect(opens).toBe(true);
    expect(Math.abs(from / QUARTER - 32)).toBeLessThanOrEqual(3);
    expect(Math.abs(to / QUARTER - 48)).toBeLessThanOrEqual(3);
  });

  it('are none in what is constant, nor in noise', () => {
    expect(read(times(96, 100)).steps).toEqual([]);
    const noise = Array.from({ length: 96 }, (_, at) => 64 + ((at * 37) % 31));
    expect(read(noise).steps.length).toBeLessThanOrEqual(1);
  });

  it('are stretched where a file stays within little, and one part has no more than its balance', () => {
    const shallow = [...times(32, 88), ...times(32, 104), ...times(32, 88)];
    const names = said(shallow).map((each) => each.split(' ')[1]);
    expect(names).toHaveLength(3);
    expect(names[0]).toBe(names[2]);
    expect(names[0]).not.toBe(names[1]);
    const [one, louder] = [
      played(shallow.map(uneven)),
      played(shallow.map((each, at) => uneven(each + 15, at))),
    ];
    const ensemble = ensembleOf([one, louder], bars);
    const of = (all: Loudness[], at: number) =>
      finished(readDynamics(all, bars, 1, ensemble, ensemble.over[at]!)).steps.map(({ dynamic }) => dynamic);
    expect(of(louder, 1)).toEqual(of(one, 0));
  });

  it('are fewer the more they must explain, never out of order, and explain every attack', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 20, max: 120 }), fc.integer({ min: 1, max: 20 })), {
          minLength: 1,
          maxLength: 5,
        }),
        (passages) => {
          const velocities = passages.flatMap(([level, count]) => times(count, level)).slice(0, 96);
          const { steps, hairpins, explained } = read(velocities);
          expect(explained).toHaveLength(velocities.length);
          expect(explained.every(Number.isFinite)).toBe(true);
          const places = steps.map(({ at }) => at);
          expect(places).toEqual([...places].sort((a, b) => a - b));
          for (const { from, to } of hairpins) expect(to).toBeGreaterThan(from);
          expect(read(velocities, 4).steps.length).toBeLessThanOrEqual(steps.length + 1);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('accents', () => {
  it('stand out of what holds, unless they are the pattern', () => {
    const some = times(64, 70).map((level, at) => (at % 21 === 9 ? level + 28 : level));
    const found = (velocities: number[]) => {
      const all = played(velocities.map(uneven));
      const { explained, spread } = finished(readDynamics(all, bars, 1, ensembleOf([all], bars), 0));
      return findAccents(all, explained, spread).map(({ at }) => at / QUARTER);
    };
    expect(found(some)).toEqual([9, 30, 51]);
    expect(found(times(64, 70).map((level, at) => (at % 4 === 2 ? level + 28 : level)))).toEqual([]);
  });
});

describe('loudness', () => {
  it('leaves out what the meter makes louder, and takes the loudest note of a chord', () => {
    const notes = Array.from({ length: 64 }, (_, at) =>
      [60, 64].map((key) => ({
        key,
        velocity: (at % 4 === 0 ? 90 : 70) - (key === 60 ? 15 : 0),
        start: at * QUARTER,
        end: (at + 1) * QUARTER,
        staff: 1,
        strike: { strand: 0 },
      })),
    ).flat();
    const all = loudnessOf(notes as never, bars, () => undefined);
    expect(all).toHaveLength(64);
    expect(new Set(all.map(({ heard }) => heard))).toEqual(new Set([90, 70]));
    expect(
      Math.max(...all.map(({ level }) => level)) - Math.min(...all.map(({ level }) => level)),
    ).toBeLessThan(2);
  });
});
