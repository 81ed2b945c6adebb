import type { BasicSoundBank } from 'spessasynth_core';
import { CLICK as STROKES } from '../deliver/clock-track';
import type { StrandId } from '../model/ids';
import { CONTROL, eventsIn, inColumns, NOTE_OFF, NOTE_ON, type Timeline } from './events';
import { type Level, type Outputs, playTimeline } from './render';
import type { Frames, SoundFile, SoundForm } from './sound-file';
import { endOfSound, leadInSeconds, type Stem, type StemsChoice, type StemsMade } from './stem-choice';

/** Takes bytes of a file as they come: the head comes last, and stands before the others. */
export interface StemSink {
  add(file: number, bytes: Uint8Array): void;
  head(file: number, bytes: Uint8Array): void;
  /** Everything is made anew, more softly. */
  begin(): void;
  /** A file has nothing in it, and is none. */
  drop(file: number): void;
}

const ROOM = 'Reverb';
const CLICK = 'Click';
const WHOLE = 'Mix';

/** What is softer than this has rung; of full scale (−90 dB, the noise of 16 bits). */
const SILENT = 2 ** -15;
/** Seconds that must be silent at the end, and that a piece rings at the longest. */
const REST = 0.3;
const LONGEST_TAIL = 15;
/** Nothing is louder than this; of full scale. */
const CEILING = 0.98;
const NOTHING = new Uint8Array(0);
/** A stroke of the click; seconds. */
const STROKE_SECONDS = 0.06;
/** How much of a channel goes to reverberation and chorus (MIDI 1.0, controllers 91 and 93). */
const EFFECTS = [91, 93];

/**
 * Renders a piece as several files of equal length from one start, in one go: what each stem sounds by itself, the
 * room that they share, and the click. All of them added give the whole, to the last bit: each takes from the sum so
 * far to the sum with it, both rounded.
 *
 * A single stem is the whole, room and all. A room that nothing sounds in has no file.
 *
 * @param timeline of the whole; a strand that no stem has is silent
 * @returns the share that is done, by and by
 */
export function* renderStems(
  bank: BasicSoundBank,
  timeline: Timeline,
  stems: readonly Stem[],
  choice: StemsChoice,
  levels: ReadonlyMap<string, Level>,
  fileOf: (form: SoundForm) => SoundFile,
  sink: StemSink,
): Generator<number, StemsMade> {
  const plan = planOf(timeline, stems, choice);
  let gain = 1;
  for (;;) {
    sink.begin();
    const { frames, loudest, sum, hasRoom } = yield* pass(bank, plan, choice, levels, gain, fileOf, sink);
    if (loudest * gain <= 1) {
      const { room, count } = plan.outputs;
      const isWhole = count === 1 || hasRoom;
      if (!isWhole) sink.drop(room);
      return {
        names: isWhole ? plan.names : plan.names.filter((_, at) => at !== room),
        frames,
        turnedDown: gain === 1 ? 0 : -20 * Math.log10(gain),
        peak: 20 * Math.log10(sum * gain),
      };
    }
    gain = CEILING / loudest;
  }
}

interface Plan {
  timeline: Timeline;
  outputs: Outputs;
  names: string[];
  /** Seconds before the piece, and of the whole up to its last note. */
  from: number;
  end: number;
}

function planOf(timeline: Timeline, stems: readonly Stem[], { leadInBars, click }: StemsChoice): Plan {
  const isWhole = stems.length === 1;
  const names = isWhole ? [stems[0]?.name || WHOLE] : [...stems.map(({ name }) => name), ROOM];
  const own = new Map(stems.flatMap(({ strands }, at) => strands.map((strand) => [strand, at] as const)));
  const from = leadInSeconds(timeline, leadInBars);
  const heard = timeline.voicings.filter(({ strand }) => own.has(strand)).map(({ channel }) => channel);
  const of = timeline.voicings.map(({ strand }) => own.get(strand) ?? 0);
  const sounding = only(timeline, new Set(heard));
  const outputs = { of, room: isWhole ? 0 : stems.length, count: isWhole ? 1 : stems.length + 1 };
  const end = endOfSound(timeline, leadInBars);
  if (!click) return { timeline: sounding, outputs, names, from, end };
  // A click has no room.
  const clicking = withClick(sounding, leadInBars);
  return {
    timeline: clicking,
    outputs: { ...outputs, of: [...of, outputs.count], count: outputs.count + 1 },
    names: [...names, CLICK],
    from,
    end,
  };
}

/** A timeline with the events of some channels alone. */
const only = (timeline: Timeline, channels: ReadonlySet<number>): Timeline => ({
  ...timeline,
  ...inColumns(eventsIn(timeline).filter(({ channel }) => channels.has(channel))),
});

/** A timeline with a click on a channel of its own, from so many bars before it. */
function withClick(timeline: Timeline, leadInBars: number): Timeline {
  const { opening, beats, voicings } = timeline;
  const channel = voicings.length;
  const events = eventsIn(timeline);
  const strike = (seconds: number, isDown: boolean): void => {
    const { key, velocity } = isDown ? STROKES.downbeat : STROKES.beat;
    events.push({ seconds, kind: NOTE_ON, channel, first: key, second: velocity });
    events.push({ seconds: seconds + STROKE_SECONDS, kind: NOTE_OFF, channel, first: key, second: 0 });
  };
  const start = -leadInBars * opening.length;
  // No room for it.
  for (const first of EFFECTS) events.push({ seconds: start, kind: CONTROL, channel, first, second: 0 });
  for (let bar = 0; bar < leadInBars; bar++)
    opening.beats.forEach((beat, index) => void strike(start + bar * opening.length + beat, index === 0));
  beats.seconds.forEach((seconds, at) => void strike(seconds, beats.down[at] === 1));
  const voicing = { strand: CLICK_STRAND, channel, program: 0, isDrum: true };
  return { ...timeline, ...inColumns(events), voicings: [...voicings, voicing] };
}

/** Under which the click is voiced; no source has such a strand. */
const CLICK_STRAND: StrandId = '0/click';

/** Everything once, at a gain; goes on to the end without writing where something is too loud. */
function* pass(
  bank: BasicSoundBank,
  { timeline, outputs, from, end }: Plan,
  choice: StemsChoice,
  levels: ReadonlyMap<string, Level>,
  gain: number,
  fileOf: (form: SoundForm) => SoundFile,
  sink: StemSink,
): Generator<number, { frames: number; loudest: number; sum: number; hasRoom: boolean }> {
  const { rate, bits } = choice;
  const files = Array.from({ length: outputs.count }, () => fileOf(choice));
  const scale = gain * (2 ** (bits - 1) - 1);
  let [frames, quiet, loudest, sum, room] = [0, 0, 0, 0, 0];
  for (const chunk of playTimeline(bank, timeline, rate, levels, outputs, from)) {
    const peaks = chunk.buffers.map(([left, right]) => Math.max(peakOf(left), peakOf(right)));
    loudest = Math.max(loudest, ...peaks);
    room = Math.max(room, peaks[outputs.room] ?? 0);
    const { written, peak } = asWhole(chunk.buffers, scale);
    sum = Math.max(sum, peak);
    loudest = Math.max(loudest, sum);
    if (loudest * gain <= 1)
      for (const [at, frames] of written.entries()) sink.add(at, files[at]?.write(frames) ?? NOTHING);
    frames += chunk.frames;
    const over = frames / rate - end;
    quiet = Math.max(...peaks) < SILENT ? quiet + chunk.frames / rate : 0;
    if (over >= 0 && (quiet >= REST || over >= LONGEST_TAIL)) break;
    yield Math.min(1, frames / rate / (end + 1));
  }
  files.forEach((file, at) => {
    const { rest, head } = file.end();
    sink.add(at, rest);
    sink.head(at, head);
  });
  return { frames, loudest, sum, hasRoom: room > 0 };
}

function peakOf(samples: Float32Array): number {
  let peak = 0;
  for (const value of samples) peak = Math.max(peak, Math.abs(value));
  return peak;
}

/** Whole numbers for each output, whose sum is the rounded sum. @returns the largest sum besides, unscaled */
function asWhole(
  buffers: readonly (readonly [Float32Array, Float32Array])[],
  scale: number,
): { written: Frames[]; peak: number } {
  let peak = 0;
  const ears = [0, 1].map((ear) => {
    const length = buffers[0]?.[0].length ?? 0;
    const sums = new Float64Array(length);
    const before = new Int32Array(length);
    const each = buffers.map((pair) => {
      const samples = pair[ear] ?? pair[0];
      const out = new Int32Array(length);
      for (let at = 0; at < length; at++) {
        sums[at]! += samples[at]!;
        const now = Math.round(sums[at]! * scale);
        out[at] = now - before[at]!;
        before[at] = now;
      }
      return out;
    });
    for (const value of sums) peak = Math.max(peak, Math.abs(value));
    return each;
  });
  const [lefts = [], rights = []] = ears;
  return { written: lefts.map((left, at) => [left, rights[at] ?? left] as const), peak };
}
