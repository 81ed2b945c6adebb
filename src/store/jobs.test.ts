import 'fake-indexeddb/auto';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { withDirectives } from '../core/decisions/decisions';
import { database } from './database';
import { changeBrief, findHistory } from './history';
import {
  addJob,
  addSource,
  deleteJobs,
  duplicateJob,
  findJob,
  findSources,
  listJobs,
  listSources,
  renameJob,
} from './jobs';
import { NoStorageError, StorageFullError } from './room';

const job = {
  title: 'Cue 4',
  sourceName: 'cue.mid',
  bytes: Uint8Array.from([1, 2, 3]),
  strands: 2,
  notes: 40,
};
const named = (name: string) =>
  changeBrief('a', (brief) => withDirectives(brief, [{ kind: 'name', strand: '1/t1c1', name }]));

afterEach(async () => {
  vi.restoreAllMocks();
  await Promise.all([
    database.jobs.clear(),
    database.sources.clear(),
    database.briefs.clear(),
    database.steps.clear(),
  ]);
});

describe('jobs', () => {
  it('are kept with their source byte for byte', async () => {
    const id = await addJob(job);
    expect(await findJob(id)).toMatchObject({ title: 'Cue 4', sourceBytes: 3 });
    const {
      sources: [source],
    } = await findSources(id);
    expect(source).toMatchObject({ source: '1', version: 1, bytes: job.bytes });
    expect(source!.hash).toBe('039058c6f2c0cb492c533b0a4d14ef77cc0f78abccced5287d84a1a2011cfb81');
    expect((await findHistory(id))!).toEqual({
      brief: { format: 'dragoman-brief', version: 2, directives: [] },
      position: 0,
      steps: 0,
      canUndo: false,
      canRedo: false,
      refused: [],
    });
  });

  it('are listed with the last changed first, damaged rows left out', async () => {
    await addJob(job, 'a');
    await addJob({ ...job, title: 'Cue 5' }, 'b');
    await database.jobs.update('a', { changedAt: Date.now() + 1000 });
    await database.jobs.put({ id: 'c', title: 7 } as never);
    expect((await listJobs()).map((row) => row.id)).toEqual(['a', 'b']);
    expect(await findJob('c')).toBeNull();
  });

  it('are renamed, duplicated with everything, and deleted with everything', async () => {
    await addJob(job, 'a');
    await named('Oboe');
    await renameJob('a', 'Cue 4 new');
    const copy = await duplicateJob('a');
    expect((await findJob(copy))!.title).toBe('Cue 4 new (copy)');
    expect((await findHistory(copy))!.canUndo).toBe(true);
    await deleteJobs(['a']);
    expect(await findJob('a')).toBeNull();
    expect(await findSources('a')).toEqual({ sources: [], damaged: [] });
    expect(await database.steps.where('jobId').equals('a').count()).toBe(0);
    expect(await findHistory('a')).toBeNull();
    expect((await findSources(copy)).sources[0]!.bytes).toEqual(job.bytes);
  });

  it('are added whole or not at all', async () => {
    await addJob(job, 'a');
    await expect(addJob(job, 'a')).rejects.toThrow();
    expect(await database.sources.count()).toBe(1);
    expect(await database.briefs.count()).toBe(1);
  });

  it('say so when the browser is full', async () => {
    const full = Object.assign(new Error('full'), { name: 'QuotaExceededError' });
    vi.spyOn(database.sources, 'add').mockRejectedValue(full);
    await expect(addJob(job, 'a')).rejects.toThrow(StorageFullError);
    expect(await database.jobs.count()).toBe(0);
  });

  it('say so when a new name cannot be kept', async () => {
    await addJob(job, 'a');
    vi.spyOn(database.jobs, 'update').mockRejectedValue(
      Object.assign(new Error('x'), { name: 'QuotaExceededError' }),
    );
    await expect(renameJob('a', 'New')).rejects.toThrow(StorageFullError);
  });

  it('say so when the browser keeps nothing', async () => {
    vi.spyOn(database.jobs, 'orderBy').mockImplementation(() => {
      throw Object.assign(new Error('x'), { name: 'OpenFailedError' });
    });
    await expect(listJobs()).rejects.toThrow(NoStorageError);
  });
});

describe('sources', () => {
  it('are numbered as they come, and versions of one follow each other', async () => {
    await addJob(job, 'a');
    const file = (name: string) => ({ name, bytes: new TextEncoder().encode(name) });
    expect(await addSource('a', file('clock.mid'), null)).toEqual({ source: '2', version: 1 });
    expect(await addSource('a', file('cue v2.mid'), '1')).toEqual({ source: '1', version: 2 });
    expect(await addSource('a', file('strings.mid'), null)).toEqual({ source: '3', version: 1 });
    expect((await listSources('a')).map(({ source, version, name }) => [source, version, name])).toEqual([
      ['1', 1, 'cue.mid'],
      ['1', 2, 'cue v2.mid'],
      ['2', 1, 'clock.mid'],
      ['3', 1, 'strings.mid'],
    ]);
    await expect(addSource('gone', file('x'), null)).rejects.toThrow(
      'This job is no longer in this browser.',
    );
  });

  it('that are damaged are passed over', async () => {
    await addJob(job, 'a');
    await database.sources.add({ id: 'x', jobId: 'a', source: '2', version: 0 } as never);
    expect((await findSources('a')).sources).toHaveLength(1);
  });
});
