import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { seeded } from '@/core/basics/random';
import { finished } from '@/core/basics/steps';
import { factsOf, levelsOf } from '@/core/recording/levels';
import { layAlong, likenessesOf } from '@/core/recording/offset';
import { type Onsets, onsetsExpected, onsetsOf, type Struck } from '@/core/recording/onsets';
import { mixed, type Sound } from '@/core/recording/sound';
import { makeBank } from '@/core/sound/bank';
import type { Timeline } from '@/core/sound/events';
import { type Level, readBank, renderTimeline } from '@/core/sound/render';
import { likeliest } from '@/core/sound/stem-match';
import { struckOf } from '@/core/sound/struck';
import { timelineOf } from '@/core/sound/timeline';
import { deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';
import './helpers/properties';

const RATE = 16_000;

/** A tune whose phrases differ, at 120 quarter notes a minute. */
function tune(seed: number, bars: number): Timeline {
  const random = seeded(seed);
  const strokes: Stroke[] = [];
  for (let tick = 0; tick < bars * 4 * 480; ) {
    const length = [240, 240, 480, 720][Math.floor(random() * 4)]!;
    strokes.push([tick, tick + length - 20, 55 + Math.floor(random() * 24)]);
    tick += length;
  }
  return timelineOf(deskOf(madeFile(madeTrack('Piano', 0, strokes))), 'source', null);
}

function rendered(timeline: Timeline, levels?: ReadonlyMap<string, Level>): Sound {
  const steps = renderTimeline(readBank(makeBank()), timeline, RATE, levels);
  for (;;) {
    const step = steps.next();
    if (step.done) return mixed(step.value, RATE);
  }
}

const heard = (sound: Sound): Onsets => finished(onsetsOf(sound));
const expected = (timeline: Timeline): Onsets => onsetsExpected(struckOf(timeline), timeline.end);

/** The sound so many seconds later; earlier where negative. */
function moved({ samples, rate }: Sound, seconds: number): Sound {
  const by = Math.round(seconds * rate);
  return {
    rate,
    samples: Float32Array.from({ length: samples.length + by }, (_, at) => samples[at - by] ?? 0),
  };
}

let timeline: Timeline;
let sound: Sound;
beforeAll(() => {
  timeline = tune(1, 20);
  sound = rendered(timeline);
}, 120_000);

describe('a recording', () => {
  it('is laid along the piece that it is of, within two hundredths of a second', () => {
    for (const offset of [0, 2.34, -6.5]) {
      const along = finished(layAlong(heard(moved(sound, offset)), expected(timeline)))!;
      expect(along.sure).toBe(true);
      expect(Math.abs(along.offset - offset)).toBeLessThan(0.02);
      expect(along.likeness).toBeGreaterThan(0.4);
      for (const { late } of along.stretches) expect(Math.abs(late)).toBeLessThan(0.02);
    }
  });

  it('that is an excerpt lies where it was taken from', () => {
    const excerpt = { rate: RATE, samples: sound.samples.slice(10 * RATE, 26 * RATE) };
    const along = finished(layAlong(heard(excerpt), expected(timeline)))!;
    expect(along.offset).toBeCloseTo(-10, 1);
    expect(along.sure).toBe(true);
  });

  it('of another piece is not laid for sure', () => {
    const along = finished(layAlong(heard(sound), expected(tune(2, 20))));
    expect(along?.sure).toBe(false);
  });

  it('that drags tells where, and by how much', () => {
    // From the middle on 120 ms later.
    const half = Math.round(sound.samples.length / 2);
    const pause = Math.round(0.12 * RATE);
    const samples = new Float32Array(sound.samples.length + pause);
    samples.set(sound.samples.subarray(0, half));
    samples.set(sound.samples.subarray(half), half + pause);
    const { stretches, offset } = finished(layAlong(heard({ samples, rate: RATE }), expected(timeline)))!;
    const first = stretches[0]!.late + offset;
    const last = stretches.at(-1)!.late + offset;
    expect(first).toBeCloseTo(0, 1);
    expect(last).toBeCloseTo(0.12, 1);
  });

  it('of silence, or to be laid along nothing, has no place', () => {
    const silence = { samples: new Float32Array(5 * RATE), rate: RATE };
    expect(finished(layAlong(heard(silence), expected(timeline)))).toBeNull();
    expect(finished(layAlong(heard(sound), onsetsExpected([], 10)))).toBeNull();
    expect(
      finished(layAlong(heard({ samples: new Float32Array(0), rate: RATE }), expected(timeline))),
    ).toBeNull();
  });
});

describe('what is expected to begin', () => {
  it('moves with the notes: laid over itself, later by any time, it lies that much later', () => {
    const struck = fc.array(
      fc.record({
        at: fc.double({ min: 0, max: 20, noNaN: true }),
        key: fc.integer({ min: 30, max: 100 }),
        velocity: fc.integer({ min: 1, max: 127 }),
        pitched: fc.constant(true),
      }),
      { minLength: 12, maxLength: 60 },
    );
    fc.assert(
      fc.property(struck, fc.integer({ min: 0, max: 500 }), (notes: Struck[], hundredths) => {
        const later = notes.map((note) => ({ ...note, at: note.at + hundredths / 100 }));
        const along = finished(layAlong(onsetsExpected(later, 26), onsetsExpected(notes, 21)))!;
        expect(along.offset).toBeCloseTo(hundredths / 100, 1);
      }),
      { numRuns: 25 },
    );
  });
});

describe('the outline of a sound', () => {
  it('holds its lowest and highest sample and its energy, ten milliseconds at a time', () => {
    // A sine of half the full height: its energy is 0.5 / √2.
    const samples = Float32Array.from(
      { length: RATE },
      (_, at) => 0.5 * Math.sin((2 * Math.PI * 440 * at) / RATE),
    );
    const { low, high, loud, perSecond } = levelsOf({ samples, rate: RATE });
    expect([low.length, perSecond]).toEqual([100, 100]);
    expect([low[50], high[50]]).toEqual([-63, 63]);
    expect(loud[50]! / 255).toBeCloseTo(0.5 / Math.SQRT2, 1);
  });

  it('comes with length, level, clipping and silence', () => {
    const samples = new Float32Array(2 * RATE);
    samples.fill(1, RATE, RATE + 160);
    const facts = factsOf({ samples, rate: RATE });
    expect(facts).toMatchObject({ seconds: 2, peak: 1, silentBefore: 1 });
    expect(facts.clipped).toBeCloseTo(159 / (2 * RATE), 5);
    expect(facts.silentAfter).toBeCloseTo(0.99, 2);
    expect(factsOf({ samples: new Float32Array(0), rate: RATE })).toMatchObject({
      seconds: 0,
      peak: 0,
      clipped: 0,
    });
  });

  it('of several channels is that of their average', () => {
    const [left, right] = [Float32Array.of(1, 0, -1), Float32Array.of(0, 0.5, -1)];
    expect([...mixed([left, right], RATE).samples]).toEqual([0.5, 0.25, -1]);
    expect(() => mixed([], RATE)).toThrow(RangeError);
  });
});

describe('stems of a piece', () => {
  it('are told from each other by what begins in them, also where they begin late', () => {
    const random = seeded(5);
    const strokes = (low: number): Stroke[] =>
      Array.from({ length: 32 }, (_, at) => at * 480 + 240 * Math.floor(random() * 2)).map((on) => [
        on,
        on + 220,
        low + Math.floor(random() * 12),
      ]);
    const tracks = ['Flute', 'Oboe', 'Viola', 'Cello'].map((name, at) =>
      madeTrack(name, at, strokes(72 - 8 * at)),
    );
    const whole = timelineOf(deskOf(madeFile(...tracks)), 'source', null);
    const strands = whole.voicings.map(({ strand }) => strand);
    const parts = strands.map((strand) => onsetsExpected(struckOf(whole, new Set([strand])), whole.end));
    for (const offset of [0, 1.5])
      strands.forEach((own, at) => {
        const levels = new Map(strands.map((each) => [each, { gain: each === own ? 1 : 0, pan: 0 }]));
        const stem = moved(rendered(whole, levels), offset);
        const found = finished(likenessesOf(heard(stem), parts, offset));
        expect(likeliest(found)).toBe(at);
      });
  });
});
