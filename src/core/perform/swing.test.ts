import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../../tests/helpers/sketch';
import type { Score, SwungValue } from '../model/score';
import { barIndexOf } from '../model/score';
import { QUARTER } from '../model/time';
import type { SoundedNote } from './play';
import { swungMoments } from './swing';

const { bars } = madeFrame(4);
const scoreOf = (from: number, to: number, value: SwungValue = 'eighth'): Score => ({
  title: '',
  bars,
  keys: [],
  tempos: [],
  swings: [{ from, to, value, ratio: 2 / 3 }],
  rehearsals: [],
  parts: [],
});
const note = (at: number): SoundedNote => ({
  start: Math.round(at * QUARTER),
  end: Math.round((at + 0.25) * QUARTER),
  key: 60,
  accent: false,
  staccato: false,
  sources: [],
});
const barOf = (moment: number) => bars[barIndexOf(bars, moment)]!;
const sounding = (score: Score, ...places: number[]) => {
  const notes = places.map(note);
  const swung = swungMoments(score, notes, barOf);
  return notes.map(({ start }) => Math.round((1e6 * swung(start)) / QUARTER) / 1e6);
};

describe('swung playing', () => {
  it('puts offbeat eighths on the last third, in the swung bars alone', () => {
    expect(sounding(scoreOf(1, 2), 3, 3.5, 4, 4.5, 5, 7.5, 8.5)).toEqual([
      3, 3.5, 4, 4.666667, 5, 7.666667, 8.5,
    ]);
  });

  it('leaves beats with tuplets or 16ths as they stand', () => {
    const triplet = [0, 0.333333, 0.666667];
    expect(sounding(scoreOf(0, 4), ...triplet)).toEqual(triplet);
    expect(sounding(scoreOf(0, 4), 0, 0.25, 0.5, 1, 1.5)).toEqual([0, 0.25, 0.5, 1, 1.666667]);
  });

  it('puts every second 16th late where 16ths swing, and leaves eighths and 32nds as they stand', () => {
    const swung = scoreOf(0, 4, '16th');
    expect(sounding(swung, 0, 0.25, 0.5, 0.75, 1, 1.5, 2.75)).toEqual([
      0, 0.333333, 0.5, 0.833333, 1, 1.5, 2.833333,
    ]);
    expect(sounding(swung, 0, 0.125, 0.25, 1.25)).toEqual([0, 0.125, 0.25, 1.333333]);
  });

  it('changes nothing in a straight score', () => {
    const { swings: _, ...straight } = scoreOf(0, 4);
    expect(sounding(straight, 0, 0.5, 0.75)).toEqual([0, 0.5, 0.75]);
  });

  it('keeps order, and beats where they are', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat(127), { minLength: 1 }), (eighths) => {
        const places = eighths.map((each) => each / 8).sort((a, b) => a - b);
        const out = sounding(scoreOf(0, 4), ...places);
        expect(out).toEqual(out.toSorted((a, b) => a - b));
        places.forEach((at, index) => {
          if (Number.isInteger(at)) expect(out[index]).toBe(at);
        });
      }),
    );
  });
});
