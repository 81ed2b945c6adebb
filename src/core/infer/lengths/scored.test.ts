import { describe, expect, it } from 'vitest';
import { attacked, madeFrame, sketched } from '../../../../tests/helpers/sketch';
import { finished } from '../../basics/steps';
import type { Attack } from '../../model/sketch';
import { QUARTER } from '../../model/time';
import { fitLengths } from './lengths';

const frame = madeFrame(16);
/** A slurred note sounds so far into the next, in quarter notes: 20 ms at 120. */
const OVER = 19 / 480;

/** Notes by how far they are from the one before, and how long they sound; quarter notes. */
function line(...notes: [step: number, held: number][]): Attack[] {
  let at = 0;
  return notes.map(([step, held], index) => {
    at += step;
    return attacked(sketched(at, held, 60 + ((index * 2) % 7)));
  });
}
const slurred = (count: number): [number, number][] =>
  Array.from({ length: count }, (_, at) => [at === 0 ? 1 : 0.5, at === count - 1 ? 0.5 : 0.5 + OVER]);

function written(attacks: Attack[], places: number): (number | string)[] {
  finished(
    fitLengths(attacks, frame, {
      tidiness: { attacks: true, releases: false },
      singleLine: true,
      dies: false,
      secondsPerUnit: () => 0.5 / QUARTER,
      closing: () => 1,
      swingAt: () => undefined,
    }),
  );
  return attacks.slice(-places).map(({ notes: [note] }) => {
    const length = (note!.end - note!.start) / QUARTER;
    return note!.staccato ? `${length}.` : length;
  });
}

describe('lengths of a part that a program played from a score', () => {
  it('run to the next where they sound a little into it, and end to the tick elsewhere', () => {
    expect(written(line(...slurred(12), [1, 0.5], [1.5, 2]), 14)).toEqual([...Array(13).fill(0.5), 2]);
  });

  it('are whole under dots where half of them sounds', () => {
    const dots = Array.from({ length: 8 }, (_, at): [number, number] => [at === 0 ? 1 : 0.5, 0.25]);
    expect(written(line(...slurred(8), ...dots), 8)).toEqual(Array(8).fill('0.5.'));
  });

  it('are short, with a rest, where a dot would need a tie or would reach past the next', () => {
    // An eighth before a dotted gap; a 16th whose double would cross the beat.
    expect(written(line(...slurred(12), [1, 0.5], [0.75, 0.25], [1, 1]), 3)).toEqual([0.5, 0.25, 1]);
  });

  it('are left to other ways of reading where nothing runs into the next', () => {
    const plain = Array.from({ length: 16 }, (): [number, number] => [1, 0.9]);
    expect(written(line(...plain), 16)).toEqual(Array(16).fill(1));
  });
});
