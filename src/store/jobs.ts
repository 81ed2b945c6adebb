import { BadBriefError, type Brief, EMPTY_BRIEF, parseBrief } from '../core/decisions/brief';
import { database } from './database';
import { checkJobRow, type HistoryRow, type JobRow, type SourceRow } from './rows';

/** Steps of undo that are kept. */
const MAX_PAST = 200;

/** Thrown when the browser has no room left; the message is for people. */
export class StorageFullError extends Error {
  override name = 'StorageFullError';
  constructor() {
    super('The browser has no room left. Delete jobs that you no longer need, then try again.');
  }
}

/** Runs a change of the database. @throws StorageFullError when the browser has no room for it */
export async function withRoom<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    const names = [error, (error as { inner?: unknown }).inner].map(
      (each) => (each as Error | undefined)?.name,
    );
    if (names.includes('QuotaExceededError')) throw new StorageFullError();
    throw error;
  }
}

export interface NewJob {
  title: string;
  sourceName: string;
  bytes: Uint8Array;
  strands: number;
  notes: number;
}

/** Adds a job with its source, whole or not at all. @returns its id */
export async function addJob(job: NewJob, id: string = crypto.randomUUID()): Promise<string> {
  const now = Date.now();
  await withRoom(() =>
    database.transaction('rw', database.jobs, database.sources, database.histories, async () => {
      await database.jobs.add({
        id,
        title: job.title.slice(0, 300),
        sourceName: job.sourceName.slice(0, 300),
        sourceBytes: job.bytes.length,
        strands: job.strands,
        notes: job.notes,
        createdAt: now,
        changedAt: now,
      });
      await database.sources.add({
        id: crypto.randomUUID(),
        jobId: id,
        name: job.sourceName,
        bytes: job.bytes,
      });
      await database.histories.add({ jobId: id, past: [], present: EMPTY_BRIEF, future: [] });
    }),
  );
  return id;
}

/** All readable jobs, the last changed first. */
export async function listJobs(): Promise<JobRow[]> {
  const rows = await database.jobs.orderBy('changedAt').reverse().toArray();
  return rows.map(checkJobRow).filter((row) => row !== null);
}

export const findJob = async (id: string): Promise<JobRow | null> => checkJobRow(await database.jobs.get(id));

export const findSource = (jobId: string): Promise<SourceRow | undefined> =>
  database.sources.where('jobId').equals(jobId).first();

export async function deleteJobs(ids: readonly string[]): Promise<void> {
  await database.transaction('rw', database.jobs, database.sources, database.histories, async () => {
    await database.jobs.bulkDelete([...ids]);
    await database.histories.bulkDelete([...ids]);
    await database.sources.where('jobId').anyOf(ids).delete();
  });
}

/** A copy of a job with its source and decisions. @returns the copy's id */
export async function duplicateJob(id: string): Promise<string> {
  const copy = crypto.randomUUID();
  await withRoom(() =>
    database.transaction('rw', database.jobs, database.sources, database.histories, async () => {
      const job = await database.jobs.get(id);
      const source = await findSource(id);
      const history = await database.histories.get(id);
      if (!job || !source || !history) return;
      const now = Date.now();
      await database.jobs.add({
        ...job,
        id: copy,
        title: `${job.title} (copy)`,
        createdAt: now,
        changedAt: now,
      });
      await database.sources.add({ ...source, id: crypto.randomUUID(), jobId: copy });
      await database.histories.add({ ...history, jobId: copy });
    }),
  );
  return copy;
}

/** A job's decisions, as the page uses them. `unreadable` says why a damaged brief was set aside. */
export interface History {
  brief: Brief;
  canUndo: boolean;
  canRedo: boolean;
  unreadable?: string;
}

export async function findHistory(jobId: string): Promise<History | null> {
  const row = await database.histories.get(jobId);
  if (!row) return null;
  return { ...readable(row.present), canUndo: row.past.length > 0, canRedo: row.future.length > 0 };
}

/** A stored brief, checked; a damaged one counts as empty and says why. */
function readable(present: unknown): { brief: Brief; unreadable?: string } {
  try {
    return { brief: parseBrief(present) };
  } catch (error) {
    if (!(error instanceof BadBriefError)) throw error;
    return { brief: EMPTY_BRIEF, unreadable: error.message };
  }
}

/** Changes a history in one transaction, so that two tabs never overwrite each other's decisions. */
function changeHistory(jobId: string, change: (row: HistoryRow) => HistoryRow | null): Promise<void> {
  return withRoom(() =>
    database.transaction('rw', database.jobs, database.histories, async () => {
      const row = await database.histories.get(jobId);
      const next = row && change(row);
      if (!next) return;
      await database.histories.put(next);
      await database.jobs.update(jobId, { changedAt: Date.now() });
    }),
  );
}

/** Changes a job's brief as one step of undo. A damaged brief counts as an empty one. */
export const changeBrief = (jobId: string, change: (brief: Brief) => Brief): Promise<void> =>
  changeHistory(jobId, (row) => ({
    jobId,
    past: [...row.past, row.present].slice(-MAX_PAST),
    present: change(readable(row.present).brief),
    future: [],
  }));

export const undo = (jobId: string): Promise<void> =>
  changeHistory(jobId, (row) => {
    const before = row.past.at(-1);
    return before === undefined
      ? null
      : { jobId, past: row.past.slice(0, -1), present: before, future: [row.present, ...row.future] };
  });

export const redo = (jobId: string): Promise<void> =>
  changeHistory(jobId, (row) => {
    const [next, ...future] = row.future;
    return next === undefined ? null : { jobId, past: [...row.past, row.present], present: next, future };
  });

/** Renames a job in the list. */
export const renameJob = async (id: string, title: string): Promise<void> => {
  await database.jobs.update(id, { title: title.slice(0, 300), changedAt: Date.now() });
};

export const readSetting = async (name: string): Promise<string | undefined> =>
  (await database.settings.get(name))?.value;

export const writeSetting = async (name: string, value: string): Promise<void> => {
  await database.settings.put({ name, value });
};
