import { seeded } from '../../src/core/basics/random';
import { NOTE_OFF, NOTE_ON, PROGRAM, type Timeline } from '../../src/core/sound/events';
import { renderTimeline } from '../../src/core/sound/render';
import type { bankOf } from '../recordings/takes';

/** Samples a second at which songs are rendered. */
export const RATE = 22_050;

/** A chord of a song. Seconds; root as a pitch class from C. */
export interface TrueChord {
  on: number;
  off: number;
  root: number;
  /** As MusicXML names it. */
  kind: string;
}

interface Sounding {
  on: number;
  off: number;
  key: number;
}

/** A made song and what is true of it. Times in seconds. */
export interface Song {
  name: string;
  samples: Float32Array;
  beats: number[];
  downbeats: number[];
  perBar: number;
  chords: TrueChord[];
  tune: Sounding[];
  bass: Sounding[];
  drums: Sounding[];
  /** Pitch class of the tonic, from C. */
  tonic: number;
  minor: boolean;
}

const TONES: Readonly<Record<string, readonly number[]>> = {
  major: [0, 4, 7],
  minor: [0, 3, 7],
  dominant: [0, 4, 7, 10],
  'major-seventh': [0, 4, 7, 11],
  'minor-seventh': [0, 3, 7, 10],
  'half-diminished': [0, 3, 6, 10],
};

/** Progressions of four bars or eight, as semitones above the tonic and kinds; common practice of songs. */
const MAJOR_SONGS: readonly (readonly [number, string][])[] = [
  [
    [0, 'major'],
    [7, 'major'],
    [9, 'minor'],
    [5, 'major'],
  ],
  [
    [0, 'major'],
    [9, 'minor'],
    [5, 'major'],
    [7, 'major'],
  ],
  [
    [0, 'major-seventh'],
    [9, 'minor-seventh'],
    [2, 'minor-seventh'],
    [7, 'dominant'],
  ],
  [
    [0, 'major'],
    [5, 'major'],
    [0, 'major'],
    [7, 'dominant'],
  ],
  [
    [5, 'major-seventh'],
    [4, 'minor-seventh'],
    [2, 'minor-seventh'],
    [0, 'major'],
  ],
  [
    [0, 'dominant'],
    [5, 'dominant'],
    [0, 'dominant'],
    [7, 'dominant'],
    [5, 'dominant'],
    [0, 'dominant'],
  ],
  [
    [0, 'major'],
    [4, 'minor'],
    [5, 'major'],
    [2, 'minor'],
    [7, 'major'],
    [10, 'major'],
    [5, 'major'],
    [7, 'dominant'],
  ],
];
const MINOR_SONGS: readonly (readonly [number, string][])[] = [
  [
    [0, 'minor'],
    [8, 'major'],
    [3, 'major'],
    [10, 'major'],
  ],
  [
    [0, 'minor'],
    [5, 'minor'],
    [7, 'dominant'],
    [0, 'minor'],
  ],
  [
    [0, 'minor-seventh'],
    [5, 'minor-seventh'],
    [10, 'dominant'],
    [3, 'major-seventh'],
    [8, 'major-seventh'],
    [2, 'half-diminished'],
    [7, 'dominant'],
    [0, 'minor'],
  ],
  [
    [0, 'minor'],
    [10, 'major'],
    [8, 'major'],
    [7, 'major'],
  ],
];
const MAJOR_SCALE = [0, 2, 4, 5, 7, 9, 11];
const MINOR_SCALE = [0, 2, 3, 5, 7, 8, 10];
/** Cells of a tune: places within two beats. */
const CELLS = [[0], [0, 1], [0, 0.5, 1], [0, 1, 1.5], [0, 0.5, 1, 1.5], [0.5, 1, 1.5], [0, 1.5], []];

/** General MIDI programs. */
const LEADS = [65, 73, 56, 71, 52, 81, 25, 40];
const COMPS = [0, 4, 25, 26, 27, 16];
const BASSES = [32, 33, 34];
const PADS = [48, 50, 89];
const [KICK, SNARE, HAT, RIDE] = [36, 38, 42, 51];

type Bank = ReturnType<typeof bankOf>;

/**
 * A made song of drums, bass, comping, a pad and a tune over a progression, some forty seconds long, played a little
 * loosely at a tempo that wanders a little, mixed at levels of its own, in a room or none, under noise.
 */
export function makeSong(bank: Bank, seed: number): Song {
  const random = seeded(seed * 6151 + 17);
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)]!;
  const minor = random() < 0.4;
  const tonic = Math.floor(12 * random());
  const perBar = random() < 0.2 ? 3 : 4;
  const tempo = 72 + 80 * random();
  const hasDrums = random() < 0.85;
  const hasPad = random() < 0.5;
  const isSwung = random() < 0.2;
  const bars = Math.ceil((40 * tempo) / 60 / perBar / 4) * 4;
  const begins = 0.3 + 1.5 * random();
  const beats = [begins];
  const phase = 6 * random();
  for (let beat = 0; beat < bars * perBar; beat++)
    beats.push(beats.at(-1)! + (60 / tempo) * (1 + 0.015 * Math.sin(beat / 9 + phase)));
  /** Seconds of a place in beats. */
  const when = (place: number): number => {
    const beat = Math.min(beats.length - 2, Math.floor(place));
    const into = place - beat;
    const swung = isSwung && Math.abs(into - 0.5) < 0.01 ? 0.64 : into;
    return beats[beat]! + swung * (beats[beat + 1]! - beats[beat]!);
  };
  const progression = pick(minor ? MINOR_SONGS : MAJOR_SONGS);
  const splits = random() < 0.25;
  const chords: (TrueChord & { from: number; to: number })[] = [];
  for (let bar = 0; bar < bars; bar++) {
    const parts = splits && perBar === 4 && bar % 4 === 3 ? 2 : 1;
    for (let part = 0; part < parts; part++) {
      const [above, kind] = progression[(bar + part) % progression.length]!;
      const from = bar * perBar + (part * perBar) / parts;
      const to = from + perBar / parts;
      chords.push({ from, to, on: when(from), off: when(to), root: (tonic + above) % 12, kind });
    }
  }
  const events: { at: number; kind: number; channel: number; first: number; second: number }[] = [];
  const sound = (channel: number, place: number, end: number, key: number, velocity: number): Sounding => {
    const on = Math.max(0, when(place) + 0.006 * normal());
    const off = Math.max(on + 0.06, when(end) - 0.02);
    events.push({
      at: on,
      kind: NOTE_ON,
      channel,
      first: key,
      second: Math.round(Math.min(127, Math.max(1, velocity + 6 * normal()))),
    });
    events.push({ at: off, kind: NOTE_OFF, channel, first: key, second: 0 });
    return { on, off, key };
  };
  const level = () => 60 + 35 * random();
  // The tune stands before the rest, as it is mixed in practice.
  const levels = { lead: 0, comp: level(), bass: level() + 5, pad: level() - 15, drums: level() };
  levels.lead = Math.max(levels.comp, levels.pad, level()) + 15;
  const compWay = Math.floor(4 * random());
  const bassWay = Math.floor(3 * random());
  const bass: Sounding[] = [];
  for (const { from, to, root, kind } of chords) {
    const tones = TONES[kind]!;
    const low = 50 + ((root + 10) % 12);
    const voiced = tones.map((tone) => {
      let key = low + tone;
      while (key > 67) key -= 12;
      return key;
    });
    const hits =
      compWay === 0
        ? Array.from({ length: to - from }, (_, at) => [from + at, from + at + 1])
        : compWay === 1
          ? [[from, to]]
          : compWay === 2
            ? Array.from({ length: 2 * (to - from) }, (_, at) => [from + at / 2, from + at / 2 + 0.5])
            : [
                [from + 0.5, from + 1],
                [from + 1.5, from + 2],
              ];
    for (const [at, end] of hits)
      if (compWay === 2) {
        const key = voiced[Math.floor(2 * (at! - from)) % voiced.length]!;
        sound(1, at!, end! + 0.5, key, levels.comp);
      } else for (const key of voiced) sound(1, at!, end!, key, levels.comp);
    if (hasPad) for (const tone of tones) sound(3, from, to, 60 + ((root + tone) % 12), levels.pad);
    const bassKey = 28 + ((root + 8) % 12);
    const fifth = bassKey + 7 > 45 ? bassKey - 5 : bassKey + 7;
    if (bassWay === 0) bass.push(sound(2, from, to, bassKey, levels.bass));
    else if (bassWay === 1)
      for (let at = from; at < to; at++)
        bass.push(sound(2, at, at + 1, at % 2 === from % 2 ? bassKey : fifth, levels.bass));
    else for (let at = from; at < to; at += 0.5) bass.push(sound(2, at, at + 0.5, bassKey, levels.bass));
  }
  const scale = (minor ? MINOR_SCALE : MAJOR_SCALE).map((step) => (tonic + step) % 12);
  const chordAt = (place: number) => chords.find(({ from, to }) => place >= from && place < to)!;
  const tune: Sounding[] = [];
  let height = 70 + Math.floor(5 * random());
  const places: number[] = [];
  for (let at = 0; at < bars * perBar; at += 2) {
    if (at % (4 * perBar) >= 3 * perBar && random() < 0.5) continue;
    for (const place of pick(CELLS)) if (at + place < bars * perBar) places.push(at + place);
  }
  places.forEach((place, index) => {
    const { root, kind } = chordAt(place);
    const inside = TONES[kind]!.map((tone) => (root + tone) % 12);
    const wanted = place % 1 === 0 && random() < 0.75 ? inside : [...inside, ...scale];
    const near = Array.from({ length: 13 }, (_, at) => height - 6 + at).filter(
      (key) => wanted.includes(key % 12) && key >= 64 && key <= 84 && (key !== height || random() < 0.3),
    );
    height = near.length > 0 ? pick(near) : height;
    const next = places[index + 1] ?? bars * perBar;
    tune.push(sound(0, place, Math.min(next, place + 2), height, levels.lead));
  });
  const drums: Sounding[] = [];
  const strike = (...[place, end, key, velocity]: [number, number, number, number]) =>
    drums.push(sound(9, place, end, key, velocity));
  if (hasDrums)
    for (let bar = 0; bar < bars; bar++) {
      const from = bar * perBar;
      for (let at = 0; at < perBar; at++) {
        const hat = random() < 0.5 ? HAT : compWay === 3 ? RIDE : HAT;
        strike(from + at, from + at + 0.2, hat, levels.drums - 15);
        strike(from + at + 0.5, from + at + 0.7, hat, levels.drums - 25);
        const isBack = perBar === 4 ? at % 2 === 1 : at > 0;
        if (isBack) strike(from + at, from + at + 0.2, SNARE, levels.drums + (perBar === 3 ? -10 : 5));
        else strike(from + at, from + at + 0.2, KICK, levels.drums + 10);
      }
      if (perBar === 4 && random() < 0.5) strike(from + 2.5, from + 2.7, KICK, levels.drums);
    }
  const programs = [pick(LEADS), pick(COMPS), pick(BASSES), pick(PADS)];
  const voicings: Timeline['voicings'] = [0, 1, 2, 3, 9].map((channel) => ({
    strand: `1/t${channel + 1}c${channel + 1}`,
    channel,
    program: programs[channel] ?? 0,
    isDrum: channel === 9,
  }));
  const opening = programs.map((program, channel) => ({
    at: 0,
    kind: PROGRAM,
    channel,
    first: program,
    second: 0,
  }));
  const all = [...opening, ...events].sort((a, b) => a.at - b.at || b.kind - a.kind);
  const timeline: Timeline = {
    seconds: Float64Array.from(all, ({ at }) => at),
    kind: Uint8Array.from(all, ({ kind }) => kind),
    channel: Uint16Array.from(all, ({ channel }) => channel),
    first: Uint8Array.from(all, ({ first }) => first),
    second: Uint8Array.from(all, ({ second }) => second),
    voicings,
    beats: { seconds: new Float64Array(), down: new Uint8Array() },
    end: all.at(-1)!.at,
    opening: { beats: new Float64Array(0), length: 0 },
    holds: null,
  };
  const steps = renderTimeline(bank, timeline, RATE);
  let sound2: Float32Array;
  for (;;) {
    const step = steps.next();
    if (!step.done) continue;
    sound2 = step.value[0].map((value, at) => (value + step.value[1][at]!) / 2);
    break;
  }
  return {
    name: `song ${seed}, ${Math.round(tempo)} in ${perBar}${hasDrums ? '' : ', no drums'}`,
    samples: recorded(sound2, random),
    beats: beats.slice(0, bars * perBar),
    downbeats: beats.slice(0, bars * perBar).filter((_, at) => at % perBar === 0),
    perBar,
    chords,
    tune,
    bass,
    drums,
    tonic,
    minor,
  };
}

/** In a small room or none, under noise 40 to 60 dB below the loudest. */
function recorded(dry: Float32Array, random: () => number): Float32Array {
  const wet = Float32Array.from(dry);
  if (random() < 0.5)
    for (const delay of [0.0297, 0.0371, 0.0411, 0.0437]) {
      const by = Math.round(delay * RATE);
      const comb = new Float32Array(dry.length);
      for (let at = by; at < dry.length; at++) comb[at] = dry[at - by]! + 0.55 * comb[at - by]!;
      for (let at = 0; at < dry.length; at++) wet[at]! += 0.12 * comb[at]!;
    }
  const loudest = wet.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  const gain = 0.2 + 0.7 * random();
  const noise = gain * 10 ** (-2 - random());
  return wet.map((value) => (gain * value) / loudest + noise * (2 * random() - 1));
}
