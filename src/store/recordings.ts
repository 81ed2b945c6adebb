import { database } from './database';
import { hashOf } from './jobs';
import { withRoom } from './room';
import { checkRecordingRow, type RecordingRow } from './rows';

/** A longer recording is not read into memory to be compared, in bytes. */
const MOST_COMPARED = 256 * 2 ** 20;

/** What a recording is known by, as `RecordingRow.hash`. */
export const hashOfRecording = async (file: Blob): Promise<string> =>
  file.size > MOST_COMPARED ? '' : hashOf(new Uint8Array(await file.arrayBuffer()));

/**
 * The bytes of a recording, as they leave the house.
 * @throws Error where they are not those that came
 */
export async function bytesOfRecording({ name, file, hash }: RecordingRow): Promise<Uint8Array> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  if (hash && hash !== (await hashOf(bytes)))
    throw new Error(
      `The recording ${name} is damaged: what this browser kept is no longer the file that you attached.`,
    );
  return bytes;
}

/** The listening reference of a job, where it has one. */
export const findRecording = async (jobId: string): Promise<RecordingRow | null> =>
  checkRecordingRow(await database.recordings.get(jobId));

/**
 * Keeps a recording as the listening reference of a job, in the place of any other.
 * @throws StorageFullError when the browser has no room for it; the one before stays then
 */
export const keepRecording = (row: RecordingRow): Promise<void> =>
  withRoom(() =>
    database.transaction('rw', database.jobs, database.recordings, async () => {
      const known = await database.jobs.update(row.jobId, { changedAt: Date.now() });
      if (known === 0) throw new Error('This job is no longer in this browser.');
      await database.recordings.put({ ...row, name: row.name.slice(0, 300) });
    }),
  );

/** A job without listening reference. */
export const dropRecording = (jobId: string): Promise<void> =>
  withRoom(() => database.recordings.delete(jobId));
