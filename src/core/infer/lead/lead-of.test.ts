import { describe, expect, it } from 'vitest';
import type { Strike } from '../../model/sketch';
import { adjustLead, hasLead, type Lead, leadOf, NO_LEAD } from './lead-of';

const strike = (held: number, key = 60): Strike => ({ strand: 0, tick: 0, held, key });
const late = (held: number, seconds: number, count = 50): [Strike, number][] =>
  Array.from({ length: count }, () => [strike(held), seconds]);
const two: Lead = { seconds: 0.02, other: { by: 'held', from: 0.3, seconds: 0.1 } };

describe('a lead', () => {
  it('may be another one for long notes, or for high ones', () => {
    expect([leadOf(two, strike(0.2)), leadOf(two, strike(0.3))]).toEqual([0.02, 0.1]);
    const high: Lead = { seconds: 0, other: { by: 'key', from: 72, seconds: 0.05 } };
    expect([leadOf(high, strike(1, 71)), leadOf(high, strike(0.1, 72))]).toEqual([0, 0.05]);
    expect([hasLead(NO_LEAD), hasLead(two), hasLead(high)]).toEqual([false, true, true]);
  });

  it('is corrected by what is still late, each group by its own', () => {
    expect(adjustLead({ seconds: 0.08 }, late(0.2, 0.004), 0.01).seconds).toBeCloseTo(0.076, 6);
    const { seconds, other } = adjustLead(two, [...late(0.1, -0.005), ...late(0.5, 0.01)], 0.01);
    expect(seconds).toBeCloseTo(0.025, 6);
    expect(other!.seconds).toBeCloseTo(0.09, 6);
  });

  it('is one again where two come near each other', () => {
    const near: Lead = { seconds: 0.04, other: { by: 'held', from: 0.3, seconds: 0.08 } };
    const joined = adjustLead(near, [...late(0.1, -0.01, 30), ...late(0.5, 0.015, 10)], 0.01);
    expect(joined.other).toBeUndefined();
    expect(joined.seconds).toBeCloseTo((0.05 * 30 + 0.065 * 10) / 40, 6);
  });

  it('comes up where all are early alike, and not by chance', () => {
    expect(adjustLead(NO_LEAD, late(0.2, -0.014, 200), 0.006).seconds).toBeCloseTo(0.014, 6);
    // 4 ms are within what anyone plays; 10 ms of a few scattered attacks prove nothing.
    expect(adjustLead(NO_LEAD, late(0.2, -0.004, 200), 0.006)).toBe(NO_LEAD);
    expect(adjustLead(NO_LEAD, late(0.2, -0.01, 9), 0.02)).toBe(NO_LEAD);
  });
});
