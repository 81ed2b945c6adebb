import 'fake-indexeddb/auto';
import { strToU8, zipSync } from 'fflate';
import { beforeEach, describe, expect, it } from 'vitest';
import { withDirectives } from '../core/decisions/decisions';
import { BadBackupError, packBackup, unpackBackup } from './backup';
import { database } from './database';
import { changeBrief, findHistory, undo } from './history';
import { addJob, addSource, findSources, listJobs } from './jobs';

const clear = () => Promise.all(database.tables.map((table) => table.clear()));
beforeEach(clear);

describe('a backup', () => {
  it('brings back every job with sources, decisions and the way back', async () => {
    const bytes = Uint8Array.from([77, 84, 104, 100]);
    await addJob({ title: 'Cue', sourceName: 'cue.mid', bytes, strands: 1, notes: 1 }, 'a');
    await addJob({ title: 'Other', sourceName: 'o.mid', bytes, strands: 1, notes: 1 }, 'b');
    await addSource('a', { name: 'clock.mid', bytes: Uint8Array.from([9, 9]) }, null);
    for (const title of ['One', 'Two'])
      await changeBrief('a', (brief) => withDirectives(brief, [{ kind: 'title', title }]));
    const packed = await packBackup();
    const before = await Promise.all([listJobs(), findSources('a'), findHistory('a')]);
    await clear();
    expect(await unpackBackup(packed)).toEqual({ added: 2, known: 0 });
    const [jobs, sources, history] = await Promise.all([listJobs(), findSources('a'), findHistory('a')]);
    expect(jobs).toEqual(before[0]);
    expect(sources.map(({ id: _, ...row }) => row)).toEqual(before[1].map(({ id: _, ...row }) => row));
    expect(history).toEqual(before[2]);
    await undo('a');
    expect((await findHistory('a'))!.brief.directives).toEqual([{ kind: 'title', title: 'One' }]);
    expect(await unpackBackup(packed)).toEqual({ added: 0, known: 2 });
  });

  const job = {
    id: 'x',
    title: 'X',
    sourceName: 'x.mid',
    sourceBytes: 1,
    strands: 1,
    notes: 1,
    createdAt: 1,
    changedAt: 1,
  };
  const manifest = (jobs: unknown) =>
    zipSync({ 'jobs.json': strToU8(JSON.stringify({ format: 'dragoman-jobs', version: 1, jobs })) });
  const source = { source: '1', version: 1, name: 'x', addedAt: 1, file: 'sources/x/1-1' };
  it.each([
    ['no zip', Uint8Array.from([1, 2, 3]), 'it is not a zip'],
    ['another zip', zipSync({ 'a.txt': strToU8('a') }), 'it has no jobs.json'],
    ['a list that is no JSON', zipSync({ 'jobs.json': strToU8('{') }), 'cannot be read'],
    ['a list that is none', zipSync({ 'jobs.json': strToU8('[]') }), 'cannot be read'],
    ['a job without a brief', manifest([{ job, sources: [], position: 0, steps: [] }]), 'is not whole'],
    [
      'a source that is missing',
      manifest([{ job, sources: [source], brief: {}, position: 0, steps: [] }]),
      'a source of “X” is missing',
    ],
  ])('that is %s is refused in a sentence, and nothing comes in', async (_, bytes, why) => {
    await expect(unpackBackup(bytes)).rejects.toThrow(BadBackupError);
    await expect(unpackBackup(bytes)).rejects.toThrow(why);
    expect(await listJobs()).toEqual([]);
  });
});
