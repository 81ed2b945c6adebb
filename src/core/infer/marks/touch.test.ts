import { describe, expect, it } from 'vitest';
import type { SketchNote } from '../../model/sketch';
import { QUARTER } from '../../model/time';
import { rolledChords } from './arpeggios';
import { type PedalMove, pedalSpans } from './pedal';

/** Down and up at quarter notes, a second each. */
const move = (quarters: number, down: boolean): PedalMove => ({
  at: quarters * QUARTER,
  seconds: quarters,
  down,
});
const spans = (moves: PedalMove[], attacks: number[], end = 16) =>
  pedalSpans(
    moves,
    attacks.map((each) => each * QUARTER),
    end * QUARTER,
  ).map(({ from, to }) => [from / QUARTER, to / QUARTER]);

// Common practice of pianists and engravers: the pedal catches an attack, and is changed with one.
describe('pedal', () => {
  it('begins with the attack that it catches and ends with the one that it is lifted for', () => {
    expect(spans([move(0.2, true), move(3.9, false)], [0, 1, 2, 3, 4])).toEqual([[0, 4]]);
  });

  it('that is changed ends and begins at one place', () => {
    const moves = [move(0.2, true), move(4.05, false), move(4.25, true), move(7.9, false)];
    expect(spans(moves, [0, 2, 4, 6, 8])).toEqual([
      [0, 4],
      [4, 8],
    ]);
  });

  it('that is never lifted ends with the piece, and one said twice is one', () => {
    expect(spans([move(1, true), move(2, true)], [1, 2, 3])).toEqual([[1, 16]]);
    expect(spans([move(3, false)], [1, 2, 3])).toEqual([]);
  });

  it('far from any attack stands on eighths', () => {
    expect(spans([move(5.3, true), move(9.3, false)], [0, 12])).toEqual([[5.5, 9.5]]);
  });
});

describe('rolled chords', () => {
  const chord = (at: number, steps: number[]): SketchNote[] =>
    steps.map(
      (on, index) => ({ key: 60 + 4 * index, on: 1000 * at + on, start: at * QUARTER }) as SketchNote,
    );
  const rolled = (...chords: SketchNote[][]) =>
    rolledChords(chords.flat(), (tick) => tick / 1000).map(({ at, down }) => [at / QUARTER, down]);

  it('come one note after another, from below or from above', () => {
    const plain = [chord(4, [0, 2, 1]), chord(5, [0, 0, 0]), chord(6, [3, 0, 2])];
    expect(rolled(...plain, chord(0, [0, 30, 65]), chord(1, [80, 40, 0]))).toEqual([
      [0, false],
      [1, true],
    ]);
    expect(rolled(...plain, chord(2, [0, 60, 30]))).toEqual([]);
  });

  it('are none where all are: that is how a guitar is strummed', () => {
    expect(rolled(...[0, 1, 2, 3, 4].map((at) => chord(at, [0, 20, 40])))).toEqual([]);
  });
});
