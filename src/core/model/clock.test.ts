import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  barAt,
  barOf,
  barsUntil,
  type ClockSource,
  makeClock,
  positionAt,
  secondsAt,
  suggestedUpbeat,
  tempoAt,
  tickAt,
  tickOf,
} from './clock';

const sources: fc.Arbitrary<ClockSource> = fc.record({
  ticksPerQuarter: fc.constantFrom(24, 96, 120, 384, 480, 960, 15360),
  tempos: fc.array(
    fc.record({ tick: fc.nat(100_000), microsPerQuarter: fc.integer({ min: 1, max: 0xffffff }) }),
    { maxLength: 30 },
  ),
  meters: fc.array(
    fc.record({
      tick: fc.nat(100_000),
      numerator: fc.integer({ min: 1, max: 15 }),
      denominator: fc.constantFrom(1, 2, 4, 8, 16),
    }),
    { maxLength: 20 },
  ),
  upbeat: fc.nat(500),
  firstBar: fc.integer({ min: -10, max: 200 }),
});
const ticks = fc.nat(2_000_000);

describe('seconds', () => {
  it('come back as the tick they were made from', () => {
    fc.assert(
      fc.property(sources, ticks, (source, tick) => {
        const clock = makeClock(source);
        expect(Math.round(tickAt(clock, secondsAt(clock, tick)))).toBe(tick);
      }),
      { numRuns: 1000 },
    );
  });

  it('always go forward', () => {
    fc.assert(
      fc.property(sources, ticks, ticks, (source, a, b) => {
        const clock = makeClock(source);
        const [early, late] = a < b ? [a, b] : [b, a];
        if (early < late) expect(secondsAt(clock, early)).toBeLessThan(secondsAt(clock, late));
      }),
      { numRuns: 1000 },
    );
  });

  it('follow the tempo: 480 ticks are half a second at 120, a whole one at 60', () => {
    const clock = makeClock({ ticksPerQuarter: 480, tempos: [{ tick: 480, microsPerQuarter: 1_000_000 }] });
    expect(secondsAt(clock, 480)).toBe(0.5);
    expect(secondsAt(clock, 960)).toBe(1.5);
    expect(tickAt(clock, 1)).toBe(720);
    expect(tempoAt(clock, 479)).toBe(500_000);
    expect(tempoAt(clock, 480)).toBe(1_000_000);
  });
});

describe('bars and beats', () => {
  it('come back as the tick they were made from', () => {
    fc.assert(
      fc.property(sources, ticks, (source, tick) => {
        const clock = makeClock(source);
        const position = positionAt(clock, tick);
        expect(position.offset).toBeGreaterThanOrEqual(0);
        expect(tickOf(clock, position)).toBeCloseTo(tick, 6);
      }),
      { numRuns: 1000 },
    );
  });

  it('leave no gap and do not overlap', () => {
    fc.assert(
      fc.property(sources, fc.nat(150), (source, index) => {
        const clock = makeClock(source);
        const bar = barOf(clock, index);
        expect(barOf(clock, index + 1).start).toBeCloseTo(bar.start + bar.length, 6);
        expect(barAt(clock, bar.start).index).toBe(index);
        expect(barOf(clock, index + 1).number).toBe(bar.number + 1);
      }),
      { numRuns: 1000 },
    );
  });

  it('count the first bar as 0, as 1 or as any number', () => {
    for (const firstBar of [0, 1, 37]) {
      const clock = makeClock({ ticksPerQuarter: 480, firstBar });
      expect(barAt(clock, 0).number).toBe(firstBar);
      expect(barAt(clock, 1920).number).toBe(firstBar + 1);
    }
  });

  it('give an upbeat the number before the first bar', () => {
    const clock = makeClock({
      ticksPerQuarter: 480,
      upbeat: 480,
      meters: [{ tick: 0, numerator: 3, denominator: 4 }],
    });
    expect(
      barsUntil(clock, 2000).map(({ number, start, length, isUpbeat }) => [number, start, length, isUpbeat]),
    ).toEqual([
      [0, 0, 480, true],
      [1, 480, 1440, false],
      [2, 1920, 1440, false],
    ]);
  });

  it('cut a bar short where a meter changes inside it', () => {
    const clock = makeClock({ ticksPerQuarter: 480, meters: [{ tick: 1000, numerator: 3, denominator: 4 }] });
    expect(barOf(clock, 0).length).toBe(1000);
    expect(barOf(clock, 1)).toMatchObject({ start: 1000, length: 1440 });
  });

  it('take a short first meter for an upbeat, and nothing else', () => {
    const meter = (tick: number, numerator: number) => ({ tick, numerator, denominator: 4 });
    expect(suggestedUpbeat([meter(0, 1), meter(480, 4)], 480)).toBe(480);
    expect(suggestedUpbeat([meter(0, 4), meter(1920, 3)], 480)).toBe(0);
    expect(suggestedUpbeat([meter(0, 2), meter(1920, 4)], 480)).toBe(0);
    expect(suggestedUpbeat([meter(0, 4)], 480)).toBe(0);
  });
});
