import { WaveFile } from 'wavefile';
import { LONGEST_HEARD, mixed, type Sound, tooLong } from '../../recording/sound';
import { BadSourceError } from '../refused';

/** Less cannot carry a melody. */
const FEWEST = 4_000;

const tag = (bytes: Uint8Array, at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));

/** Whether bytes are a WAV file by what they begin with (RIFF, or its kin for large files and other byte orders). */
export const isWav = (bytes: Uint8Array): boolean =>
  /^(RIFF|RIFX|RF64)$/.test(tag(bytes, 0)) && tag(bytes, 8) === 'WAVE';

/**
 * Reads a WAV file of any depth and rate as one channel.
 * @throws BadSourceError with a sentence for people
 */
export function readWav(bytes: Uint8Array): Sound {
  let channels: Float32Array[];
  let rate: number;
  try {
    const file = new WaveFile(bytes);
    const form = file.fmt as { sampleRate: number; byteRate: number };
    rate = form.sampleRate;
    const seconds = bytes.length / form.byteRate;
    if (seconds > LONGEST_HEARD) throw new BadSourceError(tooLong(seconds));
    file.toBitDepth('32f');
    const samples = file.getSamples(false, Float32Array) as unknown as Float32Array | Float32Array[];
    channels = Array.isArray(samples) ? samples : [samples];
  } catch (error) {
    if (error instanceof BadSourceError) throw error;
    throw new BadSourceError('This WAV file is damaged, or of a kind that cannot be read.');
  }
  const length = channels[0]?.length ?? 0;
  if (length === 0) throw new BadSourceError('There is no sound in this WAV file.');
  if (!(rate >= FEWEST))
    throw new BadSourceError(`This WAV file has ${rate} samples a second: too few for pitches.`);
  return mixed(channels, rate);
}
