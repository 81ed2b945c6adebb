import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { briefOf, deskOf, madeFile, madeTrack, meterAt, type Stroke } from '../../../tests/helpers/made-file';
import { followBeats } from '../clean/beats';
import { parseBrief } from '../decisions/brief';
import { BEAT_UNITS, MOST_BEATS } from '../decisions/kinds/beats';
import { barsOfPiece, secondsAt } from '../model/clock';
import type { Performance } from '../model/performance';
import type { SmfEvent } from '../sources/smf/events';
import { readPerformance } from '../sources/smf/performance';
import { type BeatEdit, type EditedBeats, editBeats, fileBeats, spelledBeats } from './edit-beats';

const strokes = Array.from({ length: 60 }, (_, at): Stroke => [at * 240, at * 240 + 200, 60 + (at % 9)]);
const withMeters = (...meters: SmfEvent[]) =>
  readPerformance(madeFile({ events: meters }, madeTrack('Flute', 0, strokes)));
const plain = withMeters(meterAt(0, 4, 4));

const barsOf = ({ clock, end }: Performance) =>
  barsOfPiece(clock, end).map(({ start, length, meter }) => [
    start,
    length,
    `${meter.numerator}/${meter.denominator}`,
  ]);

const soundsOf = ({ clock, strands }: Performance) =>
  strands.flatMap((strand) => strand.notes.map((note) => secondsAt(clock, note.on)));

/** Ascending beats, and bars that are beats of them. */
const isSound = ({ ticks, bars }: EditedBeats) =>
  ticks.every((tick, index) => index === 0 || tick > ticks[index - 1]!) &&
  bars.every((bar, index) => bar >= 0 && bar < ticks.length && (index === 0 || bar > bars[index - 1]!));

describe('the beats of a file', () => {
  it.each([
    ['4/4', withMeters(meterAt(0, 4, 4)), 1],
    ['3/4', withMeters(meterAt(0, 3, 4)), 1],
    ['6/8', withMeters(meterAt(0, 6, 8)), 1.5],
    ['7/8', withMeters(meterAt(0, 7, 8)), 0.5],
    ['3/4, then 4/4', withMeters(meterAt(0, 3, 4), meterAt(2880, 4, 4)), 1],
    ['4/4, then 7/8, then 3/4', withMeters(meterAt(0, 4, 4), meterAt(3840, 7, 8), meterAt(7200, 3, 4)), 0.5],
  ])('in %s make the same bars when they are followed', (_name, performance, unit) => {
    const beats = fileBeats(performance);
    expect(beats.unit).toBe(unit);
    const followed = followBeats(performance, beats)!;
    const lengths = (each: Performance) => barsOf(each).map(([start, length]) => [start, length]);
    expect(lengths(followed)).toEqual(lengths(performance));
    if (unit !== 0.5) expect(barsOf(followed)).toEqual(barsOf(performance));
    expect(followed.strands[0]!.notes).toEqual(performance.strands[0]!.notes);
  });

  it('keep an upbeat', () => {
    const performance = readPerformance(madeFile(madeTrack('Flute', 0, strokes)), { upbeatQuarters: 1 });
    const followed = followBeats(performance, fileBeats(performance))!;
    expect(barsOf(followed)).toEqual(barsOf(performance));
  });
});

describe('a first beat', () => {
  it('that comes almost with the file begins with it; a later one has beats before it', () => {
    const pace = (first: number) => {
      const ticks = Array.from({ length: 12 }, (_, at) => first + 480 * at);
      const { tempos, meters } = followBeats(plain, { ticks, perBar: 4, first: 0 })!;
      return [tempos.length, Math.round(6e7 / tempos[0]!.microsPerQuarter), meters[0]!.numerator];
    };
    // The whole beat is longer by what stood before it, not one of a thousand a minute.
    expect(pace(40)[1]).toBeLessThan(125);
    expect(pace(480)[1]).toBe(120);
    expect(pace(400)[1]).toBeGreaterThan(120);
  });
});

describe('beats set by hand', () => {
  const beats = fileBeats(plain);

  it('are dragged, and everything stays where it sounds', () => {
    const moved = editBeats(beats, { edit: 'move', index: 5, seconds: 2.62 }, plain);
    expect(moved.ticks[5]).toBe(2515.2);
    const { performance } = deskOf(madeFile(madeTrack('Flute', 0, strokes)), { kind: 'beats', ...moved });
    const before = soundsOf(plain);
    soundsOf(performance).forEach((time, index) => {
      expect(Math.abs(time - before[index]!)).toBeLessThan(0.002);
    });
    // The beat stands at five quarters wherever it was dragged to.
    expect(secondsAt(performance.clock, 5 * 480)).toBeCloseTo(2.62, 2);
  });

  it('do not pass each other', () => {
    const pushed = editBeats(beats, { edit: 'move', index: 5, seconds: 9 }, plain);
    expect(secondsAt(plain.clock, pushed.ticks[5]!)).toBeCloseTo(3 - 0.08, 2);
    expect(editBeats(beats, { edit: 'move', index: 9999, seconds: 1 }, plain)).toBe(beats);
  });

  it('come and go with their bars', () => {
    const more = editBeats(beats, { edit: 'add', seconds: 2.25 }, plain);
    expect(more.ticks).toHaveLength(beats.ticks.length + 1);
    expect(more.bars.slice(0, 3)).toEqual([0, 4, 9]);
    expect(editBeats(more, { edit: 'remove', index: 5 }, plain)).toEqual(beats);
    expect(editBeats(beats, { edit: 'add', seconds: 2.02 }, plain)).toBe(beats);
    // A bar whose first beat goes begins with the next.
    expect(editBeats(beats, { edit: 'remove', index: 4 }, plain).bars.slice(0, 3)).toEqual([0, 4, 7]);
  });

  it('begin bars or not', () => {
    const split = editBeats(beats, { edit: 'bar', index: 6 }, plain);
    expect(split.bars.slice(0, 4)).toEqual([0, 4, 6, 8]);
    const meters = barsOf(followBeats(plain, split)!).map(([, , name]) => name);
    expect(meters.slice(0, 4)).toEqual(['4/4', '2/4', '2/4', '4/4']);
    expect(editBeats(split, { edit: 'bar', index: 6 }, plain)).toEqual(beats);
    const waltz = editBeats(beats, { edit: 'count', index: 1, perBar: 3 }, plain);
    expect(waltz.bars.slice(0, 4)).toEqual([0, 1, 4, 7]);
  });

  it('are halved and doubled', () => {
    const twice = editBeats(beats, { edit: 'double' }, plain);
    expect(twice.ticks.slice(0, 4)).toEqual([0, 240, 480, 720]);
    expect(twice.bars.slice(0, 2)).toEqual([0, 8]);
    expect(editBeats(twice, { edit: 'halve' }, plain)).toEqual(beats);
  });

  it('become two for three, and three for two again', () => {
    const two = editBeats(beats, { edit: 'pulse', every: 3, places: 2 }, plain);
    expect(two.ticks.slice(0, 4)).toEqual([0, 720, 1440, 2160]);
    expect(two.bars.slice(0, 3)).toEqual([0, 4, 8]);
    const back = editBeats(two, { edit: 'pulse', every: 2, places: 3 }, plain);
    expect(back.ticks.slice(0, 4)).toEqual([0, 480, 960, 1440]);
    expect(editBeats(beats, { edit: 'pulse', every: 1, places: 12 }, plain)).toBe(beats);
  });

  it('never become more than a brief can hold', () => {
    const many = { ...beats, ticks: Array.from({ length: MOST_BEATS - 1 }, (_, at) => at * 480) };
    expect(editBeats(many, { edit: 'double' }, plain)).toBe(many);
    expect(editBeats(many, { edit: 'pulse', every: 2, places: 3 }, plain)).toBe(many);
  });

  it('are never farther apart than a tempo can tell', () => {
    const seconds = Array.from({ length: 4 }, (_, at) => 9 * at);
    const wide: EditedBeats = { ...beats, ticks: seconds.map((each) => each * 960), bars: [0] };
    expect(editBeats(wide, { edit: 'unit', unit: 0.5 }, plain)).toBe(wide);
    expect(editBeats(wide, { edit: 'unit', unit: 2 }, plain).unit).toBe(2);
  });

  it('take taps in their place, drawn to the notes around them', () => {
    const taps = [2.03, 2.51, 3.02, 3.48, 4.01];
    const tapped = editBeats(beats, { edit: 'tap', taps, perBar: 4 }, plain);
    const times = tapped.ticks.slice(3, 10).map((tick) => secondsAt(plain.clock, tick));
    [1.5, 2, 2.5, 3, 3.5, 4, 4.5].forEach((time, index) => {
      expect(times[index]).toBeCloseTo(time, 2);
    });
    expect(tapped.bars.slice(0, 4)).toEqual([0, 4, 8, 12]);
    expect(editBeats(beats, { edit: 'tap', taps: [1], perBar: 4 }, plain)).toBe(beats);
  });

  it('are written as another value', () => {
    const dotted = editBeats(spelledBeats({ ...beats, perBar: 4 }), { edit: 'unit', unit: 1.5 }, plain);
    const [first] = barsOf(followBeats(plain, dotted)!);
    expect(first).toEqual([0, 2880, '12/8']);
  });

  it('stay in order, valid and followed by the music, whatever is done to them', () => {
    const seconds = fc.double({ min: 0, max: 16, noNaN: true });
    const index = fc.nat(40);
    const change: fc.Arbitrary<BeatEdit> = fc.oneof(
      fc.record({ edit: fc.constant('move' as const), index, seconds }),
      fc.record({ edit: fc.constant('add' as const), seconds }),
      fc.record({ edit: fc.constant('remove' as const), index }),
      fc.record({ edit: fc.constant('bar' as const), index }),
      fc.record({ edit: fc.constant('count' as const), index, perBar: fc.integer({ min: 1, max: 7 }) }),
      fc.record({
        edit: fc.constant('tap' as const),
        taps: fc.array(seconds, { maxLength: 8 }),
        perBar: fc.integer({ min: 1, max: 5 }),
      }),
      fc.record({ edit: fc.constant('unit' as const), unit: fc.constantFrom(...BEAT_UNITS) }),
      fc.constant({ edit: 'halve' as const }),
      fc.constant({ edit: 'double' as const }),
      fc.record({
        edit: fc.constant('pulse' as const),
        every: fc.integer({ min: 1, max: 4 }),
        places: fc.integer({ min: 1, max: 4 }),
      }),
    );
    const before = soundsOf(plain);
    fc.assert(
      fc.property(fc.array(change, { maxLength: 12 }), (changes) => {
        let now = beats;
        for (const each of changes) {
          now = editBeats(now, each, plain);
          expect(isSound(now)).toBe(true);
        }
        const brief = briefOf({ kind: 'beats', ...now });
        expect(parseBrief(JSON.parse(JSON.stringify(brief)))).toEqual(brief);
        const followed = followBeats(plain, now)!;
        // Half a tick at the slowest tempo, and what whole numbers leave over.
        const slowest = Math.max(...followed.tempos.map((tempo) => tempo.microsPerQuarter));
        expect(slowest).toBeLessThanOrEqual(0xffffff);
        const tolerance = slowest / 1e6 / 480 / 2 + 0.002;
        soundsOf(followed).forEach((time, at) => {
          expect(Math.abs(time - before[at]!)).toBeLessThan(tolerance);
        });
        const bars = barsOf(followed);
        bars.slice(1).forEach(([start], at) => {
          expect(start).toBe((bars[at]![0] as number) + (bars[at]![1] as number));
        });
      }),
      { numRuns: 300 },
    );
  });
});
