import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { attacked, madeFrame, sketched } from '../../../../tests/helpers/sketch';
import { finished } from '../../basics/steps';
import { frameEnd } from '../../model/frame';
import type { Attack } from '../../model/sketch';
import { QUARTER } from '../../model/time';
import { fitDrumLengths } from './drums';
import { fitLengths, type LengthOptions } from './lengths';

const frame = madeFrame(4);
const played: LengthOptions = {
  tidiness: { attacks: false, releases: false },
  singleLine: true,
  dies: false,
  secondsPerUnit: () => 0.5 / QUARTER,
  closing: () => 1,
  swingAt: () => undefined,
};

/** A line of notes, each held for some of what it could; quarter notes. */
const line = (...notes: [at: number, held: number][]): Attack[] =>
  notes.map(([at, held], index) => attacked(sketched(at, held, 60 + (index % 5))));
const lengthsOf = (attacks: readonly Attack[]) =>
  attacks.map(({ notes }) => (notes[0]!.end - notes[0]!.start) / QUARTER);
const written = (attacks: Attack[], options: Partial<LengthOptions> = {}) => {
  finished(fitLengths(attacks, frame, { ...played, ...options }));
  return lengthsOf(attacks);
};

describe('written lengths', () => {
  const quarters = (held: number) => Array.from({ length: 16 }, (_, at): [number, number] => [at, held]);

  it('run to the next attack where a gap is mere release', () => {
    expect(written(line(...quarters(0.82)))).toEqual(Array(16).fill(1));
  });

  it('leave a rest where one was played', () => {
    const notes = quarters(0.9).filter(([at]) => at % 4 !== 3);
    expect(written(line(...notes))).toEqual(Array(12).fill(1));
  });

  it('stay whole under a dot where notes are short: staccato, and no specks of rests', () => {
    const attacks = line(...quarters(0.25));
    expect(written(attacks)).toEqual(Array(16).fill(1));
    expect(attacks.every(({ notes }) => notes[0]!.staccato)).toBe(true);
  });

  it('end where the next begins in a single line, however long they are held, and say legato', () => {
    const attacks = line(...quarters(1.08));
    expect(written(attacks)).toEqual(Array(16).fill(1));
    expect(attacks.slice(0, -1).every(({ notes }) => notes[0]!.legato)).toBe(true);
  });

  it('are as written where the file stands on the grid to the tick', () => {
    const tidy = { tidiness: { attacks: true, releases: true } };
    expect(written(line([0, 0.5], [1, 0.25], [2, 1], [3, 0.75]), tidy)).toEqual([0.5, 0.25, 1, 0.75]);
  });

  it('are no gate of a programmed part, but rests and shorter values that it uses', () => {
    const tidy = { tidiness: { attacks: true, releases: true } };
    const steps = (step: number, held: number) =>
      Array.from({ length: 16 / step }, (_, at): [number, number] => [at * step, held]);
    // Eighths at three quarters of their step; 16ths at two thirds; quarters of which nothing is finer.
    expect(written(line(...steps(0.5, 0.375)), tidy)).toEqual(Array(32).fill(0.5));
    expect(written(line(...steps(0.25, 1 / 6)), tidy)).toEqual(Array(64).fill(0.25));
    expect(written(line(...steps(1, 0.75)), tidy)).toEqual(Array(16).fill(1));
    // Half of the step is a value and a rest; so is what ends where the part attacks.
    expect(written(line(...steps(0.5, 0.25)), tidy)).toEqual(Array(32).fill(0.25));
    const dotted = Array.from({ length: 14 }, (_, at): [number, number] => [at, 0.75]);
    const mixed = written(
      line(...dotted, ...steps(0.25, 0.25).map(([at, held]): [number, number] => [14 + at / 8, held])),
      tidy,
    );
    expect(mixed.slice(0, 13)).toEqual(Array(13).fill(0.75));
    // A few such notes are no gate.
    expect(written(line([0, 0.75], [1, 1], [2, 1], [3, 0.75]), tidy)).toEqual([0.75, 1, 1, 0.75]);
  });

  it('end at the next attack in an exact line that rings on', () => {
    const tidy = { tidiness: { attacks: true, releases: true } };
    const ringing = quarters(0).map(([at]): [number, number] => [at / 2, 1]);
    expect(written(line(...ringing), tidy).slice(0, 15)).toEqual(Array(15).fill(0.5));
  });

  it('keep or close gaps as they are told to', () => {
    const loose = (closing: number) =>
      written(line(...quarters(0.62)), { closing: () => closing }).filter((length) => length === 1).length;
    expect(loose(4)).toBe(16);
    expect(loose(4)).toBeGreaterThanOrEqual(loose(0));
  });

  it('are eighths within swing, not half of one', () => {
    // The second of each pair is let go after half of its short eighth.
    const attacks = Array.from({ length: 8 }, (_, beat) => {
      const off = { ...attacked(sketched(beat + 0.5, 0.24, 64)), literal: (beat + 2 / 3) * QUARTER };
      return [attacked(sketched(beat, 0.5, 60)), off];
    }).flat();
    expect(
      written(attacks, {
        tidiness: { attacks: true, releases: true },
        swingAt: () => ({ from: 0, to: 99, value: 'eighth', ratio: 2 / 3 }),
      }),
    ).toEqual(Array(16).fill(0.5));
  });

  it('of a chord hold on what sounds on after the others are let go', () => {
    // Quarters of an inner line, in every other bar under a note that lasts the bar.
    const attacks = Array.from({ length: 16 }, (_, at) => {
      const inner = sketched(at, 0.93 - (at % 3) * 0.03, at % 2 === 0 ? 59 : 62);
      return at % 8 === 4 ? attacked(inner, sketched(at, 3.93, 66)) : attacked(inner);
    });
    finished(fitLengths(attacks, frame, { ...played, singleLine: false }));
    const lengths = attacks
      .flatMap(({ notes }) => notes)
      .map(({ key, start, end }) => [key, (end - start) / QUARTER]);
    expect(lengths.filter(([key]) => key === 66)).toEqual([
      [66, 4],
      [66, 4],
    ]);
    expect(lengths.filter(([key]) => key !== 66).every(([, length]) => length === 1)).toBe(true);
  });

  it('never reach past the next attack, however near it is: quintuplets of an eighth', () => {
    const fifths = Array.from({ length: 5 }, (_, at): [number, number] => [0.5 + at / 10, 0.1]);
    expect(written(line([0, 0.5], ...fifths, [1, 1])).map((length) => Math.round(length * 1000))).toEqual([
      500, 100, 100, 100, 100, 100, 1000,
    ]);
  });

  it('take no time for grace notes', () => {
    const grace = { ...attacked(sketched(0.9, 0.1, 72)), grace: true, start: QUARTER };
    finished(fitLengths([grace, ...line([1, 1])], frame, played));
    expect(grace.notes[0]).toMatchObject({ start: QUARTER, end: QUARTER, grace: true });
  });

  it('are never nothing, never reach past the end, and never under the next note of a line', () => {
    const notes = fc.uniqueArray(fc.tuple(fc.nat(63), fc.double({ min: 0.02, max: 6, noNaN: true })), {
      minLength: 1,
      maxLength: 30,
      selector: ([at]) => at,
    });
    fc.assert(
      fc.property(notes, fc.boolean(), (all, singleLine) => {
        const attacks = line(
          ...all.map(([at, held]): [number, number] => [at / 4, held]).sort((a, b) => a[0] - b[0]),
        );
        finished(fitLengths(attacks, frame, { ...played, singleLine }));
        attacks.forEach(({ notes: [note] }, index) => {
          expect(note!.end).toBeGreaterThan(note!.start);
          expect(note!.end).toBeLessThanOrEqual(frameEnd(frame));
          const next = attacks[index + 1]?.start;
          if (singleLine && next !== undefined) expect(note!.end).toBeLessThanOrEqual(next);
        });
      }),
    );
  });
});

describe('lengths of drums', () => {
  it('run to the next stroke of the same hands or feet, at most to the end of the beat', () => {
    const kit = [
      attacked(sketched(0, 0.1, 36), sketched(0, 0.1, 42)),
      attacked(sketched(0.5, 0.1, 42)),
      attacked(sketched(1, 0.1, 38), sketched(1, 0.1, 42)),
    ];
    fitDrumLengths(kit, frame);
    const lengths = kit.map(({ notes }) => notes.map((note) => (note.end - note.start) / QUARTER));
    expect(lengths).toEqual([[1, 0.5], [0.5], [1, 1]]);
  });
});
