import { database } from './database';
import { withRoom } from './room';
import { checkRecordingRow, type RecordingRow } from './rows';

/** A job has at most so many; a hundred parts and their rooms are fewer. */
export const MOST_STEMS = 400;

const { compare: collate } = new Intl.Collator('en', { numeric: true });

/** The sound files beside a job that are whole, in the order of their names. */
export async function findStems(jobId: string): Promise<RecordingRow[]> {
  const rows = await database.stems.where('jobId').equals(jobId).toArray();
  return rows
    .flatMap((row) => checkRecordingRow(row) ?? [])
    .sort((one, other) => collate(one.name, other.name));
}

/**
 * Keeps sound files beside a job, all or none; a file that is called as one that is there takes its place, and what
 * was decided about that holds for it.
 * @throws StorageFullError when the browser has no room for them
 */
export const keepStems = (jobId: string, rows: readonly RecordingRow[]): Promise<void> =>
  withRoom(() =>
    database.transaction('rw', database.jobs, database.stems, async () => {
      const known = await database.jobs.update(jobId, { changedAt: Date.now() });
      if (known === 0) throw new Error('This job is no longer in this browser.');
      await database.stems.bulkPut(rows.map((row) => ({ ...row, jobId, name: row.name.slice(0, 300) })));
      if ((await database.stems.where('jobId').equals(jobId).count()) > MOST_STEMS)
        throw new Error(`A job has at most ${MOST_STEMS} stems.`);
    }),
  );

/** Takes sound files out of a job. */
export const dropStems = (jobId: string, names: readonly string[]): Promise<void> =>
  withRoom(() => database.stems.bulkDelete(names.map((name): [string, string] => [jobId, name])));
