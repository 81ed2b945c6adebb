import { beforeAll, describe, expect, it } from 'vitest';
import { noteModel } from '@/cli/note-model';
import { seeded } from '@/core/basics/random';
import { finished } from '@/core/basics/steps';
import { tidyFile } from '@/core/demo/tidy';
import { secondsAt } from '@/core/model/clock';
import { PICTURE_BINS, PICTURE_LOWEST, PICTURE_ROW, pictureOf, STEP } from '@/core/recording/constant-q';
import { AS_HEARD, DOUBTFUL, take } from '@/core/recording/heard';
import type { NoteModel } from '@/core/recording/model-form';
import { resampled } from '@/core/recording/resample';
import type { Sound } from '@/core/recording/sound';
import { makeBank } from '@/core/sound/bank';
import type { Timeline } from '@/core/sound/events';
import { readBank, renderTimeline } from '@/core/sound/render';
import { timelineOf } from '@/core/sound/timeline';
import { writeHeard } from '@/core/sources/audio/document';
import { type Heard, listen } from '@/core/sources/audio/listen';
import { readSmf } from '@/core/sources/smf/read';
import { deskOf } from './helpers/made-file';
import { found, type Stretched } from './helpers/note-measures';

const RATE = 22_050;
/** Seconds of the demo that are heard. */
const SECONDS = 14;
const LONG = 120_000;

let model: NoteModel;
beforeAll(async () => {
  model = await noteModel();
}, LONG);

const heardIn = (sound: Sound): Heard => finished(listen(sound, model));

/** Plucked strings: ten partials that die away, the higher the sooner; frequencies by equal temperament at 440 Hz (ISO 16). */
function plucked(tones: readonly Stretched[], cents = 0): Sound {
  const end = Math.max(...tones.map(({ off }) => off)) + 0.5;
  const random = seeded(5);
  const samples = Float32Array.from({ length: Math.round(end * RATE) }, () => 0.0005 * (2 * random() - 1));
  for (const { on, off, key } of tones)
    for (let partial = 1; partial <= 10; partial++) {
      const hertz = partial * 440 * 2 ** ((key - 69 + cents / 100) / 12);
      if (hertz > RATE / 2) break;
      for (let at = Math.round(on * RATE); at < Math.round((off + 0.1) * RATE); at++) {
        const time = at / RATE - on;
        const level =
          Math.exp(-time * (1 + partial)) * (at / RATE > off ? Math.exp((off - at / RATE) * 60) : 1);
        samples[at]! += (0.2 / partial) * level * Math.sin(2 * Math.PI * hertz * time);
      }
    }
  return { samples, rate: RATE };
}

const f = (truth: readonly Stretched[], notes: readonly Stretched[]): number =>
  (2 * found(truth, notes, false)) / (truth.length + notes.length);

describe('many notes at once', () => {
  const chords = [
    [48, 55, 64, 72],
    [53, 57, 60, 69],
    [43, 55, 59, 65, 74],
    [48, 52, 55, 60],
  ].flatMap((keys, at): Stretched[] => keys.map((key) => ({ on: 0.3 + at * 0.9, off: 1.1 + at * 0.9, key })));

  it(
    'are heard in chords that are plucked, under any tuning, and guessed to be many',
    () => {
      for (const cents of [0, -20]) {
        const heard = heardIn(plucked(chords, cents));
        expect(heard.guess).toBe('many');
        expect(f(chords, take(heard.many, AS_HEARD).notes)).toBeGreaterThan(0.9);
      }
    },
    LONG,
  );

  it(
    'are heard the same each time, and at any rate and level nearly so',
    () => {
      const sound = plucked(chords);
      expect(writeHeard(heardIn(sound))).toEqual(writeHeard(heardIn(sound)));
      const other = resampled(sound, 48_000);
      const softer = { ...other, samples: other.samples.map((value) => value * 0.05) };
      expect(f(chords, take(heardIn(softer).many, AS_HEARD).notes)).toBeGreaterThan(0.9);
    },
    LONG,
  );

  it(
    'keep what is silent silent, and say so of what has no notes',
    () => {
      const silence = { samples: new Float32Array(RATE * 3), rate: RATE };
      expect(() => heardIn(silence)).toThrow('This recording is silent.');
      const random = seeded(2);
      const noise = Float32Array.from({ length: RATE * 4 }, () => 0.3 * (2 * random() - 1));
      expect(() => heardIn({ samples: noise, rate: RATE })).toThrow('No note is heard in this recording');
      const short = { samples: new Float32Array(RATE * 1300).fill(0.1), rate: RATE };
      expect(() => heardIn(short)).toThrow('This recording lasts 22 minutes: cut it to 20 or less');
    },
    LONG,
  );
});

describe('the demo, rendered and heard', () => {
  const bank = readBank(makeBank());
  const desk = deskOf(readSmf(tidyFile()));
  const timeline = timelineOf(desk, 'source', null);
  const { clock, strands } = desk.source;

  /** A strand alone, from its first note on, and what is true of it. */
  function soloOf(name: RegExp): { sound: Sound; truth: Stretched[] } {
    const strand = strands.find((each) => name.test(each.name))!;
    const from = secondsAt(clock, strand.notes[0]!.on) - 0.2;
    const { channel } = timeline.voicings.find((each) => each.strand === strand.id)!;
    const places = [...timeline.channel.keys()].filter((at) => {
      const own = timeline.channel[at] === channel;
      return own && timeline.seconds[at]! < from + SECONDS;
    });
    const only = <T extends { [index: number]: number }>(list: T, make: (values: number[]) => T) =>
      make(places.map((at) => list[at]!));
    const alone: Timeline = {
      ...timeline,
      seconds: Float64Array.from(places, (at) => Math.max(0, timeline.seconds[at]! - from)),
      kind: only(timeline.kind, (values) => Uint8Array.from(values)),
      channel: only(timeline.channel, (values) => Uint16Array.from(values)),
      first: only(timeline.first, (values) => Uint8Array.from(values)),
      second: only(timeline.second, (values) => Uint8Array.from(values)),
      beats: { seconds: new Float64Array(), down: new Uint8Array() },
      end: SECONDS,
    };
    const steps = renderTimeline(bank, alone, RATE);
    for (;;) {
      const step = steps.next();
      if (!step.done) continue;
      const [left, right] = step.value;
      const truth = strand.notes
        .map(({ on, off, key }) => ({
          on: secondsAt(clock, on) - from,
          off: secondsAt(clock, off) - from,
          key,
        }))
        .filter(({ on }) => on < SECONDS - 0.1);
      return { sound: { samples: left.map((value, at) => (value + right[at]!) / 2), rate: RATE }, truth };
    }
  }

  it.each([
    ['flute', /flute/i, 'line', 0.9],
    ['harp', /harp/i, 'many', 0.85],
    ['guitar', /guitar/i, 'many', 0.8],
  ] as const)(
    'gives back the notes of the %s',
    (_, name, read, least) => {
      const { sound, truth } = soloOf(name);
      const heard = heardIn(sound);
      const { notes } = take(heard[read], AS_HEARD);
      expect(truth.length).toBeGreaterThan(10);
      expect(f(truth, notes)).toBeGreaterThan(least);
      // Of what it is sure it is right more often than of what it doubts.
      const sure = notes.filter(({ confidence }) => confidence >= DOUBTFUL);
      expect(found(truth, sure, false) / sure.length).toBeGreaterThanOrEqual(
        found(truth, notes, false) / notes.length - 0.001,
      );
    },
    LONG,
  );
});

describe('the picture of a sound', () => {
  it('is strongest where a tone has its pitch (ISO 16: 440 Hz is key 69), a third of a semitone fine, by decibels', () => {
    for (const [key, cents] of [
      [33, 0],
      [57, 0],
      [69, 33],
      [81, -33],
      [100, 0],
    ] as const) {
      const hertz = 440 * 2 ** ((key - 69 + cents / 100) / 12);
      const samples = Float32Array.from({ length: RATE * 2 }, (_, at) => {
        const level = at < RATE ? 0.5 : 0.05;
        return level * Math.sin((2 * Math.PI * hertz * at) / RATE);
      });
      const { values, perSecond } = finished(pictureOf({ samples, rate: RATE }, 50));
      const rowAt = (seconds: number) => {
        const at = Math.round(seconds * perSecond) * PICTURE_ROW;
        return values.subarray(at, at + PICTURE_ROW);
      };
      const top = rowAt(0.5).indexOf(Math.max(...rowAt(0.5)));
      const wanted = (key - PICTURE_LOWEST) * PICTURE_BINS + 1 + Math.round((cents * PICTURE_BINS) / 100);
      // Low pitches are blurred, so that they stay quick: neighbours are as strong.
      expect(Math.abs(top - wanted)).toBeLessThanOrEqual(key < 50 ? 1 : 0);
      expect((rowAt(0.5)[top]! - rowAt(1.5)[top]!) * STEP).toBeCloseTo(20, 0);
    }
  });
});

describe('a sound at another rate', () => {
  it.each([16_000, 22_050, 44_100, 96_000])(
    'of %i samples a second keeps what lies below half of both',
    (rate) => {
      const tone = (hertz: number, per: number) =>
        Float32Array.from({ length: per }, (_, at) => 0.5 * Math.sin((2 * Math.PI * hertz * at) / per));
      const { samples } = resampled({ samples: tone(1000, 48_000), rate: 48_000 }, rate);
      const wanted = tone(1000, rate);
      for (let at = 200; at < samples.length - 200; at++)
        expect(Math.abs(samples[at]! - wanted[at]!)).toBeLessThan(0.004);
      // What lies above is gone, and does not fold back.
      const above = resampled({ samples: tone(0.48 * 48_000, 48_000), rate: 48_000 }, 16_000).samples;
      expect(Math.max(...above.subarray(200, -200).map(Math.abs))).toBeLessThan(0.005);
    },
  );
});
