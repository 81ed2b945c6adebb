import { isSame } from '../core/basics/same';
import { EMPTY_BRIEF } from '../core/decisions/brief';
import { withDirectives } from '../core/decisions/decisions';
import { FIRST_SOURCE, type SourceId } from '../core/model/ids';
import { database } from './database';
import { withRoom } from './room';
import {
  checkJobRow,
  isSourceRow,
  type JobRow,
  type JobState,
  type RecordingRow,
  type SourceEntry,
  type SourceRow,
} from './rows';
import { dropAllUnkept } from './unkept';

export interface NewJob {
  title: string;
  sourceName: string;
  bytes: Uint8Array;
  strands: number;
  notes: number;
  /** What the source was heard in, where it is a recording; the piece begins where that does. */
  recording?: Omit<RecordingRow, 'jobId'>;
}

/** SHA-256 in hexadecimal digits. */
export async function hashOf(bytes: Uint8Array): Promise<string> {
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes.slice()));
  return [...digest].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}

/** Adds a job with its source, whole or not at all. @returns its id */
export async function addJob(job: NewJob, id: string = crypto.randomUUID()): Promise<string> {
  const now = Date.now();
  const hash = await hashOf(job.bytes);
  await withRoom(() =>
    database.transaction(
      'rw',
      [database.jobs, database.sources, database.briefs, database.recordings],
      async () => {
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
          source: FIRST_SOURCE,
          version: 1,
          name: job.sourceName,
          bytes: job.bytes,
          hash,
          addedAt: now,
        });
        const brief = job.recording
          ? withDirectives(EMPTY_BRIEF, [{ kind: 'reference', offset: 0 }])
          : EMPTY_BRIEF;
        await database.briefs.add({ jobId: id, brief, position: 0 });
        if (job.recording)
          await database.recordings.add({
            ...job.recording,
            jobId: id,
            name: job.recording.name.slice(0, 300),
          });
      },
    ),
  );
  return id;
}

/** All readable jobs, the last changed first. @throws NoStorageError when the browser keeps nothing */
export async function listJobs(): Promise<JobRow[]> {
  const rows = await withRoom(() => database.jobs.orderBy('changedAt').reverse().toArray());
  return rows.map(checkJobRow).filter((row) => row !== null);
}

export const findJob = async (id: string): Promise<JobRow | null> => checkJobRow(await database.jobs.get(id));

/** A kept source whose bytes are not those that came, or that cannot be read at all. */
export interface DamagedSource {
  /** Of its row. */
  id: string;
  source: SourceId;
  version: number;
  name: string;
  /** SHA-256 of the bytes that came; empty where that is not known either. */
  hash: string;
  /** What is left of its bytes, where anything is. */
  bytes: Uint8Array | null;
}

const inOrder = (a: { source: string; version: number }, b: { source: string; version: number }) =>
  Number(a.source) - Number(b.source) || a.version - b.version;

/**
 * All versions of all sources of a job, in order of arrival, each compared with what came: bytes that are other
 * bytes now are told apart.
 */
export async function findSources(
  jobId: string,
): Promise<{ sources: SourceRow[]; damaged: DamagedSource[] }> {
  const rows = await withRoom(() => database.sources.where('jobId').equals(jobId).toArray());
  const looked = await Promise.all(
    rows.map(async (row) => {
      const own = row.bytes instanceof Uint8Array ? await hashOf(row.bytes) : null;
      // What came before hashes were kept has its own from now on.
      const known = { ...row, hash: row.hash || (own ?? '') };
      if (own !== null && !row.hash) await database.sources.update(row.id, { hash: own });
      return { row: known, isWhole: own === known.hash && isSourceRow(known) };
    }),
  );
  return {
    sources: looked
      .filter(({ isWhole }) => isWhole)
      .map(({ row }) => row)
      .sort(inOrder),
    damaged: looked
      .filter(({ isWhole }) => !isWhole)
      .map(({ row }) => damagedOf(row))
      .sort(inOrder),
  };
}

function damagedOf({ id, source, version, name, hash, bytes }: Partial<SourceRow>): DamagedSource {
  return {
    id: String(id),
    source: /^[1-9]\d{0,3}$/.test(String(source)) ? (source as SourceId) : FIRST_SOURCE,
    version: Number.isInteger(version) && Number(version) > 0 ? Number(version) : 1,
    name: typeof name === 'string' ? name : '',
    hash: typeof hash === 'string' ? hash : '',
    bytes: bytes instanceof Uint8Array ? bytes : null,
  };
}

/** The sources of a job without their bytes, for lists. */
export const listSources = async (jobId: string): Promise<SourceEntry[]> =>
  (await database.sources.where('jobId').equals(jobId).toArray())
    .filter(isSourceRow)
    .sort(inOrder)
    .map(({ bytes, ...others }) => ({ ...others, size: bytes.length }));

/** Puts the bytes that came back in the place of those that are damaged. */
export const mendSource = (id: string, bytes: Uint8Array, hash: string): Promise<void> =>
  withRoom(async () => {
    await database.sources.update(id, { bytes, hash });
  });

/**
 * Adds a file to a job: as another source of it, or as the next version of one.
 * @returns the number of the source and its version
 */
export async function addSource(
  jobId: string,
  file: { name: string; bytes: Uint8Array },
  versionOf: SourceId | null,
): Promise<{ source: SourceId; version: number }> {
  const hash = await hashOf(file.bytes);
  return withRoom(() =>
    database.transaction('rw', database.jobs, database.sources, async () => {
      const rows = await database.sources.where('jobId').equals(jobId).toArray();
      if (rows.length === 0) throw new Error('This job is no longer in this browser.');
      const highest = Math.max(...rows.map(({ source }) => Number(source)));
      const source: SourceId = versionOf ?? `${highest + 1}`;
      const version =
        1 + Math.max(0, ...rows.filter((row) => row.source === source).map((row) => row.version));
      await database.sources.add({
        id: crypto.randomUUID(),
        jobId,
        source,
        version,
        name: file.name.slice(0, 300),
        bytes: file.bytes,
        hash,
        addedAt: Date.now(),
      });
      await database.jobs.update(jobId, { changedAt: Date.now(), state: undefined });
      return { source, version };
    }),
  );
}

export async function deleteJobs(ids: readonly string[]): Promise<void> {
  const { jobs, sources, briefs, steps, results, pictures, recordings, stems, settings } = database;
  await withRoom(() =>
    database.transaction(
      'rw',
      [jobs, sources, briefs, steps, results, pictures, recordings, stems, settings],
      async () => {
        await jobs.bulkDelete([...ids]);
        await briefs.bulkDelete([...ids]);
        await results.bulkDelete([...ids]);
        // They do not say whose they are; those of other jobs are made anew.
        await pictures.clear();
        await recordings.bulkDelete([...ids]);
        await stems.where('jobId').anyOf(ids).delete();
        await sources.where('jobId').anyOf(ids).delete();
        await steps.where('jobId').anyOf(ids).delete();
        await settings.bulkDelete(ids.map((id) => `hearing ${id}`));
      },
    ),
  );
  for (const id of ids) dropAllUnkept(id);
}

/** A copy of a job with its sources, decisions and their history. @returns the copy's id */
export async function duplicateJob(id: string): Promise<string> {
  const copy = crypto.randomUUID();
  const { jobs, sources, briefs, steps, recordings, stems } = database;
  await withRoom(() =>
    database.transaction('rw', [jobs, sources, briefs, steps, recordings, stems], async () => {
      const job = await jobs.get(id);
      const brief = await briefs.get(id);
      if (!job || !brief) throw new Error('This job is no longer in this browser.');
      const now = Date.now();
      await jobs.add({ ...job, id: copy, title: `${job.title} (copy)`, createdAt: now, changedAt: now });
      await briefs.add({ ...brief, jobId: copy });
      for (const row of await stems.where('jobId').equals(id).toArray())
        await stems.add({ ...row, jobId: copy });
      for (const row of await sources.where('jobId').equals(id).toArray())
        await sources.add({ ...row, id: crypto.randomUUID(), jobId: copy });
      const own = await steps.where('jobId').equals(id).toArray();
      await steps.bulkAdd(own.map((step) => ({ ...step, jobId: copy })));
      const recording = await recordings.get(id);
      if (recording) await recordings.add({ ...recording, jobId: copy });
    }),
  );
  return copy;
}

/**
 * Keeps how a job stands, unless something was decided meanwhile.
 * @param position steps that the decisions hold of which it is told
 */
export const noteState = (id: string, position: number, state: JobState): Promise<void> =>
  database.transaction('rw', database.jobs, database.briefs, async () => {
    const row = await database.briefs.get(id);
    const known = (await database.jobs.get(id))?.state;
    if (row?.position === position && !isSame({ ...known }, state))
      await database.jobs.update(id, { state: { ...state } });
  });

/** Renames a job in the list. */
export const renameJob = (id: string, title: string): Promise<void> =>
  withRoom(async () => {
    await database.jobs.update(id, { title: title.slice(0, 300), changedAt: Date.now() });
  });

export const readSetting = async (name: string): Promise<string | undefined> =>
  (await database.settings.get(name))?.value;

export const writeSetting = (name: string, value: string): Promise<void> =>
  withRoom(async () => {
    await database.settings.put({ name, value });
  });
