import { type BasicSoundBank, SoundBankLoader, SpessaSynthProcessor } from 'spessasynth_core';
import { BEND, CONTROL, NOTE_OFF, NOTE_ON, PRESSURE, PROGRAM, type Timeline } from './events';
import { heardAt } from './holds';

/** How loud a strand is heard: gain 0 to 2, pan −1 to 1. Listening settings, not part of the music. */
export interface Level {
  gain: number;
  pan: number;
}

/** Thrown for a file that is no sound bank; the message is one sentence for people. */
export class BadBankError extends Error {
  override name = 'BadBankError';
}

/**
 * Reads a sound bank (SoundFont 2 or 3, or DLS).
 * @throws BadBankError when it is none, or has nothing to play
 */
export function readBank(bytes: ArrayBuffer): BasicSoundBank {
  const view = new DataView(bytes);
  const isRiff = bytes.byteLength > 12 && view.getUint32(0) === 0x52494646;
  if (!isRiff) throw new BadBankError('This is not a sound bank: it is neither a SoundFont nor a DLS file.');
  try {
    const bank = SoundBankLoader.fromArrayBuffer(bytes.slice(0));
    if (bank.presets.length > 0) return bank;
  } catch {
    throw new BadBankError('This sound bank is damaged and cannot be read.');
  }
  throw new BadBankError('This sound bank holds no instrument.');
}

/** Frames that the synthesizer makes at a time; also the finest step of an onset (1.3 ms at 48 kHz if not split). */
const BLOCK = 128;
/** Frames that are handed on at a time. */
const CHUNK = 64 * BLOCK;
const HEADROOM = 0.5;

/** Which of several sounds each channel goes into, and the room that they all stand in. */
export interface Outputs {
  /** Index of the sound by channel. */
  of: readonly number[];
  /** Index of the sound that the room goes into. */
  room: number;
  count: number;
}

/** A stretch of sound: both ears of each output, of `frames` frames. Filled anew for the next one. */
export interface Chunk {
  buffers: readonly (readonly [left: Float32Array, right: Float32Array])[];
  frames: number;
}

/**
 * Plays a timeline on and on, sample by sample where events fall between blocks. All outputs are made in one go:
 * their sum is what one output for all would be.
 *
 * @param rate frames a second
 * @param from seconds of silence before the piece begins
 * @returns chunks without an end: the caller knows when it has rung
 */
export function* playTimeline(
  bank: BasicSoundBank,
  timeline: Timeline,
  rate: number,
  levels: ReadonlyMap<string, Level>,
  outputs: Outputs,
  from = 0,
): Generator<Chunk> {
  const synth = new SpessaSynthProcessor(rate, { eventsEnabled: false });
  synth.soundBankManager.addSoundBank(bank, 'bank');
  synth.setSystemParameter('gain', HEADROOM);
  // Voices that begin while too many sound would cut others off, and which ones hangs on all outputs.
  synth.setSystemParameter('autoAllocateVoices', true);
  setUp(synth, timeline, levels);
  const frameOf = (seconds: number) => Math.round((from + heardAt(timeline.holds, seconds)) * rate);
  const buffers = Array.from(
    { length: outputs.count },
    () => [new Float32Array(CHUNK), new Float32Array(CHUNK)] as const,
  );
  const room = buffers[outputs.room]!;
  const channels = synth.midiChannels.map((_, channel) => [
    ...(buffers[outputs.of[channel] ?? outputs.room] ?? room),
  ]);
  let next = 0;
  for (let start = 0; ; start += CHUNK) {
    for (const [left, right] of buffers) {
      left.fill(0);
      right.fill(0);
    }
    for (let at = 0; at < CHUNK; ) {
      while (next < timeline.seconds.length && frameOf(timeline.seconds[next]!) <= start + at)
        send(synth, timeline, next++);
      const until = next < timeline.seconds.length ? frameOf(timeline.seconds[next]!) - start : CHUNK;
      const count = Math.min(BLOCK, CHUNK - at, Math.max(1, until - at));
      synth.processSplit(channels, room[0], room[1], at, count);
      at += count;
    }
    yield { buffers, frames: CHUNK };
  }
}

/** Seconds for the last notes to fade. */
const TAIL = 2.5;

/**
 * Plays a timeline into stereo audio. A generator, so that a worker can report progress and stop.
 * @returns left and right, without clipping: turned down as a whole where it would
 */
export function* renderTimeline(
  bank: BasicSoundBank,
  timeline: Timeline,
  rate: number,
  levels: ReadonlyMap<string, Level> = new Map(),
): Generator<number, [Float32Array, Float32Array]> {
  const frames = Math.round(heardAt(timeline.holds, timeline.end) * rate) + Math.ceil(TAIL * rate);
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  let at = 0;
  for (const chunk of playTimeline(bank, timeline, rate, levels, { of: [], room: 0, count: 1 })) {
    const [[ofLeft, ofRight] = [left, right]] = chunk.buffers;
    const count = Math.min(chunk.frames, frames - at);
    left.set(ofLeft.subarray(0, count), at);
    right.set(ofRight.subarray(0, count), at);
    at += count;
    if (at >= frames) break;
    yield at / frames;
  }
  turnDown([left, right]);
  return [left, right];
}

function setUp(
  synth: SpessaSynthProcessor,
  { voicings }: Timeline,
  levels: ReadonlyMap<string, Level>,
): void {
  while (synth.midiChannels.length < voicings.length) synth.createMIDIChannel();
  for (const { strand, channel, program, isDrum } of voicings) {
    const target = synth.midiChannels[channel]!;
    target.setDrums(isDrum);
    synth.programChange(channel, isDrum ? 0 : program);
    const level = levels.get(strand);
    if (!level) continue;
    target.setSystemParameter('gain', level.gain);
    target.setSystemParameter('pan', level.pan);
  }
}

function send(synth: SpessaSynthProcessor, timeline: Timeline, index: number): void {
  const channel = timeline.channel[index]!;
  const first = timeline.first[index]!;
  const second = timeline.second[index]!;
  switch (timeline.kind[index]) {
    case NOTE_ON:
      return synth.noteOn(channel, first, second);
    case NOTE_OFF:
      return synth.noteOff(channel, first);
    case CONTROL:
      return synth.controllerChange(channel, first as Parameters<typeof synth.controllerChange>[1], second);
    case BEND:
      return synth.pitchWheel(channel, first + second * 128);
    case PRESSURE:
      return synth.channelPressure(channel, first);
    case PROGRAM:
      return synth.programChange(channel, first);
  }
}

const CEILING = 0.98;

function turnDown(channels: readonly Float32Array[]): void {
  let peak = 0;
  for (const channel of channels) for (const value of channel) peak = Math.max(peak, Math.abs(value));
  if (peak <= CEILING) return;
  for (const channel of channels) for (let at = 0; at < channel.length; at++) channel[at]! *= CEILING / peak;
}
