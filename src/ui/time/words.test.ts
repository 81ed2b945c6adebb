import { describe, expect, it } from 'vitest';
import type { SwingMark } from '../../core/model/score';
import { groupsWords, oddsWords, swingWords, usesWords } from './words';

describe('words for time', () => {
  it.each([
    [0, 'as likely'],
    [-0.2, 'as likely'],
    [Math.log(3), '3.0 times less likely'],
    [Math.log(25), '25 times less likely'],
    [7, 'less likely by far'],
  ])('say how much less likely %f nats are', (worse, words) => {
    expect(oddsWords(worse)).toBe(words);
  });

  it('say where it swings, and how', () => {
    const bars = [1, 2, 3, 4, 5, 6, 7, 8];
    const eighths: SwingMark = { from: 0, to: 8, value: 'eighth', ratio: 2 / 3 };
    expect(swingWords({ foundSwings: [], bars })).toBe('As found: straight');
    expect(swingWords({ foundSwings: [eighths], bars })).toBe('As found: eighths 2:1');
    expect(
      swingWords({ foundSwings: [{ ...eighths, from: 2, to: 6, value: '16th', ratio: 0.6 }], bars }),
    ).toBe('Bars 3–6: 16ths 3:2');
    const two = [
      { ...eighths, to: 4 },
      { ...eighths, from: 5 },
    ];
    expect(swingWords({ foundSwings: two, bars })).toBe('As found: in 2 passages');
  });

  it('say how bars group', () => {
    expect(groupsWords([{ found: [2, 2, 3] }, { found: [2, 2, 3] }])).toBe('As found: 2+2+3');
    expect(groupsWords([{ found: [3, 2] }, { found: [2, 3] }])).toBe('As found: in 2 ways');
  });

  it('say which values a part uses', () => {
    expect(usesWords({ smallest: '16th', finer: 2, tuplets: 3, attacks: 40 })).toBe(
      'Of 40 attacks 35 stand on 16ths, 3 in tuplets, 2 on finer places.',
    );
    expect(usesWords({ smallest: 'eighth', finer: 0, tuplets: 0, attacks: 1 })).toBe(
      'Of 1 attack 1 stand on eighths, 0 in tuplets.',
    );
  });
});
