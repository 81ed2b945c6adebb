import type { StrandId } from '../core/model/ids';
import 'fake-indexeddb/auto';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { withDirectives } from '../core/decisions/decisions';
import { database } from './database';
import {
  addJob,
  changeBrief,
  deleteJobs,
  duplicateJob,
  findHistory,
  findJob,
  findSource,
  listJobs,
  redo,
  renameJob,
  StorageFullError,
  undo,
} from './jobs';

const job = {
  title: 'Cue 4',
  sourceName: 'cue.mid',
  bytes: Uint8Array.from([1, 2, 3]),
  strands: 2,
  notes: 40,
};
const named = (name: string) =>
  changeBrief('a', (brief) => withDirectives(brief, [{ kind: 'name', strand: '1/t1c1', name }]));
const nameNow = async () =>
  (await findHistory('a'))!.brief.directives.map((each) => (each.kind === 'name' ? each.name : ''));

afterEach(async () => {
  vi.restoreAllMocks();
  await Promise.all([database.jobs.clear(), database.sources.clear(), database.histories.clear()]);
});

describe('jobs', () => {
  it('are kept with their source byte for byte', async () => {
    const id = await addJob(job);
    expect(await findJob(id)).toMatchObject({ title: 'Cue 4', sourceBytes: 3 });
    expect((await findSource(id))!.bytes).toEqual(job.bytes);
    expect((await findHistory(id))!).toEqual({
      brief: { format: 'dragoman-brief', version: 1, directives: [] },
      canUndo: false,
      canRedo: false,
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
    expect(await findSource('a')).toBeUndefined();
    expect(await findHistory('a')).toBeNull();
    expect((await findSource(copy))!.bytes).toEqual(job.bytes);
  });

  it('are added whole or not at all', async () => {
    await addJob(job, 'a');
    await expect(addJob(job, 'a')).rejects.toThrow();
    expect(await database.sources.count()).toBe(1);
    expect(await database.histories.count()).toBe(1);
  });

  it('say so when the browser is full', async () => {
    const full = Object.assign(new Error('full'), { name: 'QuotaExceededError' });
    vi.spyOn(database.sources, 'add').mockRejectedValue(full);
    await expect(addJob(job, 'a')).rejects.toThrow(StorageFullError);
    expect(await database.jobs.count()).toBe(0);
  });
});

describe('decisions', () => {
  it('go back and forth', async () => {
    await addJob(job, 'a');
    await named('Oboe');
    await named('Flute');
    await undo('a');
    expect(await nameNow()).toEqual(['Oboe']);
    await undo('a');
    await undo('a');
    expect(await nameNow()).toEqual([]);
    await redo('a');
    await redo('a');
    await redo('a');
    expect(await nameNow()).toEqual(['Flute']);
  });

  it('a new one after an undo ends the way forward', async () => {
    await addJob(job, 'a');
    await named('Oboe');
    await undo('a');
    await named('Harp');
    expect(await findHistory('a')).toMatchObject({ canUndo: true, canRedo: false });
  });

  it('taken at once from two sides are both kept', async () => {
    await addJob(job, 'a');
    const take = (strand: StrandId) =>
      changeBrief('a', (brief) => withDirectives(brief, [{ kind: 'leave-out', strand, out: true }]));
    await Promise.all((['1/t1c1', '1/t2c2', '1/t3c3', '1/t4c4'] as const).map(take));
    expect((await findHistory('a'))!.brief.directives).toHaveLength(4);
  });

  it('that are damaged are set aside, said, and can be gone back on', async () => {
    await addJob(job, 'a');
    await named('Oboe');
    await named('Flute');
    await database.histories.update('a', { present: { format: 'x' } });
    expect(await findHistory('a')).toMatchObject({
      unreadable: 'The brief is not valid: format must be equal to dragoman-brief.',
    });
    await undo('a');
    expect(await nameNow()).toEqual(['Oboe']);
  });
});
