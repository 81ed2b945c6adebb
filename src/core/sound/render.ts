import { audioToWav, type BasicSoundBank, SoundBankLoader, SpessaSynthProcessor } from 'spessasynth_core';
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
/** Seconds for the last notes to fade. */
const TAIL = 2.5;
const HEADROOM = 0.5;

/**
 * Plays a timeline into stereo audio, sample by sample where events fall
 * between blocks. A generator, so that a worker can report progress and stop.
 * @returns left and right, without clipping: turned down as a whole where it would
 */
export function* renderTimeline(
  bank: BasicSoundBank,
  timeline: Timeline,
  rate: number,
  levels: ReadonlyMap<string, Level> = new Map(),
): Generator<number, [Float32Array, Float32Array]> {
  const synth = new SpessaSynthProcessor(rate, { eventsEnabled: false });
  synth.soundBankManager.addSoundBank(bank, 'bank');
  synth.setSystemParameter('gain', HEADROOM);
  setUp(synth, timeline, levels);
  const frameOf = (seconds: number) => Math.round(heardAt(timeline.holds, seconds) * rate);
  const frames = frameOf(timeline.end) + Math.ceil(TAIL * rate);
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  let next = 0;
  for (let at = 0; at < frames; ) {
    while (next < timeline.seconds.length && frameOf(timeline.seconds[next]!) <= at)
      send(synth, timeline, next++);
    const until = next < timeline.seconds.length ? frameOf(timeline.seconds[next]!) : frames;
    const count = Math.min(BLOCK, frames - at, Math.max(1, until - at));
    synth.process(left, right, at, count);
    at += count;
    if (at % (BLOCK * 64) < count) yield at / frames;
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

/** A 16-bit stereo WAV file. */
export const wavOf = (channels: readonly [Float32Array, Float32Array], rate: number): Uint8Array =>
  new Uint8Array(audioToWav([...channels], rate, { normalizeAudio: false }));
