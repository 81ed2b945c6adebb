import { database } from './database';
import { withRoom } from './room';
import { checkRecordingRow, type RecordingRow } from './rows';

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
