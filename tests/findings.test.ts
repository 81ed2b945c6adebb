import { describe, expect, it } from 'vitest';
import { seeded } from '@/core/basics/random';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import { rearrange } from '@/core/edit/rearrange';
import { rhythmFindings } from '@/core/explain/findings';
import { usesOf } from '@/core/explain/uses';
import { QUARTER } from '@/core/model/time';
import { readPerformance } from '@/core/sources/smf/performance';
import { transcribeNow } from '@/core/transcribe';
import { briefOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';

const TICKS = 480;
const BARS = 12;

/** Quarters and eighths, as one of several players strikes them. */
function line(seed: number, key: number): Stroke[] {
  const random = seeded(seed);
  const beats = [0, 1, 1.5, 2, 3];
  return Array.from({ length: BARS }, (_, bar) =>
    beats.map((beat, at): Stroke => {
      const on = Math.max(0, Math.round((4 * bar + beat) * TICKS + (random() - 0.5) * 16));
      const length = (beats[at + 1] ?? 4) - beat;
      return [on, on + Math.round(length * TICKS * 0.9), key + ((bar + at) % 5)];
    }),
  ).flat();
}

describe('parts that move together', () => {
  const performance = readPerformance(
    madeFile(
      madeTrack('Flute', 0, line(1, 72)),
      madeTrack('Oboe', 1, line(2, 67)),
      madeTrack('Clarinet', 2, line(3, 60)),
    ),
  );
  const together = transcribeNow(performance, EMPTY_BRIEF);

  it('are written together, and nothing is found', () => {
    expect(rhythmFindings(together)).toEqual([]);
  });

  it('are told where one of them is written apart, and follow each other again', () => {
    const oboe = together.plans.findIndex((plan) => plan.name === 'Oboe');
    const note = [...together.readings[oboe]!.notes.values()].find(
      ({ start }) => start === 4 * 4 * QUARTER + 2 * QUARTER,
    )!;
    const moved = withDirectives(EMPTY_BRIEF, rearrange(together, [note.id], 'later'));
    const apart = transcribeNow(performance, moved);
    const [finding, ...others] = rhythmFindings(apart);
    expect(others).toEqual([]);
    expect(finding).toMatchObject({
      kind: 'apart',
      part: oboe,
      note: note.id,
      at: { bar: 4, quarters: 2.25 },
      instead: { bar: 4, quarters: 2 },
    });
    expect(finding!.by).toBeLessThan(30);
    const mended = withDirectives(moved, rearrange(apart, [note.id], 'like-part', finding!.other));
    expect(rhythmFindings(transcribeNow(performance, mended))).toEqual([]);
  });

  it('may differ where they were played far apart, or move alone', () => {
    const alone = line(4, 67).filter((_, at) => at % 5 !== 2);
    const free = transcribeNow(
      readPerformance(madeFile(madeTrack('Flute', 0, line(1, 72)), madeTrack('Oboe', 1, alone))),
      EMPTY_BRIEF,
    );
    expect(rhythmFindings(free)).toEqual([]);
  });
});

describe('what a part uses', () => {
  const usesOfPart = (strokes: readonly Stroke[]) => {
    const { readings, frame } = transcribeNow(
      readPerformance(madeFile(madeTrack('Oboe', 0, strokes))),
      EMPTY_BRIEF,
    );
    return usesOf(readings[0]!.attacks, frame);
  };
  const run = (steps: number, count: number): Stroke[] =>
    Array.from({ length: count }, (_, at): Stroke => {
      const on = Math.round((at * TICKS) / steps);
      return [on, on + Math.round(TICKS / steps) - 10, 60 + (at % 7)];
    });

  it.each([
    ['quarters', run(1, 32), { smallest: 'quarter', finer: 0, tuplets: 0, attacks: 32 }],
    ['eighths', run(2, 64), { smallest: 'eighth', finer: 0, tuplets: 0, attacks: 64 }],
    ['16ths', run(4, 64), { smallest: '16th', finer: 0, tuplets: 0, attacks: 64 }],
    // Every third note of a triplet stands on the beat.
    ['triplets', run(3, 48), { smallest: 'quarter', finer: 0, tuplets: 32, attacks: 48 }],
  ])('is told for %s', (_name, strokes, uses) => {
    expect(usesOfPart(strokes)).toEqual(uses);
  });

  it('says how few stand on finer places', () => {
    const strokes = run(2, 64);
    strokes[9] = [strokes[9]![0] + 120, strokes[9]![1], 64];
    expect(usesOfPart(strokes)).toEqual({ smallest: 'eighth', finer: 1, tuplets: 0, attacks: 64 });
  });
});

describe('the number of voices', () => {
  /** A held note over moving ones, and drums of hands and feet. */
  const held: Stroke[] = Array.from({ length: 4 }, (_, bar): Stroke[] => [
    [bar * 1920, bar * 1920 + 1900, 76],
    [bar * 1920, bar * 1920 + 470, 60],
    [bar * 1920 + 480, bar * 1920 + 950, 62],
    [bar * 1920 + 960, bar * 1920 + 1900, 64],
  ]).flat();
  const performance = readPerformance(madeFile(madeTrack('Guitar', 0, held)));
  const voicesOf = (brief = EMPTY_BRIEF) =>
    transcribeNow(performance, brief).score.parts[0]!.bars.map((bar) => bar.voices.length);

  it('is two where a note sounds on, one where you say so, there and nowhere else', () => {
    expect(voicesOf()).toEqual([2, 2, 2, 2]);
    expect(voicesOf(briefOf({ kind: 'voices', most: 1 }))).toEqual([1, 1, 1, 1]);
    expect(voicesOf(briefOf({ kind: 'voices', strand: '1/t1c1', most: 1, from: 1920, to: 3840 }))).toEqual([
      2, 1, 2, 2,
    ]);
    const backAgain = withDirectives(briefOf({ kind: 'voices', most: 1 }), [{ kind: 'voices', most: 2 }]);
    expect(voicesOf(backAgain)).toEqual([2, 2, 2, 2]);
  });
});
