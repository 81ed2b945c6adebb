import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seeded } from '@/core/basics/random';
import { finished } from '@/core/basics/steps';
import { followBeats } from '@/core/clean/beats';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import { DEFAULT_HAND_OVER } from '@/core/decisions/kinds/hand-over';
import { previewMidi } from '@/core/deliver';
import { untidyFile } from '@/core/demo/untidy';
import { findBeats, gridStrength, isGridUnusable } from '@/core/infer/beats/beats';
import { onsetsOf } from '@/core/infer/beats/onsets';
import { proposeMeters } from '@/core/infer/meter/meters';
import { secondsAt } from '@/core/model/clock';
import { QUARTER } from '@/core/model/time';
import { soundedNotes } from '@/core/perform/play';
import { readPerformance } from '@/core/sources/smf/performance';
import { readSmf } from '@/core/sources/smf/read';
import { writeSmf } from '@/core/sources/smf/write';
import { findOddities } from '@/core/stock/oddities';
import { isInBulk } from '@/core/stock/oddities/oddity';
import { transcribeNow } from '@/core/transcribe';
import { stockOf } from '@/core/workbench/stock';
import { Workbench } from '@/core/workbench/workbench';
import { layOutFile } from './helpers/desk';
import { madeFile, madeTrack, type Stroke } from './helpers/made-file';

/** A file at 480 ticks and 120 quarter notes a minute has this many ticks a second. */
const PER_SECOND = 960;

/** Quarters and eighths over a bass, three in a bar, at a tempo that wanders about 84. */
function playedFreely(seed: number) {
  const random = seeded(seed);
  const times = [0.5];
  for (let beat = 0; beat < 80; beat++) {
    const slowing = beat % 24 >= 22 ? 1.2 : 1;
    times.push(
      times.at(-1)! + (60 / 84) * slowing * (1 + 0.16 * Math.sin(beat / 5) + 0.03 * (random() - 0.5)),
    );
  }
  const at = (beat: number) => {
    const whole = Math.floor(beat);
    return times[whole]! + (beat - whole) * (times[whole + 1]! - times[whole]!);
  };
  const tick = (beat: number) => Math.round((at(beat) + 0.012 * (random() - 0.5)) * PER_SECOND);
  const melody: Stroke[] = [];
  const bass: Stroke[] = [];
  for (let beat = 0; beat < 72; beat++) {
    const parts = beat % 3 === 1 ? [0, 0.5] : [0];
    for (const part of parts)
      melody.push([tick(beat + part), tick(beat + part + 0.8 / parts.length), 72 + ((beat * 5) % 8)]);
    if (beat % 3 === 0) bass.push([tick(beat), tick(beat + 2.6), 43 + ((beat / 3) % 5), 100]);
  }
  return { smf: madeFile(madeTrack('Flute', 0, melody), madeTrack('Cello', 1, bass)), times };
}

describe('a grid', () => {
  it('is there in what was played to a click, and not in what was not', () => {
    expect(isGridUnusable(readPerformance(readSmf(untidyFile())))).toBe(false);
    for (const seed of [1, 2, 3]) {
      const free = readPerformance(playedFreely(seed).smf);
      expect(gridStrength(free)).toBeLessThan(0.2);
      expect(isGridUnusable(free)).toBe(true);
    }
  });

  it('is not asked for in a handful of notes', () => {
    const few = madeFile(madeTrack('Flute', 0, [[37, 300, 60]]));
    expect(gridStrength(readPerformance(few))).toBeNull();
  });
});

describe('beats', () => {
  it('are found in free playing, with the bars', () => {
    for (const seed of [1, 2, 3]) {
      const { smf, times } = playedFreely(seed);
      const found = findBeats(onsetsOf(readPerformance(smf)))!;
      const right = times
        .slice(0, 72)
        .filter((time) => found.seconds.some((each) => Math.abs(each - time) < 0.07));
      expect(right.length).toBeGreaterThanOrEqual(68);
      expect(found.perBar).toBe(3);
    }
  });

  it('are not found in nothing', () => {
    expect(findBeats([])).toBeNull();
    expect(findBeats(Array.from({ length: 20 }, () => ({ seconds: 1, weight: 1 })))).toBeNull();
    expect(findBeats([{ seconds: 1e7, weight: 1 }])).toBeNull();
  });

  it('are followed where the file’s are no use, which is said; taken up or declined', () => {
    const { smf } = playedFreely(4);
    const raw = layOutFile(smf, EMPTY_BRIEF);
    const oddity = findOddities(raw.performance, raw.decisions).find((each) => each.kind === 'grid')!;
    expect(oddity.what).toMatch(/played without a click.*Bars follow the .*3 a bar/);
    expect(previewMidi(raw, DEFAULT_HAND_OVER).remarks).toContain(
      'Bars and tempo follow the beats that are heard; the file has others.',
    );
    const filed = layOutFile(smf, withDirectives(EMPTY_BRIEF, oddity.instead!.directives));
    expect(filed.performance).toBe(filed.source);
    expect(findOddities(filed.performance, filed.decisions).filter((each) => each.kind === 'grid')).toEqual(
      [],
    );
    const brief = withDirectives(EMPTY_BRIEF, oddity.mend.directives);
    const { performance, decisions } = layOutFile(smf, brief);
    expect(performance).toEqual(raw.performance);
    expect(findOddities(performance, decisions).filter((each) => each.kind === 'grid')).toEqual([]);
    const { score, readings } = transcribeNow(performance, brief);
    expect(score.bars.at(-1)!.meter).toEqual({ numerator: 3, denominator: 4 });
    const starts = [...readings[0]!.notes.values()].map((note) => note.start / QUARTER);
    const onGrid = starts.filter((start) => Number.isInteger(start * 2));
    expect(onGrid.length / starts.length).toBeGreaterThan(0.95);
    // Decisions about moments that were taken in the file's time keep it.
    const passage = withDirectives(EMPTY_BRIEF, [{ kind: 'swing', from: 1920, to: 3840, use: 'straight' }]);
    const kept = layOutFile(smf, passage);
    expect(kept.performance).toBe(kept.source);
    const [offer] = findOddities(kept.performance, kept.decisions).filter((each) => each.kind === 'grid');
    expect(offer!.mend.directives).toEqual(oddity.mend.directives);
  });

  it('are told among what is odd in the stock of a job', () => {
    const bytes = writeSmf(playedFreely(1).smf);
    const bench = new Workbench([{ id: '1', version: 1, name: 'free.mid', bytes }]);
    const { inventory } = finished(stockOf(bench.layOut(1, EMPTY_BRIEF)));
    expect(inventory.oddities.map(({ kind }) => kind)).toContain('grid');
  });

  it('are followed where the music goes across the file’s, and make swung pairs of its dotted figures', () => {
    // Long and short at 160 a minute, recorded to a click of 120: dotted eighths of the file.
    const pair = 360;
    const strokes = Array.from({ length: 192 }, (_, beat): Stroke[] => [
      [beat * pair, beat * pair + 220, 60 + ((beat * 5) % 12)],
      [beat * pair + 240, beat * pair + 340, 62 + ((beat * 7) % 12)],
    ]).flat();
    const smf = madeFile(madeTrack('Clarinet', 0, strokes));
    const raw = layOutFile(smf, EMPTY_BRIEF);
    const [oddity] = findOddities(raw.performance, raw.decisions).filter(({ kind }) => kind === 'pulse');
    expect(oddity!.what).toContain('about 160 a minute');
    const brief = withDirectives(EMPTY_BRIEF, oddity!.mend.directives);
    const { performance, decisions } = layOutFile(smf, brief);
    expect(findOddities(performance, decisions).filter(({ kind }) => kind === 'pulse')).toEqual([]);
    const { score } = transcribeNow(performance, brief);
    expect(score.swings).toMatchObject([{ from: 0, to: score.bars.length, value: 'eighth' }]);
    const onsets = soundedNotes(score, score.parts[0]!).map(({ start }) => start / QUARTER);
    expect(onsets.slice(0, 6)).toEqual([0, 0.5, 1, 1.5, 2, 2.5]);
  });

  it('are counted in fours where six would be struck alike', () => {
    // Running 16ths at 126 a minute, accents by quarters alone, no click.
    const onsets = Array.from({ length: 600 }, (_, at) => ({
      seconds: 0.4 + (at * 60) / 126 / 4,
      weight: at % 4 === 0 ? 1.2 : 0.8,
    }));
    const { seconds } = findBeats(onsets)!;
    const pace = (seconds.at(-1)! - seconds[0]!) / (seconds.length - 1);
    const sixteenths = pace / (60 / 126 / 4);
    expect([2, 4, 8].some((count) => Math.abs(sixteenths - count) < 0.05)).toBe(true);
  });

  it('leave every note where it sounds', () => {
    const beats = fc
      .array(fc.integer({ min: 100, max: 900 }), { minLength: 4, maxLength: 40 })
      .map((steps) => {
        let at = 0;
        return steps.map((step) => {
          at += step;
          return at;
        });
      });
    const notes = fc.array(fc.tuple(fc.nat(20_000), fc.integer({ min: 60, max: 900 })), {
      minLength: 1,
      maxLength: 40,
    });
    fc.assert(
      fc.property(beats, notes, fc.constantFrom(2, 3, 4), fc.nat(3), (ticks, strokes, perBar, first) => {
        const track = madeTrack(
          'Flute',
          0,
          strokes.map(([on, length]): Stroke => [on, on + length, 60]),
        );
        const before = readPerformance(madeFile(track));
        const after = followBeats(before, { ticks, perBar, first })!;
        const seconds = (each: typeof before) =>
          new Map(each.strands[0]!.notes.map((note) => [note.id, secondsAt(each.clock, note.on)]));
        const now = seconds(after);
        for (const [id, time] of seconds(before)) {
          // Half a tick at the slowest beat, and the rounding of tempos to whole microseconds.
          expect(Math.abs(now.get(id)! - time)).toBeLessThan(0.002);
        }
      }),
      { numRuns: 200 },
    );
  });
});

describe('a meter', () => {
  /** Waltz or march figures: bass on the downbeat, chords after it. */
  const figures = (perBar: number, upbeat: number) => {
    const bass: Stroke[] = [];
    const chords: Stroke[] = [];
    for (let beat = 0; beat < perBar * 20; beat++) {
      const tick = (beat + upbeat) * 480;
      if (beat % perBar === 0) bass.push([tick, tick + 460, 36 + 5 * ((beat / perBar) % 3), 100]);
      else chords.push([tick, tick + 200, 60 + (beat % 2)], [tick, tick + 200, 64]);
    }
    if (upbeat > 0) chords.unshift([0, 400, 67]);
    return madeFile(madeTrack('Piano', 0, [...bass, ...chords]));
  };

  it('is proposed where the file has only the default one', () => {
    for (const [perBar, upbeat] of [
      [3, 0],
      [3, 1],
    ] as const) {
      const file = figures(perBar, upbeat);
      const raw = layOutFile(file, EMPTY_BRIEF);
      const oddity = findOddities(raw.performance, raw.decisions).find(
        (each) => each.kind === 'default-meter',
      )!;
      expect(oddity.what).toContain('3/4');
      const brief = withDirectives(EMPTY_BRIEF, oddity.mend.directives);
      const { performance, decisions } = layOutFile(file, brief);
      expect(performance.clock.upbeat).toBe(upbeat * 480);
      expect(findOddities(performance, decisions).some((each) => each.kind === 'default-meter')).toBe(false);
    }
  });

  it('has its upbeat proposed where the last chord and the accents ask for one', () => {
    const raw = layOutFile(figures(4, 1), EMPTY_BRIEF);
    const oddity = findOddities(raw.performance, raw.decisions).find(({ kind }) => kind === 'default-meter')!;
    expect(oddity.mend.directives).toEqual([
      { kind: 'meter', numerator: 4, denominator: 4, upbeatQuarters: 1 },
    ]);
    expect(isInBulk(oddity)).toBe(false);
  });

  it.each([
    ['5/4', 480, [3, 2]],
    ['5/4', 480, [2, 3]],
    ['7/8', 240, [2, 2, 3]],
    ['7/8', 240, [3, 2, 2]],
  ])(
    'is proposed where it is %s, a unit of %i ticks in groups of %j, and groups so',
    (name, unit, groups) => {
      const length = groups.reduce((sum, each) => sum + each);
      const strokes = Array.from({ length: 16 }, (_, bar) => {
        let at = bar * length;
        return groups.flatMap((units, group): Stroke[] => {
          const from = at;
          at += units;
          const on = from * unit;
          const bass: Stroke = [on, on + unit - 20, (group === 0 ? 36 : 43) + ((5 * bar) % 7), 100];
          const chords = Array.from({ length: units - 1 }, (_, next): Stroke[] => {
            const then = (from + next + 1) * unit;
            return [64, 67].map((key): Stroke => [then, then + unit / 2, key, 70]);
          });
          return [bass, ...chords.flat()];
        });
      });
      const file = madeFile(madeTrack('Piano', 0, strokes.flat()));
      const raw = layOutFile(file, EMPTY_BRIEF);
      const oddity = findOddities(raw.performance, raw.decisions).find(
        ({ kind }) => kind === 'default-meter',
      )!;
      expect(oddity.what).toContain(`fit ${name} better`);
      const brief = withDirectives(EMPTY_BRIEF, oddity.mend.directives);
      const { foundGroups } = transcribeNow(layOutFile(file, brief).performance, brief);
      expect(foundGroups.slice(0, 8)).toEqual(Array(8).fill(groups));
    },
  );

  it('is left alone where 4/4 fits, or the file says another', () => {
    const raw = layOutFile(figures(4, 0), EMPTY_BRIEF);
    expect(findOddities(raw.performance, raw.decisions).some((each) => each.kind === 'default-meter')).toBe(
      false,
    );
    expect(proposeMeters(readPerformance(madeFile(madeTrack('Piano', 0, [[0, 480, 60]]))))).toEqual([]);
  });
});
