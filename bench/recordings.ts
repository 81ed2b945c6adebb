/**
 * How well the notes of a recording are heard: `npm run bench:recordings`.
 *
 * Data: single lines of the works of works.json, public-domain works (scripts/rhythm-facts.py):
 * the first voice of each part that plays one note at a time, 40 s of it, moved by octaves into the range of
 * an instrument, played with attacks that differ by 12 ms and notes of nine tenths (seeded), rendered through the bank
 * that ships, with level varied, in a dry and a small room, under noise 46 dB below the loudest. Every sixth part
 * was tuned on (seed 1); the others are judged, with another seed. Rendered sound is easier than recorded sound: no
 * breath, no bow, no vibrato that wanders.
 *
 * Measures: those of note transcription in music information retrieval, as the library mir_eval defines them: a note is
 * found with its key and its onset within 50 ms; with offsets also where it ends within 50 ms or a fifth of its length. Beside
 * it the plain way: a note wherever the rounded pitch of the moment is the same.
 */
import { seeded } from '../src/core/basics/random';
import { finished } from '../src/core/basics/steps';
import { QUARTER } from '../src/core/model/time';
import { type HeardNote, notesOfLine } from '../src/core/recording/line-notes';
import { onsetsOf } from '../src/core/recording/onsets';
import { trackPitch } from '../src/core/recording/pitch-track';
import { makeBank } from '../src/core/sound/bank';
import { NOTE_OFF, NOTE_ON, type Timeline } from '../src/core/sound/events';
import { readBank, renderTimeline } from '../src/core/sound/render';
import { found, type Stretched } from '../tests/helpers/note-measures';
import { loadWorks, type TrueNote, type Work } from './rhythm/works';

const RATE = 16_000;
const SECONDS = 40;
const FEWEST = 30;
const seed = Number(process.env.SEED ?? 2);
const isTuned = process.env.HALF === 'tuned';
const random = seeded(seed);
const bank = readBank(makeBank());

/** Name, program of General MIDI, lowest and highest key. */
const INSTRUMENTS: [name: string, program: number, low: number, high: number][] = [
  ['flute', 73, 60, 96],
  ['violin', 40, 55, 96],
  ['cello', 42, 36, 72],
  ['bass guitar', 33, 28, 60],
  ['voices', 52, 48, 84],
  ['trumpet', 56, 52, 82],
  ['clarinet', 71, 50, 90],
  ['piano', 0, 36, 90],
];

const normal = () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());

/** The notes of a part that plays one at a time, in order; null for others. */
function lineOf(notes: readonly TrueNote[]): TrueNote[] | null {
  const own = notes
    .filter(({ grace, staff, voice }) => !grace && staff === 1 && voice === 1)
    .sort((a, b) => a.start - b.start);
  const isLine = own.every(({ end }, at) => !own[at + 1] || own[at + 1]!.start >= end - 1);
  return isLine && own.length >= FEWEST ? own : null;
}

function played(
  line: readonly TrueNote[],
  { quartersPerMinute }: Work,
  low: number,
  high: number,
): Stretched[] {
  const seconds = (moment: number) => (moment / QUARTER) * (60 / quartersPerMinute);
  const mean = line.reduce((sum, { key }) => sum + key, 0) / line.length;
  const shift = 12 * Math.round(((low + high) / 2 - mean) / 12);
  const notes = line
    .filter(({ start }) => seconds(start) < SECONDS)
    .map(({ start, end, key }): Stretched => {
      const on = Math.max(0.05, seconds(start) + 0.012 * normal());
      const off = seconds(start) + 0.92 * (seconds(end) - seconds(start)) + 0.02 * normal();
      return { on, off: Math.max(on + 0.08, off), key: key + shift };
    });
  notes.forEach((note, at) => {
    const next = notes[at + 1];
    if (next) note.off = Math.min(note.off, next.on);
  });
  return notes.filter(({ on, off }) => off > on);
}

function rendered(notes: readonly Stretched[], program: number): Float32Array {
  const events = notes
    .flatMap(({ on, off, key }) => [
      { at: on, kind: NOTE_ON, key, velocity: 55 + Math.round(45 * random()) },
      { at: off, kind: NOTE_OFF, key, velocity: 0 },
    ])
    .sort((a, b) => a.at - b.at || b.kind - a.kind);
  const timeline: Timeline = {
    seconds: Float64Array.from(events, ({ at }) => at),
    kind: Uint8Array.from(events, ({ kind }) => kind),
    channel: new Uint16Array(events.length),
    first: Uint8Array.from(events, ({ key }) => key),
    second: Uint8Array.from(events, ({ velocity }) => velocity),
    voicings: [{ strand: '1/t1c1', channel: 0, program, isDrum: false }],
    beats: { seconds: new Float64Array(), down: new Uint8Array() },
    end: events.at(-1)!.at,
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

function treated(dry: Float32Array, hasRoom: boolean): Float32Array {
  const sound = hasRoom ? inRoom(dry) : dry;
  const loudest = sound.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  const gain = 0.1 + 0.8 * random();
  return sound.map((value) => (gain * value) / loudest + gain * 0.005 * (2 * random() - 1));
}

/** A note wherever the rounded pitch stays the same for a twentieth of a second. */
function plainly({ keys, perSecond }: { keys: Float32Array; perSecond: number }): Stretched[] {
  const notes: Stretched[] = [];
  for (let from = 0; from < keys.length; ) {
    let to = from + 1;
    while (to < keys.length && Math.round(keys[to]!) === Math.round(keys[from]!)) to++;
    if (!Number.isNaN(keys[from]!) && to - from >= perSecond / 20)
      notes.push({ on: from / perSecond, off: to / perSecond, key: Math.round(keys[from]!) });
    from = to;
  }
  return notes;
}

interface Count {
  truth: number;
  heard: number;
  plain: number;
  byOnset: number;
  byBoth: number;
  plainFound: number;
}

const counts = new Map<string, Count>();
let [took, length, index] = [0, 0, 0];
for (const work of loadWorks())
  for (const { notes } of work.parts) {
    const line = lineOf(notes);
    if (!line) continue;
    index++;
    if ((index % 6 === 0) !== isTuned) continue;
    const [name, program, low, high] = INSTRUMENTS[Math.floor(index / 6 + (index % 6)) % INSTRUMENTS.length]!;
    const truth = played(line, work, low, high);
    const samples = treated(rendered(truth, program), index % 2 === 0);
    const began = performance.now();
    const sound = { samples, rate: RATE };
    const track = finished(trackPitch(sound));
    const heard: HeardNote[] = finished(notesOfLine(track, finished(onsetsOf(sound))));
    took += performance.now() - began;
    length += samples.length / RATE;
    const plain = plainly(track);
    const count = counts.get(name) ?? { truth: 0, heard: 0, plain: 0, byOnset: 0, byBoth: 0, plainFound: 0 };
    count.truth += truth.length;
    count.heard += heard.length;
    count.plain += plain.length;
    count.byOnset += found(truth, heard, false);
    count.byBoth += found(truth, heard, true);
    count.plainFound += found(truth, plain, false);
    counts.set(name, count);
    if (process.env.BY)
      console.log(
        work.name,
        name,
        ((2 * found(truth, heard, false)) / (truth.length + heard.length)).toFixed(3),
      );
  }
const f = (right: number, ...all: number[]) =>
  ((2 * right) / all.reduce((sum, each) => sum + each, 0)).toFixed(3);
const total = { truth: 0, heard: 0, plain: 0, byOnset: 0, byBoth: 0, plainFound: 0 };
for (const count of counts.values())
  for (const key of Object.keys(total) as (keyof Count)[]) total[key] += count[key];
console.log(
  `single lines, ${isTuned ? 'tuned' : 'judged'} parts, seed ${seed}: F by onset (aim 0.96), with offsets, plain way`,
);
console.table(
  Object.fromEntries(
    [...counts, ['all', total] as const].map(([name, each]) => [
      name,
      {
        notes: each.truth,
        'by onset': f(each.byOnset, each.truth, each.heard),
        'with offsets': f(each.byBoth, each.truth, each.heard),
        'plain way': f(each.plainFound, each.truth, each.plain),
      },
    ]),
  ),
);
console.log(`${(took / 1000 / (length / 60)).toFixed(1)} s a minute of sound (budget 30)`);
