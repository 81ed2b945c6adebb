/** Sound as one channel of samples, −1 to 1 where nothing is clipped. */
export interface Sound {
  samples: Float32Array;
  /** Samples a second. */
  rate: number;
}

/** Several channels as one: their average, sample by sample. Channels may not differ in length. */
export function mixed(channels: readonly Float32Array[], rate: number): Sound {
  const [first] = channels;
  if (!first) throw new RangeError('A sound has at least one channel.');
  if (channels.length === 1) return { samples: first, rate };
  const samples = new Float32Array(first.length);
  for (const channel of channels)
    for (let at = 0; at < samples.length; at++) samples[at]! += channel[at]! / channels.length;
  return { samples, rate };
}

/** Longer recordings are for cutting before their notes are heard; seconds. */
export const LONGEST_HEARD = 20 * 60;

/** Says that a recording is too long to have its notes heard. */
export const tooLong = (seconds: number): string =>
  `This recording lasts ${Math.round(seconds / 60)} minutes: cut it to ${LONGEST_HEARD / 60} or less to have its notes heard.`;
