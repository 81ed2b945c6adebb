/** Sound as one channel of samples, −1 to 1 where nothing is clipped. */
export interface Sound {
  samples: Float32Array;
  /** Samples a second. */
  rate: number;
  /** Samples that were no numbers, or beyond all measure: there is silence in their place. */
  lost?: number;
}

/** Nothing that sounds is so far beyond the ceiling. */
const FARTHEST = 1000;
const isSample = (value: number): boolean => Math.abs(value) <= FARTHEST;

/** Several channels as one: their average, sample by sample; what is no sample is silent, and counted. Channels may not differ in length. */
export function mixed(channels: readonly Float32Array[], rate: number): Sound {
  const [first] = channels;
  if (!first) throw new RangeError('A sound has at least one channel.');
  const lost = channels.reduce((sum, channel) => {
    let own = 0;
    for (const value of channel) if (!isSample(value)) own++;
    return sum + own;
  }, 0);
  if (channels.length === 1 && lost === 0) return { samples: first, rate };
  const samples = new Float32Array(first.length);
  for (const channel of channels)
    for (let at = 0; at < samples.length; at++) {
      const value = channel[at]!;
      if (isSample(value)) samples[at]! += value / channels.length;
    }
  return { samples, rate, ...(lost > 0 && { lost }) };
}

/** Longer recordings are for cutting before their notes are heard; seconds. */
export const LONGEST_HEARD = 20 * 60;

/** Says that a recording is too long to have its notes heard. */
export const tooLong = (seconds: number): string =>
  `This recording lasts ${Math.round(seconds / 60)} minutes: cut it to ${LONGEST_HEARD / 60} or less to have its notes heard.`;
