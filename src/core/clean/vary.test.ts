import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { deskOf, madeFile, madeTrack, type Stroke } from '../../../tests/helpers/made-file';
import { secondsAt } from '../model/clock';
import { vary } from './vary';

const grid = (keys: readonly number[]): Stroke[] =>
  Array.from({ length: 64 }, (_, at) => keys.map((key): Stroke => [at * 240, at * 240 + 240, key])).flat();

const varied = (seed: number, time = 20, velocity = 12, tracks = [madeTrack('Flute', 0, grid([60]))]) => {
  const desk = deskOf(madeFile(...tracks), { kind: 'vary', time, velocity, seed });
  return { desk, result: vary(desk.performance, desk.decisions) };
};

describe('gentle variation', () => {
  it('moves no note farther than asked, loses none, and lets no key swallow itself', () => {
    fc.assert(
      fc.property(fc.nat(1e6), fc.nat(60), fc.nat(40), (seed, time, velocity) => {
        const { desk, result } = varied(seed, time, velocity, [madeTrack('Piano', 0, grid([60, 64, 67]))]);
        const { clock } = desk.performance;
        const before = new Map(desk.performance.strands[0]!.notes.map((note) => [note.id, note]));
        const { notes } = result.strands[0]!;
        expect(notes).toHaveLength(before.size);
        const last = new Map<number, number>();
        for (const note of notes) {
          const was = before.get(note.id)!;
          const moved = 1000 * Math.abs(secondsAt(clock, note.on) - secondsAt(clock, was.on));
          expect(moved).toBeLessThanOrEqual(time + 1.1);
          expect(Math.abs(note.velocity - was.velocity)).toBeLessThanOrEqual(velocity + 0.5);
          expect(note.off).toBeGreaterThanOrEqual(note.on);
          expect(note.on).toBeGreaterThanOrEqual(last.get(note.key) ?? 0);
          last.set(note.key, note.off);
        }
      }),
      { numRuns: 100 },
    );
  });

  it('is the same for the same seed, other for another, and nothing for nothing', () => {
    const at = (seed: number) => varied(seed).result.strands[0]!.notes;
    expect(at(1)).toEqual(at(1));
    expect(at(1)).not.toEqual(at(2));
    const { desk, result } = varied(1, 0, 0);
    expect(result).toBe(desk.performance);
  });

  it('keeps chords together', () => {
    const { result } = varied(3, 30, 0, [madeTrack('Piano', 0, grid([60, 64, 67]))]);
    const byAttack = new Map<number, number>();
    for (const note of result.strands[0]!.notes) byAttack.set(note.on, (byAttack.get(note.on) ?? 0) + 1);
    expect([...byAttack.values()].every((count) => count === 3)).toBe(true);
  });

  it('accents downbeats over offbeats', () => {
    const { result } = varied(4, 0, 20);
    const mean = (pick: (tick: number) => boolean) => {
      const chosen = result.strands[0]!.notes.filter((note) => pick(note.on));
      return chosen.reduce((sum, note) => sum + note.velocity, 0) / chosen.length;
    };
    expect(mean((tick) => tick % 1920 === 0)).toBeGreaterThan(mean((tick) => tick % 480 === 240) + 8);
  });

  /** Pearson correlation of two strands' shifts. */
  const correlation = (a: readonly number[], b: readonly number[]) => {
    const mean = (all: readonly number[]) => all.reduce((sum, one) => sum + one, 0) / all.length;
    const [ma, mb] = [mean(a), mean(b)];
    const dot = (x: readonly number[], mx: number, y: readonly number[], my: number) =>
      x.reduce((sum, one, at) => sum + (one - mx) * (y[at]! - my), 0);
    return dot(a, ma, b, mb) / Math.sqrt(dot(a, ma, a, ma) * dot(b, mb, b, mb));
  };

  it('lets strands drift together, each in its own way', () => {
    let sum = 0;
    for (let seed = 1; seed <= 20; seed++) {
      const { result } = varied(seed, 40, 0, [
        madeTrack('Flute', 0, grid([72])),
        madeTrack('Oboe', 1, grid([67])),
      ]);
      const [a, b] = result.strands.map((strand) => strand.notes.map((note, at) => note.on - at * 240));
      expect(a).not.toEqual(b);
      sum += correlation(a!, b!);
    }
    expect(sum / 20).toBeGreaterThan(0.15);
  });

  it('parts the hands of a drummer from the feet', () => {
    const { result } = varied(5, 40, 0, [madeTrack('Drums', 9, grid([36, 42]))]);
    const { notes } = result.strands[0]!;
    const ons = (key: number) => notes.filter((note) => note.key === key).map((note) => note.on);
    expect(ons(36)).not.toEqual(ons(42));
  });
});
