import { describe, expect, it } from 'vitest';
import { WaveFile } from 'wavefile';
import { seeded } from '@/core/basics/random';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { FIRST_SOURCE } from '@/core/model/ids';
import { AS_HEARD, take } from '@/core/recording/heard';
import { MODEL_BINS, MODEL_KEYS, MODEL_MOMENTS, type NoteModel } from '@/core/recording/model-form';
import type { Sound } from '@/core/recording/sound';
import { writeHeard } from '@/core/sources/audio/document';
import { listen } from '@/core/sources/audio/listen';
import { heardAs } from '@/core/sources/audio/source';
import { isWav, readWav } from '@/core/sources/audio/wav';
import { Workbench } from '@/core/workbench/workbench';
import measures from './conformance/note-measures.json';
import { found, type Stretched } from './helpers/note-measures';

const RATE = 16_000;

interface Tone extends Stretched {
  /** Cents of vibrato, six times a second. */
  vibrato?: number;
  /** A share by which it swells and falls, six times a second. */
  tremolo?: number;
}

/** Tones with six partials that fall by 6 dB each; plucked ones die away. */
function sounding(
  tones: readonly Tone[],
  { cents = 0, plucked = false, noise = 0, rise = 0.02 } = {},
): Sound {
  const end = Math.max(...tones.map(({ off }) => off)) + 0.3;
  const random = seeded(3);
  const samples = Float32Array.from({ length: Math.round(end * RATE) }, () => noise * (2 * random() - 1));
  for (const { on, off, key, vibrato = 0, tremolo = 0 } of tones) {
    const hertz = 440 * 2 ** ((key - 69 + cents / 100) / 12);
    let phase = 0;
    for (let at = Math.round(on * RATE); at < Math.round(off * RATE); at++) {
      const time = at / RATE - on;
      phase += (2 * Math.PI * hertz * 2 ** ((vibrato / 1200) * Math.sin(2 * Math.PI * 6 * time))) / RATE;
      const swell = 1 - (tremolo * (1 - Math.cos(2 * Math.PI * 6 * time))) / 2;
      const level = plucked
        ? Math.exp(-4 * time)
        : Math.min(1, time / rise, (off - at / RATE) / 0.02) * swell;
      let value = 0;
      for (let partial = 1; partial <= 6; partial++) value += Math.sin(partial * phase) / 2 ** partial;
      samples[at]! += 0.3 * level * value;
    }
  }
  return { samples, rate: RATE };
}

const scale = (from: number, to: number, length = 0.4): Tone[] =>
  Array.from({ length: to - from + 1 }, (_, at) => ({
    on: 0.2 + at * length,
    off: 0.2 + at * length + 0.9 * length,
    key: from + at,
  }));
/** A model that hears nothing: lines are heard without it. */
const deaf: NoteModel = {
  hear: () => ({
    frames: new Float32Array(MODEL_MOMENTS * MODEL_KEYS),
    onsets: new Float32Array(MODEL_MOMENTS * MODEL_KEYS),
    contours: new Float32Array(MODEL_MOMENTS * MODEL_KEYS * MODEL_BINS),
  }),
};
const listened = (sound: Sound) => finished(listen(sound, deaf));
const heard = (sound: Sound) => take(listened(sound).line, AS_HEARD);
const keysOf = (sound: Sound) => heard(sound).notes.map(({ key }) => key);

describe('a single line', () => {
  it.each([
    ['low', scale(30, 54)],
    ['middle', scale(55, 79)],
    ['high', scale(80, 100)],
  ])('is heard over its whole range: %s', (_, tones) => {
    const { notes } = heard(sounding(tones));
    expect(notes.map(({ key }) => key)).toEqual(tones.map(({ key }) => key));
    expect(found(tones, notes, true)).toBe(tones.length);
    for (const { confidence, cents } of notes) {
      expect(confidence).toBeGreaterThan(0.85);
      expect(Math.abs(cents)).toBeLessThan(25);
    }
  });

  it('is heard under another tuning, which is told', () => {
    for (const cents of [-35, 22]) {
      const sound = sounding(scale(60, 72), { cents });
      expect(listened(sound).tuning).toBeCloseTo(cents, -1);
      expect(keysOf(sound)).toEqual(scale(60, 72).map(({ key }) => key));
    }
  });

  it('keeps a note with vibrato one note, and strikes again what is struck again', () => {
    const wide = [{ on: 0.2, off: 2.2, key: 69, vibrato: 45 }];
    expect(keysOf(sounding(wide))).toEqual([69]);
    const again = Array.from(
      { length: 8 },
      (_, at): Tone => ({ on: 0.2 + at * 0.25, off: 0.44 + at * 0.25, key: 64 }),
    );
    const notes = heard(sounding(again, { plucked: true })).notes;
    expect(found(again, notes, false)).toBe(8);
    expect(notes).toHaveLength(8);
  });

  it('keeps a note with tremolo one note', () => {
    expect(keysOf(sounding([{ on: 0.2, off: 2.2, key: 76, tremolo: 0.5 }], { noise: 0.002 }))).toEqual([76]);
  });

  it('begins where its sound does, however slowly it comes', () => {
    const tones = scale(57, 69, 0.6);
    const { notes } = heard(sounding(tones, { rise: 0.15, noise: 0.001 }));
    expect(notes).toHaveLength(tones.length);
    for (const [at, { on }] of tones.entries()) expect(Math.abs(notes[at]!.on - on)).toBeLessThan(0.035);
  });

  it('is heard under noise, and louder notes are louder', () => {
    const tones = scale(57, 69);
    expect(keysOf(sounding(tones, { noise: 0.01 }))).toEqual(tones.map(({ key }) => key));
    const sound = sounding(tones);
    const half = Math.round((0.2 + 6 * 0.4 - 0.02) * RATE);
    for (let at = 0; at < half; at++) sound.samples[at]! *= 0.25;
    const { notes } = heard(sound);
    expect(notes[0]!.velocity).toBeLessThan(notes.at(-1)!.velocity - 15);
  });

  it('is the same each time', () => {
    const sound = sounding(scale(60, 67), { noise: 0.005 });
    expect(writeHeard(listened(sound))).toEqual(writeHeard(listened(sound)));
  });

  it.each([
    ['silence', new Float32Array(2 * RATE)],
    ['a click', Float32Array.from({ length: RATE }, (_, at) => (at === 8000 ? 1 : 0))],
    [
      'noise',
      (() => {
        const random = seeded(1);
        return Float32Array.from({ length: 3 * RATE }, () => 0.3 * (2 * random() - 1));
      })(),
    ],
  ])('is not heard in %s, which is said in a sentence', (_, samples) => {
    expect(() => heard({ samples, rate: RATE })).toThrow(/No note is heard in this recording|silent/);
  });

  it('becomes a job like any other: a file with nothing rounded, bars laid along, a page', () => {
    const tones = [60, 62, 64, 65, 67, 65, 64, 62].flatMap((key, at): Tone[] =>
      [0, 1].map((half) => ({
        on: 0.5 + at * 0.9 + half * 0.45,
        off: 0.9 + at * 0.9 + half * 0.45,
        key: key + half,
      })),
    );
    const line = listened(sounding(tones));
    const { notes } = take(line.line, AS_HEARD);
    const bytes = writeHeard(line);
    const [strand] = heardAs(line, AS_HEARD, FIRST_SOURCE, '').played.strands;
    expect(strand!.notes[0]!.on / 1920).toBeCloseTo(notes[0]!.on, 3);
    const bench = new Workbench([{ id: '1', version: 1, name: 'Flute.wav', bytes }]);
    bench.layOut(1, EMPTY_BRIEF);
    const { transcription } = finished(bench.write(1));
    const [part] = transcription.score.parts;
    expect(part!.name).toBe('Flute');
    const written = part!.bars.flatMap(({ voices }) =>
      voices.flatMap(({ items }) => items.flatMap((item) => (item.kind === 'chord' ? item.notes : []))),
    );
    expect(written.filter(({ tieStop }) => !tieStop)).toHaveLength(tones.length);
  });
});

describe('a WAV file', () => {
  const sound = sounding(scale(60, 63, 0.25));
  const file = (depth: string, rate: number, channels = 1) => {
    const made = new WaveFile();
    const resampled = Float64Array.from(
      { length: Math.round((sound.samples.length * rate) / RATE) },
      (_, at) => sound.samples[Math.min(sound.samples.length - 1, Math.round((at * RATE) / rate))]!,
    );
    made.fromScratch(
      channels,
      rate,
      '64',
      channels === 1 ? resampled : Array.from({ length: channels }, () => resampled),
    );
    made.toBitDepth(depth);
    return made.toBuffer();
  };

  it.each([
    ['8', 16_000, 1],
    ['16', 44_100, 2],
    ['24', 96_000, 1],
    ['32f', 48_000, 8],
    ['32', 192_000, 1],
    ['16', 8_000, 1],
  ])('of %s bits, %i samples a second and %i channels is read', (depth, rate, channels) => {
    const bytes = file(depth, rate, channels);
    expect(isWav(bytes)).toBe(true);
    const read = readWav(bytes);
    expect(read.samples.length / read.rate).toBeCloseTo(sound.samples.length / RATE, 1);
    expect(keysOf(read)).toEqual([60, 61, 62, 63]);
  });

  it('that is damaged, empty or none is refused in a sentence', () => {
    expect(() => readWav(file('16', 16_000).slice(0, 30))).toThrow('damaged');
    const text = new TextEncoder().encode('RIFF    WAVEbut nothing like sound');
    expect(() => readWav(text)).toThrow(/damaged|no sound/);
    const empty = new WaveFile();
    empty.fromScratch(1, 16_000, '16', []);
    expect(() => readWav(empty.toBuffer())).toThrow('no sound');
    expect(isWav(new TextEncoder().encode('MThd'))).toBe(false);
  });
});

describe('the measures', () => {
  it(`find what ${measures.source} finds (scripts/note-measures-facts.py)`, () => {
    const notes = (list: number[][]) => list.map(([on, off, key]) => ({ on: on!, off: off!, key: key! }));
    for (const { truth, heard: other, onset, both } of measures.cases) {
      expect(found(notes(truth), notes(other), false)).toBe(onset);
      expect(Math.abs(found(notes(truth), notes(other), true) - both)).toBeLessThanOrEqual(1);
    }
  });
});
