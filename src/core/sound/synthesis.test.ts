import { describe, expect, it } from 'vitest';
import { bandPass, hertzOf, makeSample, makeStroke } from './synthesis';
import { TIMBRES, type TimbreId } from './voices';

const rms = (data: Float32Array) =>
  Math.sqrt(data.reduce((sum, value) => sum + value * value, 0) / data.length);

describe('a sample', () => {
  it.each(['piano', 'violin', 'ensemble', 'flute', 'churchOrgan', 'glockenspiel', 'warmPad'] as TimbreId[])(
    'of %s has a loop without a seam, at its pitch',
    (id) => {
      const timbre = TIMBRES[id];
      for (const key of timbre.roots.slice(0, 2)) {
        const { audio, rate, cents, loop } = makeSample(timbre, key, timbre.attack, timbre.loop);
        const [start, end] = loop!;
        // The step over the seam is no larger than the steps beside it.
        const steps = [...audio.slice(start, end)].map((value, at, all) =>
          Math.abs(value - (all[at - 1] ?? value)),
        );
        const seam = Math.abs(audio[start]! - audio[end - 1]!);
        expect(seam).toBeLessThanOrEqual(Math.max(...steps) * 1.05 + 1e-6);
        // The loop is a whole number of periods of the pitch that is left after correction.
        const periods = ((end - start) / rate) * hertzOf(key) * 2 ** (-cents / 1200);
        expect(Math.abs(periods - Math.round(periods))).toBeLessThan(0.001);
        expect(Math.abs(cents)).toBeLessThan(50);
        expect(audio.every((value) => Number.isFinite(value) && Math.abs(value) <= 1)).toBe(true);
      }
    },
  );

  it('is as loud as the others', () => {
    const levels = (Object.keys(TIMBRES) as TimbreId[]).map((id) => {
      const timbre = TIMBRES[id];
      const { audio, loop } = makeSample(timbre, timbre.roots[0], timbre.attack, timbre.loop);
      return rms(audio.slice(loop![0]));
    });
    expect(Math.max(...levels)).toBeLessThan(0.3);
    expect(levels.filter((level) => level > 0.01).length).toBeGreaterThan(levels.length * 0.9);
  });
});

describe('a stroke', () => {
  it('is loud at once and dies to nothing', () => {
    const { audio, rate } = makeStroke(
      {
        modes: [{ hertz: 120, to: 50, level: 1, dies: 0.4 }],
        noise: [{ level: 0.2, low: 200, high: 3000, dies: 0.05 }],
        seconds: 0.4,
      },
      36,
    );
    expect(audio.length).toBe(0.4 * rate);
    expect(rms(audio.slice(0, 2000))).toBeGreaterThan(10 * rms(audio.slice(-2000)));
    expect(audio.at(-1)).toBeCloseTo(0, 3);
  });

  it('is the same each time', () => {
    const stroke = { noise: [{ level: 1, low: 1000, high: 9000, dies: 0.1 }], seconds: 0.1 };
    expect(makeStroke(stroke, 42).audio).toEqual(makeStroke(stroke, 42).audio);
    expect(makeStroke(stroke, 42).audio).not.toEqual(makeStroke(stroke, 44).audio);
  });
});

describe('a band of noise', () => {
  it('passes what lies inside and little beside, at level 1', () => {
    const tone = (cycles: number) =>
      Float32Array.from({ length: 8000 }, (_, at) => Math.sin(2 * Math.PI * cycles * at));
    const mixed = Float32Array.from(tone(0.001), (value, at) => value + tone(0.02)[at]!);
    const band = bandPass(mixed, 0.01, 0.1);
    const share = (cycles: number) => {
      const probe = tone(cycles);
      return Math.abs(band.reduce((sum, value, at) => sum + value * probe[at]!, 0));
    };
    expect(rms(band)).toBeCloseTo(1, 3);
    expect(share(0.02)).toBeGreaterThan(4 * share(0.001));
  });
});
