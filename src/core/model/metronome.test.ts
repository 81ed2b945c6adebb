import { describe, expect, it } from 'vitest';
import { metronomeOf } from './metronome';

/** What is counted in which meter: common practice, from memory. */
describe('a tempo is printed in the beat of its meter', () => {
  it.each([
    ['4/4', 4, 4, 96, 'quarter = 96'],
    ['3/4', 3, 4, 30, 'quarter = 30'],
    ['2/2', 2, 2, 120, 'half = 60'],
    ['3/2, slow', 3, 2, 60, 'quarter = 60'],
    ['6/4, in two', 6, 4, 150, 'dotted half = 50'],
    ['6/4, in six', 6, 4, 84, 'quarter = 84'],
    ['6/8', 6, 8, 90, 'dotted quarter = 60'],
    ['6/8, in six', 6, 8, 45, 'eighth = 90'],
    ['12/8', 12, 8, 102, 'dotted quarter = 68'],
    ['3/8', 3, 8, 90, 'dotted quarter = 60'],
    ['5/8', 5, 8, 140, 'quarter = 140'],
    ['6/16', 6, 16, 60, 'dotted eighth = 80'],
  ])('%s', (_, numerator, denominator, quarters, printed) => {
    const { unit, dotted, perMinute } = metronomeOf({ numerator, denominator }, quarters);
    expect(`${dotted ? 'dotted ' : ''}${unit} = ${perMinute}`).toBe(printed);
  });
});
