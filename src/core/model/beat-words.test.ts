import { describe, expect, it } from 'vitest';
import { beatWords } from './beat-words';
import type { Meter } from './clock';
import { beatGroups } from './meter';
import { QUARTER, WHOLE } from './time';

const bar = (numerator: number, denominator: number, missing = 0) => {
  const meter: Meter = { numerator, denominator };
  return { groups: beatGroups(meter), missing, length: (WHOLE * numerator) / denominator - missing };
};

describe('a place in a bar', () => {
  // Counting as players do: common practice.
  it.each([
    [4, 4, 0, 'beat 1'],
    [4, 4, 3 * QUARTER, 'beat 4'],
    [4, 4, QUARTER / 2, 'beat 1, last eighth'],
    [4, 4, (7 * QUARTER) / 8, 'beat 1, last 32nd'],
    [4, 4, QUARTER / 4, 'beat 1, second 16th'],
    [4, 4, 1.125 * QUARTER, 'beat 2, second 32nd'],
    [4, 4, QUARTER + QUARTER / 3, 'beat 2, second triplet eighth'],
    [4, 4, QUARTER + (5 * QUARTER) / 6, 'beat 2, last sextuplet 16th'],
    [6, 8, 1.5 * QUARTER, 'beat 2'],
    [6, 8, QUARTER / 2, 'beat 1, second eighth'],
    [6, 8, 2.75 * QUARTER, 'beat 2, last 16th'],
    [2, 2, QUARTER, 'beat 1, last quarter'],
    [5, 8, 1.5 * QUARTER, 'beat 2'],
  ])('in %i/%i', (numerator, denominator, at, words) => {
    expect(beatWords(bar(numerator, denominator), at)).toBe(words);
  });

  it('is counted in an upbeat as in a full bar', () => {
    expect(beatWords(bar(4, 4, 3 * QUARTER), 0)).toBe('beat 4');
  });

  it('is said roughly where no division has it', () => {
    expect(beatWords(bar(4, 4), QUARTER / 7)).toBe('just after beat 1');
  });
});
