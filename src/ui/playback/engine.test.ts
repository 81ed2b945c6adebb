import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { CONTROL, NOTE_OFF, NOTE_ON, PROGRAM, type Timeline } from '../../core/sound/events';
import { Engine } from './engine';
import { PLAIN } from './hearing';
import type { PlayOptions } from './player';

/** What a stand-in synthesizer was told, in order. */
let said: { what: string; args: number[]; time: number | undefined }[];
let channels: { drums: boolean | null; set: Record<string, unknown> }[];
let now: number;

vi.mock('spessasynth_lib', () => {
  const note = (what: string, args: number[], at?: { time: number }) =>
    said.push({ what, args, time: at?.time });
  class WorkletSynthesizer {
    isReady = Promise.resolve();
    soundBankManager = { addSoundBank: () => Promise.resolve() };
    connect() {}
    get midiChannels() {
      return channels.map((channel) => ({
        setDrums: (drums: boolean) => {
          channel.drums = drums;
        },
        setSystemParameter: (name: string, value: unknown) => {
          channel.set[name] = value;
        },
      }));
    }
    addNewChannel() {
      channels.push({ drums: null, set: {} });
    }
    noteOn = (channel: number, key: number, velocity: number, at?: { time: number }) =>
      note('on', [channel, key, velocity], at);
    noteOff = (channel: number, key: number, at?: { time: number }) => note('off', [channel, key], at);
    controllerChange = (channel: number, controller: number, value: number, at?: { time: number }) =>
      note('control', [channel, controller, value], at);
    programChange = (channel: number, program: number, at?: { time: number }) =>
      note('program', [channel, program], at);
    pitchWheel = (channel: number, value: number, at?: { time: number }) =>
      note('bend', [channel, value], at);
    channelPressure = (channel: number, value: number, at?: { time: number }) =>
      note('pressure', [channel, value], at);
    stopAll = () => note('stop', []);
  }
  return { WorkletSynthesizer };
});

class StandInContext {
  get currentTime() {
    return now;
  }
  audioWorklet = { addModule: () => Promise.resolve() };
  destination = {};
  createGain = () => ({
    connect: () => {},
    gain: { value: 1, setValueAtTime: () => {}, cancelScheduledValues: () => {}, setTargetAtTime: () => {} },
  });
  resume = () => Promise.resolve();
  close = () => Promise.resolve();
}

type Event = [seconds: number, kind: number, channel: number, first: number, second: number];

const timeline = (events: Event[], end: number): Timeline => ({
  seconds: Float64Array.from(events, (event) => event[0]),
  kind: Uint8Array.from(events, (event) => event[1]),
  channel: Uint16Array.from(events, (event) => event[2]),
  first: Uint8Array.from(events, (event) => event[3]),
  second: Uint8Array.from(events, (event) => event[4]),
  voicings: [
    { strand: '1/t1c1', channel: 0, program: 40, isDrum: false },
    { strand: '1/t2c10', channel: 1, program: 0, isDrum: true },
  ],
  beats: {
    seconds: Float64Array.from({ length: 16 }, (_, at) => at / 2),
    down: Uint8Array.from({ length: 16 }, (_, at) => (at % 4 === 0 ? 1 : 0)),
  },
  end,
  opening: { beats: new Float64Array(0), length: 0 },
  holds: null,
});

/** A note a second for eight seconds, with a volume and a program change on the way. */
const PIECE = timeline(
  [
    [0, CONTROL, 0, 7, 100],
    ...Array.from({ length: 8 }, (_, at): Event[] => [
      [at, NOTE_ON, 0, 60 + at, 80],
      [at + 0.9, NOTE_OFF, 0, 60 + at, 0],
    ]).flat(),
    [2.5, PROGRAM, 0, 45, 0],
    [3.5, CONTROL, 0, 7, 60],
  ].sort((a, b) => a[0]! - b[0]!) as Event[],
  7.9,
);

const PLAYING: PlayOptions = { from: 0, until: null, loop: null, scale: 1, click: false, countIn: false };
let engine: Engine;

beforeEach(async () => {
  vi.useFakeTimers();
  vi.stubGlobal('AudioContext', StandInContext);
  said = [];
  channels = [];
  now = 10;
  engine = new Engine();
  await engine.load(() => Promise.resolve(new ArrayBuffer(0)));
  engine.setTimeline(PIECE);
  said = [];
});
afterEach(() => {
  engine.close();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

/** Lets time pass, for the audio clock and for timers alike. */
function pass(seconds: number) {
  for (let step = 0; step < seconds / 0.02; step++) {
    now += 0.02;
    vi.advanceTimersByTime(20);
  }
}
const strokes = () => said.filter(({ what }) => what === 'on');

describe('the player', () => {
  it('gives each strand a channel, and one more to the click', () => {
    expect(channels.map((channel) => channel.drums)).toEqual([false, true, true]);
  });

  it('hands notes over shortly before they sound, at their times', async () => {
    await engine.play(PLAYING);
    pass(2.5);
    expect(strokes().map(({ args, time }) => [args[1], Math.round((time! - 10.03) * 1000)])).toEqual([
      [60, 0],
      [61, 1000],
      [62, 2000],
    ]);
    expect(engine.position).toBeCloseTo(2.47, 1);
  });

  it('keeps to the tempo asked for', async () => {
    await engine.play({ ...PLAYING, scale: 2 });
    pass(1);
    expect(strokes().map(({ time }) => Math.round((time! - 10.03) * 1000))).toEqual([0, 500, 1000]);
    expect(engine.position).toBeCloseTo(1.94, 1);
  });

  it('waits where the reading does, and tells the place in the piece', async () => {
    const holds = { piece: Float64Array.of(0, 1, 2), heard: Float64Array.of(0, 1, 3) };
    engine.setTimeline({ ...PIECE, holds });
    said = [];
    await engine.play(PLAYING);
    pass(3.5);
    const played = () => strokes().map(({ args, time }) => [args[1], Math.round((time! - 10.03) * 1000)]);
    expect(played()).toEqual([
      [60, 0],
      [61, 1000],
      [62, 3000],
    ]);
    expect(engine.position).toBeCloseTo(2.47, 1);
    engine.stop();
    expect(engine.position).toBeCloseTo(2.47, 1);
    // Beside a recording, which waits nowhere.
    pass(1);
    said = [];
    await engine.play({ ...PLAYING, waits: false });
    pass(2.5);
    const times = strokes().map(({ time }) => time!);
    expect(times.map((time) => Math.round(time - times[0]!))).toEqual([0, 1, 2]);
  });

  it('sets what holds when it begins in the middle', async () => {
    await engine.play({ ...PLAYING, from: 4 });
    expect(said.filter(({ time }) => time === undefined).map(({ what, args }) => [what, ...args])).toEqual([
      ['control', 0, 121, 0],
      ['program', 0, 40],
      ['control', 1, 121, 0],
      ['program', 1, 0],
      ['control', 0, 7, 60],
      ['program', 0, 45],
    ]);
    expect(strokes()[0]!.args).toEqual([0, 64, 80]);
  });

  it('goes round a loop without a gap, and ends what still sounds', async () => {
    await engine.play({ ...PLAYING, from: 2, loop: [2, 3.5] });
    pass(4);
    expect(strokes().map(({ args, time }) => [args[1], Math.round((time! - 10.03) * 1000)])).toEqual([
      [62, 0],
      [63, 1000],
      [62, 1500],
      [63, 2500],
      [62, 3000],
      [63, 4000],
    ]);
    const ends = said.filter(({ what, args }) => what === 'off' && args[1] === 63);
    expect(Math.round((ends[0]!.time! - 10.03) * 1000)).toBe(1500);
  });

  it('counts in one bar, then clicks along where asked', async () => {
    await engine.play({ ...PLAYING, countIn: true, click: true });
    pass(3);
    const clicks = strokes().filter(({ args }) => args[0] === 2);
    expect(clicks.map(({ args, time }) => [args[1], Math.round((time! - 10.03) * 1000)])).toEqual([
      [76, 0],
      [77, 500],
      [77, 1000],
      [77, 1500],
      [76, 2000],
      [77, 2500],
      [77, 3000],
    ]);
    expect(strokes().find(({ args }) => args[0] === 0)!.time! - 10.03).toBeCloseTo(2);
  });

  it('stops where it is, silences everything, and goes on from there', async () => {
    await engine.play(PLAYING);
    pass(2);
    engine.stop();
    const place = engine.position;
    pass(1);
    expect(engine.position).toBe(place);
    expect(said.filter(({ what }) => what === 'stop').length).toBeGreaterThan(0);
    said = [];
    await engine.play({ ...PLAYING, from: place });
    pass(0.3);
    expect(strokes()[0]?.args[1]).toBe(62);
  });

  it('tells when the end is reached, and begins anew', async () => {
    const ended = vi.fn();
    engine.onStop = ended;
    await engine.play({ ...PLAYING, from: 7 });
    pass(3);
    expect(ended).toHaveBeenCalledOnce();
    expect(engine.isPlaying).toBe(false);
    expect(engine.position).toBe(0);
  });

  it('mutes, and hears alone what is solo; what is left out stays silent', () => {
    const muted = () => channels.slice(0, 2).map((channel) => channel.set.gain === 0);
    engine.setHearing(new Map([['1/t1c1', { ...PLAIN, muted: true, gain: 0.5, pan: -1 }]]), new Set());
    expect(muted()).toEqual([true, false]);
    expect(channels[0]!.set).toMatchObject({ gain: 0, pan: -1 });
    engine.setHearing(new Map([['1/t1c1', { ...PLAIN, gain: 0.5 }]]), new Set());
    expect(channels[0]!.set).toMatchObject({ gain: 0.5, pan: 0 });
    engine.setHearing(new Map([['1/t1c1', { ...PLAIN, solo: true }]]), new Set());
    expect(muted()).toEqual([false, true]);
    engine.setHearing(new Map(), new Set(['1/t1c1']));
    expect(muted()).toEqual([true, false]);
  });

  it('tries anew after the bank could not be loaded', async () => {
    const fresh = new Engine();
    await expect(fresh.load(() => Promise.reject(new Error('offline')))).rejects.toThrow('offline');
    await expect(fresh.load(() => Promise.resolve(new ArrayBuffer(0)))).resolves.toBeUndefined();
    fresh.close();
  });
});
