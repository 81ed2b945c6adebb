import FFT from 'fft.js';
import { SoundFont2 } from 'soundfont2';
import { beforeAll, describe, expect, it } from 'vitest';
import { KIT } from '@/core/instruments/kit';
import { makeBank } from '@/core/sound/bank';
import { STROKES } from '@/core/sound/percussion';
import { PROGRAMS } from '@/core/sound/programs';
import { BadBankError, readBank, renderTimeline } from '@/core/sound/render';
import { hertzOf } from '@/core/sound/synthesis';
import { timelineOf } from '@/core/sound/timeline';
import { TIMBRES } from '@/core/sound/voices';
import facts from './conformance/general-midi.json';
import { deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';

const RATE = 48_000;
let bytes: ArrayBuffer;
let bank: ReturnType<typeof readBank>;
beforeAll(() => {
  bytes = makeBank();
  bank = readBank(bytes);
}, 120_000);

/** Renders strokes of one program (or of percussion, without one); left channel. */
function heard(program: number | null, strokes: Stroke[]): Float32Array {
  const track =
    program === null
      ? madeTrack('Drums', 9, strokes)
      : madeTrack('', 0, strokes, [{ kind: 'program', tick: 0, channel: 0, program }]);
  const timeline = timelineOf(deskOf(madeFile(track)), 'source', null);
  const steps = renderTimeline(bank, timeline, RATE);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value[0];
  }
}

const SIZE = 65_536;

/** Power by bin of a Hann window over `audio` from `start` seconds. */
function spectrum(audio: Float32Array, start: number, seconds: number): Float64Array {
  const fft = new FFT(SIZE);
  const length = Math.min(SIZE, Math.round(seconds * RATE));
  const window = new Array<number>(SIZE).fill(0);
  for (let at = 0; at < length; at++)
    window[at] =
      (audio[Math.round(start * RATE) + at] ?? 0) * (0.5 - 0.5 * Math.cos((2 * Math.PI * at) / length));
  const out = fft.createComplexArray();
  fft.realTransform(out, window);
  return Float64Array.from({ length: SIZE / 2 }, (_, bin) => out[2 * bin]! ** 2 + out[2 * bin + 1]! ** 2);
}

/** Cents by which the strongest line within a quarter tone of `hertz` lies off: the middle of power there. */
function centsOff(audio: Float32Array, hertz: number): number {
  const power = spectrum(audio, 0.1, 1.2);
  const binOf = (cents: number) => (hertz * 2 ** (cents / 1200) * SIZE) / RATE;
  let peak = Math.round(binOf(-50));
  for (let bin = peak; bin <= binOf(50); bin++) if (power[bin]! > power[peak]!) peak = bin;
  let sum = 0;
  let weighted = 0;
  // Around a single line; an ensemble spreads over more, but evenly.
  const reach = Math.max(2, Math.round(binOf(25) - binOf(0)));
  const middle = reach > 4 ? Math.round(binOf(0)) : peak;
  for (let bin = middle - reach; bin <= middle + reach; bin++) {
    sum += power[bin]!;
    weighted += power[bin]! * bin;
  }
  return 1200 * Math.log2(((weighted / sum) * RATE) / SIZE / hertz);
}

const NOISES = new Set([115, 119, 120, 121, 122, 123, 124, 125, 126, 127]);

describe('General MIDI', () => {
  /** Names that the library writes otherwise than the standard. */
  const plain = (name: string) => name.toLowerCase().replace(/[^a-z0-9]/g, '');
  const OTHERWISE: Record<string, string> = { clavinet: 'clavi', synthchoir: 'synthvoice' };

  it('has the 128 programs of Level 1 by name', () => {
    expect(PROGRAMS.map(({ name }) => plain(name))).toEqual(
      facts.programs.map((name) => OTHERWISE[plain(name)] ?? plain(name)),
    );
  });

  it('has the percussion keys by name, and a sound for each', () => {
    expect(KIT.map(({ key, name }) => [key, plain(name)])).toEqual(
      Object.entries(facts.percussion).map(([key, name]) => [Number(key), plain(name)]),
    );
    expect(Object.keys(STROKES).map(Number)).toEqual(KIT.map(({ key }) => key));
  });
});

describe('the bank', () => {
  it('is read by a second reader, with all presets, zones and loops', () => {
    const file = new SoundFont2(new Uint8Array(bytes));
    expect(file.presets).toHaveLength(129);
    for (let program = 0; program < 128; program++)
      for (const key of [24, 60, 96]) {
        const found = file.getKeyData(key, 0, program);
        expect(found?.preset.header.name).toBe(PROGRAMS[program]!.name.slice(0, 20));
        const { header, data } = found!.sample;
        expect(header.endLoop).toBeGreaterThan(header.startLoop);
        expect(header.endLoop).toBeLessThanOrEqual(data.length);
      }
    for (let key = 35; key <= 81; key++) expect(file.getKeyData(key, 128, 0)).not.toBeNull();
  });

  it('stays within ten megabytes', () => {
    expect(bytes.byteLength).toBeLessThan(10e6);
  });
});

describe('rendered sound', () => {
  it.each(
    PROGRAMS.map(({ name }, program) => [program, name] as const).filter(([program]) => !NOISES.has(program)),
  )('program %i, %s, is in tune over its range within 10 cents', (program) => {
    const { timbre } = PROGRAMS[program]!;
    const [low, high] = TIMBRES[timbre].roots;
    const middle = Math.round((low + high) / 2) + 1;
    // Programs of one timbre play the same samples: its ends are heard once.
    const isFirst = PROGRAMS.findIndex((each) => each.timbre === timbre) === program;
    for (const key of isFirst ? [low, middle, high] : [middle]) {
      const audio = heard(program, [[0, 1300, key, 100]]);
      expect(Math.abs(centsOff(audio, hertzOf(key))), `key ${key}`).toBeLessThan(10);
    }
  });

  const first = (audio: Float32Array, level: number) => {
    const peak = audio.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
    return audio.findIndex((value) => Math.abs(value) > peak * level) / RATE;
  };

  it.each([0, 12, 24, 45, 56, 115])('program %i begins within 5 ms of its time', (program) => {
    for (const tick of [480, 733, 961]) {
      const at = (tick / 480) * 0.5;
      expect(Math.abs(first(heard(program, [[tick, tick + 480, 60, 100]]), 0.02) - at)).toBeLessThan(0.005);
    }
  });

  it('drums begin within 5 ms too, and ring on after a short note', () => {
    const audio = heard(null, [[480, 490, 49, 110]]);
    expect(Math.abs(first(audio, 0.02) - 0.5)).toBeLessThan(0.005);
    expect(audio.slice(RATE, 1.2 * RATE).some((value) => Math.abs(value) > 0.001)).toBe(true);
  });

  it.each([0, 19, 40, 48, 52, 56, 73, 89])('program %i is silent after it is released', (program) => {
    const audio = heard(program, [[0, 480, 60, 110]]);
    const end = audio.slice(2.8 * RATE);
    expect(end.length).toBeGreaterThan(0);
    expect(end.every((value) => Math.abs(value) < 0.001)).toBe(true);
  });

  it('does not clip, however many play', () => {
    const chord = Array.from({ length: 40 }, (_, at): Stroke => [0, 960, 36 + at, 127]);
    const audio = heard(61, chord);
    expect(audio.every((value) => Math.abs(value) <= 0.981)).toBe(true);
    expect(audio.some((value) => Math.abs(value) > 0.3)).toBe(true);
  });
});

describe('a bad sound bank', () => {
  it.each([
    ['text', new TextEncoder().encode('no sound at all here'), /neither a SoundFont nor a DLS/],
    [
      'a picture in RIFF',
      new TextEncoder().encode('RIFFxxxxWEBPVP8 and so on and on'),
      /damaged|no instrument/,
    ],
    ['nothing', new Uint8Array(0), /neither/],
  ])('is refused with a sentence: %s', (_, data, why) => {
    const read = () => readBank(data.slice().buffer);
    expect(read).toThrow(BadBankError);
    expect(read).toThrow(why);
  });

  it('is refused when it is cut off', () => {
    expect(() => readBank(bytes.slice(0, 40_000))).toThrow(BadBankError);
  });
});
