import type { PitchPicture } from '../../core/recording/constant-q';
import { MODEL_RATE } from '../../core/recording/model-form';
import type { LaidAlong } from '../../core/recording/offset';
import { LONGEST_HEARD, tooLong } from '../../core/recording/sound';
import type { Timeline } from '../../core/sound/events';
import type { RecordingRow } from '../../store/rows';
import { proxy, startListening, transfer } from '../../workers/client';
import { BadRecordingError, decoded, isShort, MOST_BYTES, secondsOf } from './decode';

/**
 * Takes a file as a recording, as it is kept.
 * @throws BadRecordingError that says why it is none
 */
export async function takeRecording(jobId: string, file: File): Promise<RecordingRow> {
  if (file.size > MOST_BYTES)
    throw new BadRecordingError('This recording is larger than 1 GB: attach an MP3 or OGG of it.');
  const seconds = await secondsOf(file);
  const row = {
    jobId,
    name: file.name,
    file: new Blob([file], { type: file.type }),
    seconds,
    addedAt: Date.now(),
  };
  return { ...row, heard: isShort(seconds) ? await lookThrough(file) : null };
}

/**
 * What there is to say and to draw of a recording.
 * @throws BadRecordingError when it is damaged
 */
export async function lookThrough(file: Blob): Promise<NonNullable<RecordingRow['heard']>> {
  const { listener, stop } = startListening();
  try {
    const { channels, rate } = await decoded(file);
    return await listener.open(transfer(channels, buffersOf(channels)), rate);
  } finally {
    stop();
  }
}

/** What was heard in a recording, and the recording as it is kept. */
export interface HeardFile {
  /** The document that is the source. */
  bytes: Uint8Array;
  recording: Omit<RecordingRow, 'jobId'>;
}

/**
 * Hears the notes of a recording.
 * @param signal stops it, which comes to null
 * @throws BadRecordingError that says why nothing was heard
 */
export async function hearNotes(
  file: File,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<HeardFile | null> {
  if (file.size > MOST_BYTES)
    throw new BadRecordingError('This recording is larger than 1 GB: cut out of it what is to be heard.');
  const seconds = await secondsOf(file);
  if (seconds > LONGEST_HEARD)
    throw new BadRecordingError(`${tooLong(seconds)} As it is, it can be attached to a job.`);
  const { channels, rate } = await decoded(file, MODEL_RATE);
  if (signal.aborted) return null;
  const { listener, stop } = startListening();
  const stopped = new Promise<null>((resolve) => {
    signal.addEventListener('abort', () => resolve(null));
  });
  try {
    const work = async (): Promise<HeardFile> => {
      const heard = await listener.open(transfer(channels, buffersOf(channels)), rate);
      const bytes = await listener.hear(proxy(onProgress));
      if (!(bytes instanceof Uint8Array)) throw new BadRecordingError(bytes.refused);
      const kept = new Blob([file], { type: file.type });
      return { bytes, recording: { name: file.name, file: kept, seconds, heard, addedAt: Date.now() } };
    };
    return await Promise.race([work(), stopped]);
  } finally {
    stop();
  }
}

/**
 * A recording by pitch.
 * @throws BadRecordingError when it is damaged
 */
export async function pictureFrom(file: Blob): Promise<PitchPicture> {
  const { channels, rate } = await decoded(file);
  const { listener, stop } = startListening();
  try {
    await listener.open(transfer(channels, buffersOf(channels)), rate);
    return await listener.picture();
  } finally {
    stop();
  }
}

const buffersOf = (channels: readonly Float32Array[]): Transferable[] =>
  channels.map((channel) => channel.buffer as ArrayBuffer);

/**
 * Lays a recording along the piece.
 * @param signal stops it, which comes to null
 * @returns also null where nothing begins in one of them
 */
export async function layRecording(
  file: Blob,
  timeline: Timeline,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<LaidAlong | null> {
  const { channels, rate } = await decoded(file);
  if (signal.aborted) return null;
  const { listener, stop } = startListening();
  const stopped = new Promise<null>((resolve) => {
    signal.addEventListener('abort', () => resolve(null));
  });
  try {
    const work = async () => {
      await listener.open(transfer(channels, buffersOf(channels)), rate);
      return listener.layAlong(timeline, proxy(onProgress));
    };
    return await Promise.race([work(), stopped]);
  } finally {
    stop();
  }
}
