import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seeded } from '../../basics/random';
import { findBeats } from './beats';
import type { Onset } from './onsets';
import { bendsOf, steadied } from './steady';

/** Figures of 16ths in a steady pulse, rounded to a coarse clock; bars of four quarters but for some odd ones. */
function programmed(sixteenth: number, bars: readonly number[]): Onset[] {
  const tick = 1 / 140;
  const figure = [1, 0, 1, 1, 1, 0, 0, 1, 1, 0, 1, 0, 1, 1, 1, 0];
  const onsets: Onset[] = [];
  let at = 2;
  for (const length of bars) {
    for (let slot = 0; slot < length; slot++)
      if (figure[slot]) {
        const weight = slot === 0 ? 1.6 : slot % 4 === 0 ? 1.2 : 0.7;
        onsets.push({ seconds: Math.round(((at + slot) * sixteenth) / tick) * tick, weight });
      }
    at += length;
  }
  return onsets;
}

const stepsOf = (beats: readonly number[]) => beats.slice(1).map((beat, at) => beat - beats[at]!);

describe('bends', () => {
  it('leave every time within the tolerance of a straight line', () => {
    const times = fc
      .array(fc.double({ min: 0.1, max: 1, noNaN: true }), { minLength: 2, maxLength: 60 })
      .map((steps) => {
        let at = 0;
        return steps.map((step) => {
          at += step;
          return at;
        });
      });
    fc.assert(
      fc.property(times, fc.double({ min: 0.001, max: 0.2, noNaN: true }), (all, tolerance) => {
        const bends = bendsOf(all, tolerance);
        expect([bends[0], bends.at(-1)]).toEqual([0, all.length - 1]);
        bends.slice(1).forEach((to, index) => {
          const from = bends[index]!;
          expect(to).toBeGreaterThan(from);
          for (let at = from; at <= to; at++) {
            const line = all[from]! + ((all[to]! - all[from]!) * (at - from)) / (to - from);
            expect(Math.abs(all[at]! - line)).toBeLessThanOrEqual(tolerance + 1e-9);
          }
        });
      }),
    );
  });

  it('are none in an even pulse', () => {
    expect(
      bendsOf(
        Array.from({ length: 50 }, (_, at) => 0.3 + 0.47 * at),
        1e-6,
      ),
    ).toEqual([0, 49]);
    expect(bendsOf([], 1)).toEqual([]);
    expect(bendsOf([4], 1)).toEqual([0]);
  });
});

describe('a steady pace', () => {
  it.each([
    ['through and through', new Array<number>(32).fill(16)],
    [
      'over a bar of seven eighths',
      [...new Array<number>(14).fill(16), 14, ...new Array<number>(16).fill(16)],
    ],
    ['over an odd 16th', [...new Array<number>(14).fill(16), 15, ...new Array<number>(16).fill(16)]],
  ])('is kept %s', (_name, bars) => {
    const sixteenth = 0.1063;
    const { seconds } = findBeats(programmed(sixteenth, bars))!;
    const steps = stepsOf(seconds);
    expect(Math.max(...steps) - Math.min(...steps)).toBeLessThan(1e-6);
    const count = steps[0]! / sixteenth;
    expect(Math.abs(count - 4)).toBeLessThan(0.005);
  });

  it('is kept where players scatter around a click that the file does not have', () => {
    const random = seeded(11);
    const sixteenth = 60 / 97.3 / 4;
    const onsets = programmed(sixteenth, new Array<number>(24).fill(16)).map((onset) => ({
      ...onset,
      seconds: onset.seconds + 0.03 * (random() + random() - 1),
    }));
    onsets.sort((a, b) => a.seconds - b.seconds);
    const steps = stepsOf(findBeats(onsets)!.seconds);
    expect(Math.max(...steps) - Math.min(...steps)).toBeLessThan(1e-6);
    expect(Math.abs(steps[0]! / (4 * sixteenth) - 1)).toBeLessThan(0.001);
  });

  it('is another one after a change of tempo', () => {
    const slow = programmed(0.125, new Array<number>(16).fill(16));
    const end = slow.at(-1)!.seconds + 0.5;
    const quick = programmed(0.1, new Array<number>(20).fill(16));
    const onsets = [...slow, ...quick.map((each) => ({ ...each, seconds: each.seconds + end }))];
    const steps = stepsOf(findBeats(onsets)!.seconds);
    // At whatever level: a beat, or two together.
    const level = (step: number, pace: number) => Math.abs(step / pace - Math.round(step / pace));
    expect(level(steps[8]!, 0.5)).toBeLessThan(0.002);
    expect(level(steps.at(-8)!, 0.4)).toBeLessThan(0.002);
  });

  it('is not put upon free playing', () => {
    const random = seeded(7);
    let at = 0;
    const beats = Array.from({ length: 80 }, () => {
      at += 0.5 + 0.12 * (random() - 0.5);
      return at;
    });
    const onsets = beats.flatMap((beat) => [
      { seconds: beat, weight: 1 },
      { seconds: beat + 0.25, weight: 0.6 },
    ]);
    expect(steadied(beats, onsets)).toEqual(beats);
  });
});

describe('the level of beats', () => {
  it('makes 16ths, not 32nds, of running notes', () => {
    // 32nds at 70 a minute: 16ths at 140.
    const onsets = programmed(60 / 140 / 4, new Array<number>(24).fill(16)).map((each, at) => ({
      ...each,
      weight: at % 24 === 0 ? 3 : 1,
    }));
    const steps = stepsOf(findBeats(onsets)!.seconds);
    expect(steps[4]! / (60 / 140)).toBeCloseTo(1, 2);
  });
});
