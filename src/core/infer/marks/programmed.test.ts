import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { VELOCITIES } from '../../model/marks';
import { QUARTER } from '../../model/time';
import type { StruckAttack } from './loudness';
import { readProgrammed } from './programmed';

/** Eighths of these velocities, one after another. */
const played = (velocities: readonly number[]): StruckAttack[] =>
  velocities.map((struck, index) => {
    const at = (index * QUARTER) / 2;
    return { at, until: at + QUARTER / 2, struck };
  });
const level = (velocity: number, count: number): number[] => Array(count).fill(velocity);
/** A straight way from one velocity to another, in whole ones, without the last. */
const way = (from: number, to: number, count: number): number[] =>
  Array.from({ length: count }, (_, at) => Math.round(from + ((to - from) * at) / count));
const place = (moment: number) => (2 * moment) / QUARTER;

describe('dynamics that a program wrote', () => {
  it('are read by their names, where they begin', () => {
    const { steps, hairpins, accents } = readProgrammed(
      played([...level(50, 10), ...level(95, 8), ...level(65, 10)]),
    )!;
    expect(steps.map(({ at, dynamic }) => [place(at), dynamic])).toEqual([
      [0, 'p'],
      [10, 'f'],
      [18, 'mp'],
    ]);
    expect([hairpins, accents]).toEqual([[], []]);
  });

  it('are those of programs that have sixteen from one to the next', () => {
    const { steps, isUsual } = readProgrammed(
      played([...level(49, 10), ...level(96, 8), ...level(112, 10)]),
    )!;
    expect([isUsual, steps.map(({ dynamic }) => dynamic)]).toEqual([true, ['p', 'f', 'ff']]);
  });

  it('grow and fade in straight lines, each to where the next holds', () => {
    const { steps, hairpins } = readProgrammed(
      played([...level(50, 8), ...way(50, 95, 8), ...level(95, 8), ...way(95, 65, 6), ...level(65, 8)]),
    )!;
    expect(hairpins.map(({ from, to, opens }) => [place(from), place(to), opens])).toEqual([
      [8, 16, true],
      [24, 30, false],
    ]);
    expect(steps.map(({ at, dynamic }) => [place(at), dynamic])).toEqual([
      [0, 'p'],
      [16, 'f'],
      [30, 'mp'],
    ]);
  });

  it('have single louder attacks as accents, on a passage and on a way', () => {
    const velocities = [...level(65, 12), ...way(65, 95, 10), ...level(95, 12)];
    for (const at of [4, 16, 30]) velocities[at]! += 20;
    const { steps, hairpins, accents } = readProgrammed(played(velocities))!;
    expect(accents.map(({ at }) => place(at))).toEqual([4, 16, 30]);
    expect(hairpins).toHaveLength(1);
    expect(steps.map(({ dynamic }) => dynamic)).toEqual(['mp', 'f']);
  });

  it('are not those of a hand, of a groove, of a part that never changes, or of few notes', () => {
    const hand = level(70, 60).map((velocity, at) => velocity + ((at * 7) % 11) - 5);
    const groove = level(80, 60).map((velocity, at) => (at % 2 === 0 ? velocity + 20 : velocity));
    for (const velocities of [hand, groove, level(80, 60), [...level(50, 4), ...level(95, 4)]])
      expect(readProgrammed(played(velocities))).toBeNull();
  });

  it('have no names where they are in no table, unless these are given', () => {
    const velocities = played([...level(42, 12), ...level(88, 12)]);
    expect(readProgrammed(velocities)).toBeNull();
    const named = readProgrammed(velocities, (loudness) => (loudness < 60 ? 'p' : 'f'));
    expect([named?.isUsual, named?.steps.map(({ dynamic }) => dynamic)]).toEqual([false, ['p', 'f']]);
  });

  it('come back as they were set, whatever they are (property)', () => {
    const names = ['pp', 'p', 'mp', 'mf', 'f', 'ff'] as const;
    const passage = fc.record({ name: fc.constantFrom(...names), count: fc.integer({ min: 6, max: 20 }) });
    fc.assert(
      fc.property(fc.array(passage, { minLength: 2, maxLength: 12 }), (passages) => {
        const changes = passages.filter(({ name }, at) => name !== passages[at - 1]?.name);
        fc.pre(changes.length > 1);
        const velocities = passages.flatMap(({ name, count }) => level(VELOCITIES[name]!, count));
        let at = 0;
        const set = passages.flatMap(({ name, count }, index) => {
          const from = at;
          at += count;
          return name === passages[index - 1]?.name ? [] : [[from, name]];
        });
        const read = readProgrammed(played(velocities))!;
        expect(read.steps.map((step) => [place(step.at), step.dynamic])).toEqual(set);
        expect([read.hairpins, read.accents]).toEqual([[], []]);
      }),
    );
  });
});
