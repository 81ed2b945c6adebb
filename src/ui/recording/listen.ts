import type { PitchPicture } from '../../core/recording/constant-q';
import { MODEL_RATE } from '../../core/recording/model-form';
import type { LaidAlong } from '../../core/recording/offset';
import { LONGEST_HEARD, tooLong } from '../../core/recording/sound';
import type { Timeline } from '../../core/sound/events';
import { hashOfRecording } from '../../store/recordings';
import type { RecordingRow } from '../../store/rows';
import { type Listener, proxy, transfer, withListener } from '../../workers/client';
import { unlessStopped } from '../common/unlessStopped';
import { BadRecordingError, decoded, isShort, MOST_BYTES, secondsOf } from './decode';

type Outline = NonNullable<RecordingRow['heard']>;

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
    hash: await hashOfRecording(file),
    seconds,
    addedAt: Date.now(),
  };
  return { ...row, heard: isShort(seconds) ? await lookThrough(file) : null };
}

/**
 * Does some work with a worker of its own that has opened a recording.
 * @param rate samples a second at which it is opened
 * @param signal stops it, at any moment
 * @throws BadRecordingError when it is damaged; the reason of the signal when it was stopped
 */
const listening = <T>(
  file: Blob,
  work: (listener: Listener, outline: Outline) => Promise<T>,
  { rate, signal }: { rate?: number; signal?: AbortSignal } = {},
): Promise<T> =>
  withListener(async (listener) => {
    const { channels, rate: own } = await decoded(file, rate);
    signal?.throwIfAborted();
    const buffers = channels.map((channel) => channel.buffer as ArrayBuffer);
    return work(listener, await listener.open(transfer(channels, buffers), own));
  }, signal);

/**
 * What there is to say and to draw of a recording.
 * @throws BadRecordingError when it is damaged
 */
export const lookThrough = (file: Blob): Promise<Outline> => listening(file, async (_, outline) => outline);

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
  const hearing = listening(
    file,
    async (listener, heard): Promise<HeardFile> => {
      const bytes = await listener.hear(proxy(onProgress));
      if (!(bytes instanceof Uint8Array)) throw new BadRecordingError(bytes.refused);
      const kept = new Blob([file], { type: file.type });
      const hash = await hashOfRecording(file);
      return { bytes, recording: { name: file.name, file: kept, hash, seconds, heard, addedAt: Date.now() } };
    },
    { rate: MODEL_RATE, signal },
  );
  return unlessStopped(signal, hearing);
}

/**
 * A recording by pitch.
 * @throws BadRecordingError when it is damaged
 */
export const pictureFrom = (file: Blob): Promise<PitchPicture> =>
  listening(file, (listener) => listener.picture());

/**
 * Lays a recording along the piece.
 * @param signal stops it, which comes to null
 * @returns also null where nothing begins in one of them
 * @throws BadRecordingError when it is damaged
 */
export const layRecording = (
  file: Blob,
  timeline: Timeline,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<LaidAlong | null> =>
  unlessStopped(
    signal,
    listening(file, (listener) => listener.layAlong(timeline, proxy(onProgress)), { signal }),
  );
