import { describe, expect, it } from 'vitest';
import { madeFile, madeTrack, meterAt, type Stroke } from '../../../../tests/helpers/made-file';
import { EMPTY_BRIEF } from '../../decisions/brief';
import { decide } from '../../decisions/decisions';
import { barAt, barOf } from '../../model/clock';
import { takeStock } from '../../stock/inventory';
import { transcribeNow, unaccounted } from '../../transcribe';
import type { Division, Smf, SmfEvent } from './events';
import { readPerformance } from './performance';
import { readSmf } from './read';
import { writeSmf } from './write';

const text = (value: string) => new TextEncoder().encode(value);
const name = (value: string): SmfEvent => ({ kind: 'trackName', tick: 0, type: 3, bytes: text(value) });
const on = (tick: number, key: number, channel = 0): SmfEvent => ({
  kind: 'noteOn',
  tick,
  channel,
  key,
  velocity: 90,
});
const off = (tick: number, key: number, channel = 0): SmfEvent => ({
  kind: 'noteOff',
  tick,
  channel,
  key,
  velocity: 0,
  asNoteOn: true,
});

const file = (
  tracks: SmfEvent[][],
  format: 0 | 1 | 2 = 1,
  division: Division = { kind: 'quarter', ticks: 480 },
): Smf => ({
  format,
  division,
  otherChunks: [],
  mends: [],
  tracks: tracks.map((events) => ({ events })),
});

const END = (tick: number): SmfEvent => ({ kind: 'endOfTrack', tick });

describe('notes', () => {
  it('stacked on one key end in the order in which they began', () => {
    const { strands } = readPerformance(file([[on(0, 60), on(100, 60), off(200, 60), off(400, 60)]]));
    expect(strands[0]!.notes).toEqual([
      { id: '1/t1c1/0', on: 0, off: 200, key: 60, velocity: 90 },
      { id: '1/t1c1/1', on: 100, off: 400, key: 60, velocity: 90, stacked: true },
    ]);
  });

  it('that never end are ended with their track, and said to hang', () => {
    const { strands } = readPerformance(file([[on(0, 60), on(10, 62), off(20, 62), END(960)]]));
    expect(strands[0]!.notes[0]).toMatchObject({ on: 0, off: 960, hanging: true });
    expect(strands[0]!.notes[1]).not.toHaveProperty('hanging');
  });

  it('an end without a note is nothing', () => {
    expect(readPerformance(file([[off(0, 60), on(10, 62), off(20, 62)]])).strands[0]!.notes).toHaveLength(1);
  });
});

describe('strands', () => {
  it('are a track and a channel, with all that they use', () => {
    const { strands } = readPerformance(
      file([
        [
          name('Keys'),
          { kind: 'port', tick: 0, port: 2 },
          { kind: 'control', tick: 0, channel: 0, controller: 0, value: 3 },
          { kind: 'control', tick: 0, channel: 0, controller: 32, value: 5 },
          { kind: 'program', tick: 0, channel: 0, program: 4 },
          { kind: 'control', tick: 10, channel: 0, controller: 7, value: 100 },
          { kind: 'control', tick: 20, channel: 0, controller: 7, value: 80 },
          { kind: 'pitchBend', tick: 30, channel: 0, value: 9000 },
          on(480, 60),
          on(480, 67),
          on(490, 64, 1),
          off(960, 60),
          off(960, 67),
          off(5000, 64, 1),
        ],
      ]),
    );
    expect(strands.map((strand) => strand.id)).toEqual(['1/t1c1', '1/t1c2']);
    expect(strands[0]).toMatchObject({
      name: 'Keys',
      port: 2,
      lowest: 60,
      highest: 67,
      most: 2,
      programs: [4],
      banks: [384, 389],
      pitchBends: 1,
      firstBar: 1,
      lastBar: 1,
    });
    expect(strands[0]!.controllers.find((use) => use.controller === 7)).toEqual({
      controller: 7,
      count: 2,
      first: 100,
      lowest: 80,
      highest: 100,
    });
    expect(strands[1]).toMatchObject({ most: 1, lastBar: 3 });
  });

  it('of a format 0 file are named by channel prefixes; the track name is the title', () => {
    const { strands, title } = readPerformance(
      file(
        [
          [
            name('Evening Song'),
            { kind: 'channelPrefix', tick: 0, channel: 1 },
            { kind: 'instrumentName', tick: 0, type: 4, bytes: text('Oboe') },
            on(0, 60),
            off(10, 60),
            on(0 + 20, 60, 1),
            off(30, 60, 1),
          ],
        ],
        0,
      ),
    );
    expect(title).toBe('Evening Song');
    expect(strands.map((strand) => strand.name)).toEqual(['', 'Oboe']);
  });
});

describe('tracks without notes', () => {
  it('are listed with what they carry; the first one names the piece', () => {
    const performance = readPerformance(
      file([
        [
          name('Song of Ferries'),
          { kind: 'tempo', tick: 0, microsPerQuarter: 400_000 },
          { kind: 'marker', tick: 0, type: 6, bytes: text('Verse') },
          { kind: 'lyric', tick: 0, type: 5, bytes: text('la') },
          { kind: 'text', tick: 0, type: 1, bytes: text('hello') },
          { kind: 'sysex', tick: 0, bytes: text('x') },
        ],
        [on(0, 60), off(10, 60)],
      ]),
    );
    expect(performance.title).toBe('Song of Ferries');
    expect(performance.noteFree).toEqual([
      {
        track: 0,
        name: 'Song of Ferries',
        carries: { tempos: 1, meters: 0, keys: 0, markers: 1, lyrics: 1, texts: 1, controllers: 0, sysex: 1 },
      },
    ]);
    expect(performance.markers).toEqual([{ tick: 0, text: 'Verse', track: 0 }]);
  });
});

describe('time code', () => {
  it('is counted at 120 quarter notes a minute, and said so', () => {
    const smf = file([[{ kind: 'tempo', tick: 0, microsPerQuarter: 250_000 }, on(0, 60), off(1000, 60)]], 0, {
      kind: 'smpte',
      framesPerSecond: 25,
      ticksPerFrame: 40,
    });
    const performance = readPerformance(smf);
    expect(performance.clock.ticksPerQuarter).toBe(500);
    expect(takeStock(smf, performance, decide(EMPTY_BRIEF)).clock.seconds).toBe(1);
    expect(performance.mends.map((mend) => mend.what)).toEqual(['The file counts time code, not beats.']);
  });

  it('at 29 frames means 30000/1001 frames a second', () => {
    const smf = file([[on(0, 60), off(2997, 60)]], 0, {
      kind: 'smpte',
      framesPerSecond: 29,
      ticksPerFrame: 100,
    });
    expect(takeStock(smf, readPerformance(smf), decide(EMPTY_BRIEF)).clock.seconds).toBeCloseTo(1, 4);
  });
});

describe('an inventory', () => {
  it('places what it lists on the clock', () => {
    const smf = file([
      [
        { kind: 'timeSignature', tick: 0, numerator: 3, denominator: 4, clocks: 24, thirtySeconds: 8 },
        { kind: 'tempo', tick: 720, microsPerQuarter: 1_000_000 },
        { kind: 'keySignature', tick: 1440, fifths: -3, minor: true },
        END(2880),
      ],
      [name('Viola'), on(0, 60), off(2880, 60)],
    ]);
    const { clock } = takeStock(smf, readPerformance(smf), decide(EMPTY_BRIEF));
    expect(clock.tempos).toEqual([{ tick: 720, bar: 1, beat: 2.5, seconds: 0.75, quartersPerMinute: 60 }]);
    expect(clock.keys).toEqual([{ tick: 1440, bar: 2, beat: 1, seconds: 2.25, fifths: -3, mode: 'minor' }]);
    expect(clock).toMatchObject({ bars: 2, seconds: 5.25 });
  });
});

describe('a meter beside a bar line', () => {
  it('stands at it, and is told: a bar of a tick is none', () => {
    const strokes = Array.from({ length: 12 }, (_, at): Stroke => [at * 480, at * 480 + 470, 60 + at]);
    for (const [tick, bars] of [
      [1, [0, 1440, 2880]],
      [1921, [0, 1920, 3360]],
      [1919, [0, 1920, 3360]],
      [1800, [0, 1800, 3240]],
    ] as const) {
      const file = madeFile({ events: [meterAt(tick, 3, 4)] }, madeTrack('Flute', 0, strokes));
      const { clock, mends } = readPerformance(file);
      expect([0, 1, 2].map((bar) => barOf(clock, bar).start)).toEqual(bars);
      expect(mends.map(({ what }) => what)).toEqual(
        tick === 1800 ? [] : [`3/4 stands 1 tick ${tick === 1919 ? 'before' : 'after'} a bar line.`],
      );
    }
  });
});

describe('a file that runs on for ever', () => {
  const bar = 4 * 480;
  /** A note in each of so many bars. */
  const steady = (bars: number, from = 0) =>
    Array.from({ length: bars }, (_, at) => [
      on((from + at) * bar, 60),
      off((from + at) * bar + 480, 60),
    ]).flat();
  const smf = file([[...steady(12_000), END(12_000 * bar - 1)]]);

  it('is read to bar 10,000, and what lies beyond is counted', () => {
    const { strands, end, mends, clock, beyond } = readPerformance(smf);
    expect(strands[0]!.notes).toHaveLength(10_000);
    expect(beyond).toBe(2000);
    expect(end).toBe(10_000 * bar);
    expect(barAt(clock, end - 1).number).toBe(10_000);
    expect(mends.at(-1)!.what).toBe('The file runs on for 12,000 bars, with 2,000 notes after that.');
  });

  it('because one time is damaged is read up to there', () => {
    const broken = file([[...steady(6), ...steady(5, 9_000), END(9_010 * bar)]]);
    const { strands, end, mends, beyond } = readPerformance(broken);
    expect(strands[0]!.notes).toHaveLength(6);
    expect([end, beyond]).toEqual([6 * bar, 5]);
    expect(mends.at(-1)).toMatchObject({
      what: 'The file’s time is broken after bar 6: nothing begins for 8,995 bars, with 5 notes after that.',
      done: 'Read to bar 6; the file itself is unchanged.',
    });
    const { account } = transcribeNow(readPerformance(broken), EMPTY_BRIEF);
    expect(account).toMatchObject({ notes: 11, written: 6, beyond: 5 });
    expect(unaccounted(account)).toBe(0);
  });

  it('but not where the music only pauses, however long, or starts late', () => {
    const pausing = file([[...steady(2, 700), ...steady(5, 1_100), END(1_200 * bar)]]);
    expect(readPerformance(pausing)).toMatchObject({ beyond: 0, mends: [] });
  });

  it('goes out in full as it came all the same', () => {
    expect(readSmf(writeSmf(smf)).tracks[0]!.events).toHaveLength(smf.tracks[0]!.events.length);
  });
});

describe('what belongs to no strand', () => {
  it('is kept: texts, system messages, channels without notes', () => {
    const text = { kind: 'text' as const, tick: 5, type: 1, bytes: new TextEncoder().encode('x') };
    const control = { kind: 'control' as const, tick: 7, channel: 4, controller: 7, value: 9 };
    const { loose, strands } = readPerformance(file([[text, on(0, 60), off(480, 60), control]]));
    expect(loose.map(({ order, content }) => [order, content])).toEqual([
      [0, { native: text }],
      [3, { native: control }],
    ]);
    expect(strands[0]!.shaping).toEqual([]);
  });
});

it('takes no title from a mere track number', () => {
  const titled = (title: string) => readPerformance(file([[name(title)], [on(0, 60), off(480, 60)]])).title;
  expect(titled('Track 0')).toBe('');
  expect(titled('Night Train')).toBe('Night Train');
  expect(titled('Clock')).toBe('');
});

it('takes the title from another track without notes, where the first says none and that one is no part', () => {
  const titled = (...names: string[]) =>
    readPerformance(file([...names.map((each) => [name(each)]), [name('Flute'), on(0, 60), off(480, 60)]]))
      .title;
  expect(titled('Clock', 'Night Train')).toBe('Night Train');
  expect(titled('Clock', 'Oboe', 'Night Train')).toBe('Night Train');
  expect(titled('Clock', 'made by Jo')).toBe('');
  expect(titled('Day Boat', 'Night Train')).toBe('Day Boat');
});
