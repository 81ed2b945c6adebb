import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { attacked, madeFrame, sketched } from '../../../../tests/helpers/sketch';
import { QUARTER } from '../../model/time';
import { gatherAttacks, isChordal, isLine, joinAttacks, soundTogether } from './attacks';

const frame = madeFrame(8);
/** Milliseconds at 120 quarter notes a minute, in quarter notes. */
const ms = (milliseconds: number) => milliseconds / 500;

const keysOf = (attacks: readonly { notes: readonly { key: number }[] }[]) =>
  attacks.map(({ notes }) => notes.map(({ key }) => key));

describe('notes that attack together', () => {
  const chords = Array.from({ length: 6 }, (_, at) =>
    [60, 64, 67].map((key, index) => sketched(at + ms(12 * index), 0.9, key)),
  ).flat();

  it('are one chord to the tick where they were written, and rolled where they were played', () => {
    const written = [sketched(0, 1, 60), sketched(0, 1, 64), sketched(ms(10), 1, 67)];
    expect(keysOf(gatherAttacks(written, frame, true))).toEqual([[60, 64], [67]]);
    const tight = chords.map((note, index) =>
      index % 3 === 1 ? sketched(Math.floor(index / 3) + ms(4), 0.9, 64) : note,
    );
    expect(
      isChordal(
        tight.toSorted((a, b) => a.on - b.on),
        frame,
      ),
    ).toBe(true);
    expect(keysOf(gatherAttacks(tight, frame, false))).toEqual(Array(6).fill([60, 64, 67]));
  });

  it('are a run where each ends before the next, however quick', () => {
    const run = [60, 62, 64, 65].map((key, at) => sketched(at * ms(20), ms(19), key));
    expect(keysOf(gatherAttacks(run, frame, false))).toEqual([[60], [62], [64], [65]]);
    expect(isChordal(run, frame)).toBe(false);
  });

  it('are one note where a key is struck twice, with both as its sources', () => {
    const [attack] = gatherAttacks(
      [
        sketched(0, 1, 60, { id: '1/t1c1/1', sources: ['1/t1c1/1'] }),
        sketched(0, 2, 60, { id: '1/t1c1/2', sources: ['1/t1c1/2'] }),
      ],
      frame,
      true,
    );
    expect(attack!.notes).toHaveLength(1);
    expect(attack!.notes[0]).toMatchObject({ sources: ['1/t1c1/1', '1/t1c1/2'], off: 960 });
  });

  it('sound together for a share of the shorter one', () => {
    const [long, short] = [sketched(0, 1, 60), sketched(0.5, 0.5, 64)];
    expect(soundTogether(long, short)).toBe(true);
    expect(soundTogether(sketched(0, 0.6, 60), short)).toBe(false);
    expect(soundTogether(sketched(0, 0.6, 60), short, 0.1)).toBe(true);
  });

  it('are a line where they ring on into the next, however far; not where one outlasts it', () => {
    const ringing = Array.from({ length: 24 }, (_, at) => sketched(at * 0.25, 0.7, 40 + (at % 5)));
    expect(isLine(ringing, frame)).toBe(true);
    expect(isLine(ringing.slice(0, 8), frame)).toBe(false);
    const pedals = ringing.map((note, at) => (at % 8 === 0 ? { ...note, off: note.off + 960 } : note));
    expect(isLine(pedals, frame)).toBe(false);
    expect(isLine(chords, frame)).toBe(false);
    const building = Array.from({ length: 24 }, (_, at) =>
      sketched(at * 0.5, 2 - (at % 4) * 0.5, 60 + (at % 4)),
    );
    expect(isLine(building, frame)).toBe(false);
    const doubled = ringing.flatMap((note) => [note, { ...note, key: note.key + 7, off: note.off + 5 }]);
    expect(isLine(doubled, frame)).toBe(false);
  });

  it('are gathered without losing any, in order of attack', () => {
    const notes = fc.array(
      fc.tuple(fc.nat(3000), fc.integer({ min: 1, max: 900 }), fc.integer({ min: 40, max: 90 })),
      {
        minLength: 1,
        maxLength: 40,
      },
    );
    fc.assert(
      fc.property(notes, fc.boolean(), (all, written) => {
        const made = all.map(([on, length, key], index) => {
          const note = sketched(on / 480, length / 480, key);
          const id = `1/t1c1/${index}` as const;
          return { ...note, id, sources: [id] };
        });
        const attacks = gatherAttacks(made, frame, written);
        const ids = attacks.flatMap((attack) => attack.notes.flatMap((note) => note.sources));
        expect(ids.toSorted()).toEqual(made.map((note) => note.id).toSorted());
        attacks.slice(1).forEach((attack, index) => {
          expect(attack.tick).toBeGreaterThanOrEqual(attacks[index]!.tick);
        });
      }),
    );
  });
});

describe('attacks at one place', () => {
  it('become one, grace notes apart and before it', () => {
    const grace = { ...attacked(sketched(0.9, 0.05, 72)), start: QUARTER, grace: true };
    const joined = joinAttacks(
      [attacked(sketched(1, 1, 60)), grace, { ...attacked(sketched(1.02, 1, 64)), start: QUARTER }],
      8 * QUARTER,
    );
    expect(joined.map((attack) => [attack.grace, attack.notes.map(({ key }) => key)])).toEqual([
      [true, [72]],
      [false, [60, 64]],
    ]);
  });

  it('never stand at the end of the score', () => {
    const [last] = joinAttacks([{ ...attacked(sketched(8, 0.1, 60)), start: 8 * QUARTER }], 8 * QUARTER);
    expect(last!.start).toBeLessThan(8 * QUARTER);
  });
});
