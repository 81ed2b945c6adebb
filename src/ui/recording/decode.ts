/** The rate at which a recording is looked through: what matters for its outline and its onsets lies below half of it. */
const RATE = 16_000;
/** Decoding takes eleven megabytes a minute at least: what is longer is played from its file, and not looked through. */
const LONGEST = 45 * 60;
/** More than this no browser keeps gladly; bytes. */
export const MOST_BYTES = 1_000_000_000;

/** Thrown for a file that is no recording; the message is one sentence for people. */
export class BadRecordingError extends Error {
  override name = 'BadRecordingError';
}

export const NO_RECORDING = 'This is no recording that the browser can play.';

/**
 * How long a recording is, in seconds.
 * @throws BadRecordingError when the browser cannot play it
 */
export async function secondsOf(file: Blob): Promise<number> {
  const audio = new Audio();
  const url = URL.createObjectURL(file);
  try {
    await new Promise<void>((resolve, reject) => {
      audio.preload = 'metadata';
      audio.onloadedmetadata = () => resolve();
      audio.onerror = () => reject(new BadRecordingError(NO_RECORDING));
      audio.src = url;
    });
    if (Number.isFinite(audio.duration)) return audio.duration;
    // Streams that were kept as files do not say how long they are until they are asked for their end.
    await new Promise<void>((resolve) => {
      audio.ondurationchange = () => Number.isFinite(audio.duration) && resolve();
      audio.currentTime = 1e7;
    });
    return audio.duration;
  } finally {
    audio.removeAttribute('src');
    URL.revokeObjectURL(url);
  }
}

/** Whether a recording of so many seconds is short enough to be looked through. */
export const isShort = (seconds: number): boolean => seconds <= LONGEST;

/**
 * The channels of a recording, to be looked through.
 * @param wanted samples a second
 * @throws BadRecordingError when it is damaged
 */
export async function decoded(
  file: Blob,
  wanted = RATE,
): Promise<{ channels: Float32Array[]; rate: number }> {
  const context = new OfflineAudioContext(1, 1, wanted);
  let buffer: AudioBuffer;
  try {
    buffer = await context.decodeAudioData(await file.arrayBuffer());
  } catch {
    throw new BadRecordingError('This recording is damaged and cannot be read through.');
  }
  if (buffer.length === 0) throw new BadRecordingError('There is no sound in this recording.');
  const channels = Array.from({ length: buffer.numberOfChannels }, (_, at) =>
    buffer.getChannelData(at).slice(),
  );
  return { channels, rate: buffer.sampleRate };
}
