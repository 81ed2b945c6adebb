import { WaveFile } from 'wavefile';
import type { Sound } from '../../recording/sound';
import { mixed } from '../../recording/sound';
import { BadSourceError } from '../refused';

/** Pitches lie far below half of this many samples a second. */
const ENOUGH = 16_000;
/** Less cannot carry a melody. */
const FEWEST = 4_000;
/** Longer recordings are for cutting first; seconds. */
const LONGEST = 20 * 60;

const tag = (bytes: Uint8Array, at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));

/** Whether bytes are a WAV file by what they begin with (RIFF, or its kin for large files and other byte orders). */
export const isWav = (bytes: Uint8Array): boolean =>
  /^(RIFF|RIFX|RF64)$/.test(tag(bytes, 0)) && tag(bytes, 8) === 'WAVE';

/**
 * Reads a WAV file of any depth as one channel, with fewer samples a second where it has more than pitches need.
 * @throws BadSourceError with a sentence for people
 */
export function readWav(bytes: Uint8Array): Sound {
  let channels: Float32Array[];
  let rate: number;
  try {
    const file = new WaveFile(bytes);
    rate = (file.fmt as { sampleRate: number }).sampleRate;
    file.toBitDepth('32f');
    const samples = file.getSamples(false, Float32Array) as unknown as Float32Array | Float32Array[];
    channels = Array.isArray(samples) ? samples : [samples];
  } catch {
    throw new BadSourceError('This WAV file is damaged, or of a kind that cannot be read.');
  }
  const length = channels[0]?.length ?? 0;
  if (length === 0) throw new BadSourceError('There is no sound in this WAV file.');
  if (!(rate >= FEWEST))
    throw new BadSourceError(`This WAV file has ${rate} samples a second: too few for pitches.`);
  if (length / rate > LONGEST)
    throw new BadSourceError(
      `This recording lasts ${Math.round(length / rate / 60)} minutes: cut it to ${LONGEST / 60} or less.`,
    );
  return thinned(mixed(channels, rate));
}

/** Every so many samples as their mean, so that enough are left. */
function thinned({ samples, rate }: Sound): Sound {
  const by = Math.floor(rate / ENOUGH);
  if (by < 2) return { samples, rate };
  const fewer = new Float32Array(Math.floor(samples.length / by));
  for (let at = 0; at < fewer.length; at++) {
    let sum = 0;
    for (let of = 0; of < by; of++) sum += samples[at * by + of]!;
    fewer[at] = sum / by;
  }
  return { samples: fewer, rate: rate / by };
}
