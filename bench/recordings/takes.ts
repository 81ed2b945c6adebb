import { existsSync, readFileSync } from 'node:fs';
import { seeded } from '../../src/core/basics/random';
import { type Moment, QUARTER } from '../../src/core/model/time';
import { makeBank } from '../../src/core/sound/bank';
import { CONTROL, NOTE_OFF, NOTE_ON, type Timeline } from '../../src/core/sound/events';
import { readBank, renderTimeline } from '../../src/core/sound/render';
import type { Stretched } from '../../tests/helpers/note-measures';
import { loadWorks, type TrueNote, type Work } from '../rhythm/works';

/** Samples a second at which takes are rendered. */
export const RATE = 22_050;
const SECONDS = 40;
const FEWEST = 30;
const PEDAL = 64;

/** A note as it was played, and as it stands in the score where there is one. Seconds and moments. */
export interface Played extends Stretched {
  written?: { start: Moment; end: Moment };
}

/** Something that was played and recorded: what is true of it, and how it sounds. */
export interface Take {
  name: string;
  instrument: string;
  truth: Played[];
  samples: Float32Array;
}

/** A fraction from 0 to 1, each time another. */
export type Random = () => number;

type Bank = ReturnType<typeof readBank>;

/** Banks of recorded samples, each made by others, by the Debian package that brings it. */
const FILES = {
  'fluid-soundfont-gm': 'FluidR3_GM.sf2',
  'timgm6mb-soundfont': 'TimGM6mb.sf2',
};
export type BankName = 'ours' | keyof typeof FILES;

/** The bank that ships, or one of Debian's. */
export function bankOf(name: BankName): Bank {
  if (name === 'ours') return readBank(makeBank());
  const file = `/usr/share/sounds/sf2/${FILES[name]}`;
  if (!existsSync(file)) throw new Error(`There is no ${file}: apt install ${name}.`);
  return readBank(new Uint8Array(readFileSync(file)).buffer);
}

const normalOf = (random: Random) =>
  Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());

/** The notes of a part that plays one at a time, in order; null for others. */
function lineOf(notes: readonly TrueNote[]): TrueNote[] | null {
  const own = notes
    .filter(({ grace, staff, voice }) => !grace && staff === 1 && voice === 1)
    .sort((a, b) => a.start - b.start);
  const isLine = own.every(({ end }, at) => !own[at + 1] || own[at + 1]!.start >= end - 1);
  return isLine && own.length >= FEWEST ? own : null;
}

/** A line as it is played: attacks that differ by 12 ms, notes of nine tenths. */
function playLine(
  line: readonly TrueNote[],
  { quartersPerMinute }: Work,
  [low, high]: readonly [number, number],
  random: Random,
): Played[] {
  const seconds = (moment: number) => (moment / QUARTER) * (60 / quartersPerMinute);
  const mean = line.reduce((sum, { key }) => sum + key, 0) / line.length;
  const shift = 12 * Math.round(((low + high) / 2 - mean) / 12);
  const notes = line
    .filter(({ start }) => seconds(start) < SECONDS)
    .map(({ start, end, key }): Played => {
      const on = Math.max(0.05, seconds(start) + 0.012 * normalOf(random));
      const off = seconds(start) + 0.92 * (seconds(end) - seconds(start)) + 0.02 * normalOf(random);
      return { on, off: Math.max(on + 0.08, off), key: key + shift, written: { start, end } };
    });
  notes.forEach((note, at) => {
    const next = notes[at + 1];
    if (next) note.off = Math.min(note.off, next.on);
  });
  return notes.filter(({ on, off }) => off > on);
}

/** All parts of a work on one keyboard or fingerboard, with attacks that differ by 12 ms from chord to chord and 4 ms within one. */
function playTogether(
  { parts, quartersPerMinute }: Work,
  [low, high]: readonly [number, number],
  mostAtOnce: number,
  random: Random,
): Played[] {
  const seconds = (moment: number) => (moment / QUARTER) * (60 / quartersPerMinute);
  const notes = parts
    .flatMap((part) => part.notes)
    .filter(({ grace, start }) => !grace && seconds(start) < SECONDS)
    .sort((a, b) => a.start - b.start || b.key - a.key);
  const shared = new Map<number, number>();
  const played: Played[] = [];
  for (const { start, end, key } of notes) {
    const apart = shared.get(start) ?? 0.012 * normalOf(random);
    shared.set(start, apart);
    const on = Math.max(0.05, seconds(start) + apart + 0.004 * normalOf(random));
    const off = seconds(start) + 0.92 * (seconds(end) - seconds(start)) + 0.02 * normalOf(random);
    let moved = key;
    while (moved < low) moved += 12;
    while (moved > high) moved -= 12;
    played.push({ on, off: Math.max(on + 0.08, off), key: moved, written: { start, end } });
  }
  return withoutClashes(played, mostAtOnce);
}

/** One note of a key at a time, and no more at once than hands or strings allow. */
function withoutClashes(notes: Played[], mostAtOnce: number): Played[] {
  const kept: Played[] = [];
  for (const note of notes.sort((a, b) => a.on - b.on)) {
    const sounding = kept.filter(({ off }) => off > note.on);
    const same = sounding.find(({ key }) => key === note.key);
    if (same && note.on - same.on < 0.1) continue;
    if (same) same.off = note.on - 0.01;
    else if (sounding.length >= mostAtOnce) continue;
    kept.push({ ...note });
  }
  return kept;
}

/** A made piece for two hands: a melody, at times in octaves or thirds or with runs, over broken chords, blocks or leaps. */
function playPiano(random: Random): Played[] {
  const notes: Played[] = [];
  const strike = (on: number, length: number, key: number) => {
    const begins = Math.max(0.05, on + 0.004 * normalOf(random));
    notes.push({ on: begins, off: begins + Math.max(0.08, length + 0.02 * normalOf(random)), key });
  };
  const beat = 0.4 + 0.4 * random();
  const tonic = 48 + Math.floor(12 * random());
  const degrees = [0, 2, 4, 5, 7, 9, 11];
  const scale = (step: number) => tonic + 12 * Math.floor(step / 7) + degrees[((step % 7) + 7) % 7]!;
  let melody = 9 + Math.floor(5 * random());
  for (let at = 0.1; at < SECONDS; at += 4 * beat) {
    const root = [0, 3, 4, 5, 1][Math.floor(5 * random())]!;
    const chord = [root - 7, root - 5, root - 3];
    const bass = root - 14 + (random() < 0.3 ? 7 : 0);
    const way = Math.floor(4 * random());
    if (way === 0)
      for (let step = 0; step < 8; step++)
        strike(
          at + (step * beat) / 2,
          beat * 0.5,
          scale([chord[0]!, chord[2]!, chord[1]!, chord[2]!][step % 4]!),
        );
    else if (way === 1)
      for (let step = 0; step < 4; step++) {
        if (step % 2 === 0) strike(at + step * beat, beat * 0.9, scale(bass));
        else for (const key of chord) strike(at + step * beat, beat * 0.5, scale(key));
      }
    else if (way === 2) for (const key of [bass, ...chord]) strike(at, beat * 3.8, scale(key));
    else
      for (const [step, key] of [bass, chord[0]!, chord[1]!, chord[2]!, chord[0]! + 7, chord[2]!].entries())
        strike(at + (step * beat * 2) / 3, beat * 0.7, scale(key));
    for (let place = 0; place < 4; ) {
      const length = [0.25, 0.5, 0.5, 1, 1, 1.5, 2][Math.floor(7 * random())]!;
      const count = length === 0.25 ? 4 : 1;
      for (let of = 0; of < count && place < 4; of++) {
        melody = Math.max(4, Math.min(20, melody + Math.round(1.6 * normalOf(random))));
        const jitter = 0.012 * normalOf(random);
        strike(at + place * beat + jitter, length * beat * 0.95, scale(melody));
        const doubling = random();
        if (doubling < 0.12) strike(at + place * beat + jitter, length * beat * 0.95, scale(melody) - 12);
        else if (doubling < 0.25) strike(at + place * beat + jitter, length * beat * 0.95, scale(melody - 2));
        place += length;
      }
    }
  }
  return withoutClashes(notes, 10);
}

/** Open strings of a guitar, and hands on it: frets from the lowest string up, -1 for none. Common practice. */
const STRINGS = [40, 45, 50, 55, 59, 64];
const HANDS = [
  [0, 2, 2, 1, 0, 0],
  [-1, 0, 2, 2, 2, 0],
  [-1, -1, 0, 2, 3, 2],
  [3, 2, 0, 0, 0, 3],
  [-1, 3, 2, 0, 1, 0],
  [0, 2, 2, 0, 0, 0],
  [-1, 0, 2, 2, 1, 0],
  [-1, -1, 0, 2, 3, 1],
  [1, 3, 3, 2, 1, 1],
  [-1, 2, 1, 2, 0, 2],
  [2, 4, 4, 2, 2, 2],
  [-1, 2, 4, 4, 3, 2],
];

/** Strummed and picked chords and riffs on six strings: each string rings until it is plucked again or the hand moves. */
function playGuitar(random: Random): Played[] {
  const notes: Played[] = [];
  const ringing: (Played | null)[] = STRINGS.map(() => null);
  const pluck = (string: number, fret: number, at: number) => {
    const before = ringing[string];
    if (before && before.off > at - 0.01) before.off = at - 0.01;
    const note = { on: at, off: at + 4, key: STRINGS[string]! + fret };
    ringing[string] = note;
    notes.push(note);
  };
  const damp = (at: number) =>
    ringing.forEach((note) => {
      if (note && note.off > at) note.off = at;
    });
  const beat = 0.4 + 0.35 * random();
  let at = 0.1;
  while (at < SECONDS) {
    const hand = HANDS[Math.floor(random() * HANDS.length)]!;
    const used = hand.flatMap((fret, string) => (fret < 0 ? [] : [string]));
    const way = Math.floor(random() * 3);
    if (way === 0)
      for (const stroke of [0, 1, 1.5, 2.5, 3, 3.5]) {
        const begins = at + stroke * beat + 0.01 * normalOf(random);
        const isUp = stroke % 1 !== 0;
        const order = isUp ? used.toReversed().slice(0, 4) : used;
        const apart = 0.006 + 0.012 * random();
        order.forEach((string, index) => {
          pluck(string, hand[string]!, begins + index * apart);
        });
      }
    else if (way === 1)
      for (let step = 0; step < 8; step++) {
        const string = step === 0 ? used[0]! : used[1 + Math.floor(random() * (used.length - 1))]!;
        pluck(string, hand[string]!, at + (step / 2) * beat + 0.01 * normalOf(random));
      }
    else {
      const scale = [0, 3, 5, 7, 10];
      for (let step = 0; step < 8; step++) {
        if (random() < 0.2) continue;
        const fret = scale[Math.floor(random() * scale.length)]!;
        const string = Math.floor(random() * 6);
        const begins = at + (step / 2) * beat + 0.01 * normalOf(random);
        damp(begins - 0.01);
        pluck(string, fret, begins);
      }
    }
    at += 4 * beat;
    damp(at - 0.02);
  }
  return withoutClashes(
    notes.filter(({ on, off }) => off > on + 0.03),
    6,
  );
}

/** Seconds at which the pedal goes down and up; it holds what was struck, as true ends say. */
function pedalled(notes: Played[], random: Random): { notes: Played[]; pedal: [number, number][] } {
  const end = notes.reduce((last, { off }) => Math.max(last, off), 0);
  const pedal: [number, number][] = [];
  for (let at = 0.3; at < end; at += 0.8 + 1.4 * random()) pedal.push([at, at + 0.6 + 0.6 * random()]);
  pedal.forEach((each, index) => {
    const next = pedal[index + 1];
    if (next) each[1] = Math.min(each[1], next[0] - 0.05);
  });
  const held = notes.map((note) => {
    const under = pedal.find(([down, up]) => note.off > down && note.off < up);
    return under ? { ...note, off: under[1] } : { ...note };
  });
  return { notes: withoutClashes(held, 99), pedal };
}

/** What was played, rendered through a bank. */
function rendered(
  bank: Bank,
  notes: readonly Stretched[],
  program: number,
  random: Random,
  pedal: readonly [number, number][] = [],
): Float32Array {
  const events = [
    ...notes.flatMap(({ on, off, key }) => [
      { at: on, kind: NOTE_ON, first: key, second: 50 + Math.round(50 * random()) },
      { at: off, kind: NOTE_OFF, first: key, second: 0 },
    ]),
    ...pedal.flatMap(([down, up]) => [
      { at: down, kind: CONTROL, first: PEDAL, second: 127 },
      { at: up, kind: CONTROL, first: PEDAL, second: 0 },
    ]),
  ].sort((a, b) => a.at - b.at || b.kind - a.kind);
  const timeline: Timeline = {
    seconds: Float64Array.from(events, ({ at }) => at),
    kind: Uint8Array.from(events, ({ kind }) => kind),
    channel: new Uint16Array(events.length),
    first: Uint8Array.from(events, ({ first }) => first),
    second: Uint8Array.from(events, ({ second }) => second),
    voicings: [{ strand: '1/t1c1', channel: 0, program, isDrum: false }],
    beats: { seconds: new Float64Array(), down: new Uint8Array() },
    end: events.at(-1)!.at,
    opening: { beats: new Float64Array(0), length: 0 },
    holds: null,
  };
  const steps = renderTimeline(bank, timeline, RATE);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value[0].map((value, at) => (value + step.value[1][at]!) / 2);
  }
}

/** A small room: what comes back after some hundredths of a second, softer each time (four combs, Schroeder 1962). */
function inRoom(dry: Float32Array): Float32Array {
  const wet = Float32Array.from(dry);
  for (const delay of [0.0297, 0.0371, 0.0411, 0.0437]) {
    const by = Math.round(delay * RATE);
    const comb = new Float32Array(dry.length);
    for (let at = by; at < dry.length; at++) comb[at] = dry[at - by]! + 0.55 * comb[at - by]!;
    for (let at = 0; at < dry.length; at++) wet[at]! += 0.12 * comb[at]!;
  }
  return wet;
}

/** As a microphone colours it: more or less of what lies above some pitch. */
function coloured(sound: Float32Array, random: Random): Float32Array {
  const keep = Math.exp((-2 * Math.PI * 300 * 10 ** (0.9 * random())) / RATE);
  const above = 3 ** (2 * random() - 1);
  let low = 0;
  return sound.map((value) => {
    low = keep * low + (1 - keep) * value;
    return low + above * (value - low);
  });
}

/** A sound as it is recorded: at some level, in a room or none, under noise 40 to 60 dB below the loudest. */
function recorded(dry: Float32Array, hasRoom: boolean, random: Random, isVaried = false): Float32Array {
  const placed = hasRoom ? inRoom(dry) : dry;
  const sound = isVaried ? coloured(placed, random) : placed;
  const loudest = sound.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  const gain = 0.1 + 0.8 * random();
  const noise = gain * 10 ** (-2 - random());
  return sound.map((value) => (gain * value) / loudest + noise * (2 * random() - 1));
}

/** Name, program of General MIDI, lowest and highest key. */
const LINES: [name: string, program: number, low: number, high: number][] = [
  ['flute', 73, 60, 96],
  ['violin', 40, 55, 96],
  ['cello', 42, 36, 72],
  ['bass guitar', 33, 28, 60],
  ['voices', 52, 48, 84],
  ['trumpet', 56, 52, 82],
  ['clarinet', 71, 50, 90],
  ['piano', 0, 36, 90],
];
const OTHERS: [name: string, program: number][] = [
  ['harp', 46],
  ['vibraphone', 11],
  ['strings', 48],
  ['organ', 19],
];
/** Programs of General MIDI that are played like a piano, and like a guitar. */
const KEYBOARDS = [0, 1, 2, 3, 4, 5, 6, 0];
const FRETTED = [24, 25, 26, 27];

/** Of so many single lines, works and guitars one is tuned on, the others are judged. */
const TUNED_LINES = 6;
const TUNED = 3;
const MADE = 12;

/** Single lines of all works, each on one of eight instruments. */
export function* lines(bank: Bank, isTuned: boolean, seed: number): Generator<Take> {
  const random = seeded(seed);
  let index = 0;
  for (const work of loadWorks())
    for (const { notes } of work.parts) {
      const line = lineOf(notes);
      if (!line) continue;
      index++;
      if ((index % TUNED_LINES === 0) !== isTuned) continue;
      const [instrument, program, low, high] =
        LINES[Math.floor(index / TUNED_LINES + (index % TUNED_LINES)) % LINES.length]!;
      const truth = playLine(line, work, [low, high], random);
      const samples = recorded(rendered(bank, truth, program, random), index % 2 === 0, random);
      yield { name: work.name, instrument, truth, samples };
    }
}

/**
 * Made pieces and works on a piano, every second with the pedal.
 * @param isVaried on other keyboards, too, and coloured as by microphones
 */
export function* pianos(bank: Bank, isTuned: boolean, seed: number, isVaried = false): Generator<Take> {
  const take = (name: string, played: Played[], index: number, random: Random): Take => {
    const { notes, pedal } = index % 2 === 0 ? pedalled(played, random) : { notes: played, pedal: [] };
    const program = isVaried ? KEYBOARDS[Math.floor(random() * KEYBOARDS.length)]! : 0;
    const dry = rendered(bank, played, program, random, pedal);
    const samples = recorded(dry, index % 4 < 2, random, isVaried);
    return { name, instrument: index < MADE ? 'piano, made' : 'piano, works', truth: notes, samples };
  };
  for (let index = 0; index < MADE; index++) {
    const random = seeded(seed * 1000 + 400 + index);
    yield take(`made ${index + 1}`, playPiano(random), index, random);
  }
  for (const [index, work] of loadWorks().entries()) {
    if ((index % TUNED === 0) !== isTuned) continue;
    const random = seeded(seed * 1000 + index);
    yield take(work.name, playTogether(work, [24, 100], 10, random), index + MADE, random);
  }
}

/**
 * Chords and riffs, and every second of the works in four voices, on guitars of nylon and steel.
 * @param isVaried on electric ones, too, and coloured as by microphones
 */
export function* guitars(bank: Bank, isTuned: boolean, seed: number, isVaried = false): Generator<Take> {
  const take = (name: string, truth: Played[], index: number, random: Random): Take => {
    const program = isVaried ? FRETTED[Math.floor(random() * FRETTED.length)]! : 24 + (index % 2);
    const dry = rendered(bank, truth, program, random);
    const samples = recorded(dry, index % 4 < 2, random, isVaried);
    return { name, instrument: index < MADE ? 'guitar, made' : 'guitar, works', truth, samples };
  };
  for (let index = 0; index < MADE; index++) {
    const random = seeded(seed * 1000 + 500 + index);
    yield take(`chords and riffs ${index + 1}`, playGuitar(random), index, random);
  }
  for (const [index, work] of loadWorks().entries()) {
    if (index % 2 === 1 || (index % TUNED === 0) !== isTuned) continue;
    const random = seeded(seed * 1000 + 200 + index);
    yield take(work.name, playTogether(work, [40, 84], 4, random), MADE + index / 2, random);
  }
}

/** Every third of the works on other instruments that play many notes at once. */
export function* others(bank: Bank, isTuned: boolean, seed: number): Generator<Take> {
  for (const [index, work] of loadWorks().entries()) {
    if (index % 3 !== (isTuned ? 0 : 1) || index % 2 === 0) continue;
    const random = seeded(seed * 1000 + 700 + index);
    const [instrument, program] = OTHERS[Math.floor(index / 6) % OTHERS.length]!;
    const truth = playTogether(work, [36, 96], 10, random);
    const samples = recorded(rendered(bank, truth, program, random), index % 4 < 2, random);
    yield { name: work.name, instrument, truth, samples };
  }
}
