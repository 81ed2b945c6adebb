import 'fake-indexeddb/auto';
import { strToU8, zipSync } from 'fflate';
import { beforeEach, describe, expect, it } from 'vitest';
import { packZip } from '../core/basics/zip';
import { withDirectives } from '../core/decisions/decisions';
import { BadBackupError, mendFromBackup, packBackup, unpackBackup } from './backup';
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
    const { bytes: packed, ...told } = await packBackup();
    expect(told).toEqual({ jobs: 2, leftOut: [] });
    const before = await Promise.all([listJobs(), findSources('a'), findHistory('a')]);
    await clear();
    expect(await unpackBackup(packed)).toEqual({ added: 2, known: 0, damaged: [] });
    const [jobs, sources, history] = await Promise.all([listJobs(), findSources('a'), findHistory('a')]);
    expect(jobs).toEqual(before[0]);
    const rowsOf = (found: typeof sources) => found.sources.map(({ id: _, ...row }) => row);
    expect(rowsOf(sources)).toEqual(rowsOf(before[1]));
    expect(history).toEqual(before[2]);
    await undo('a');
    expect((await findHistory('a'))!.brief.directives).toEqual([{ kind: 'title', title: 'One' }]);
    expect(await unpackBackup(packed)).toEqual({ added: 0, known: 2, damaged: [] });
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
  const source = { source: '1', version: 1, name: 'x', addedAt: 1, file: 'sources/x/1-1' };
  it.each([
    ['no zip', Uint8Array.from([1, 2, 3]), 'it is not a zip'],
    ['another zip', zipSync({ 'a.txt': strToU8('a') }), 'it has no jobs.json'],
    ['a list that is no JSON', zipSync({ 'jobs.json': strToU8('{') }), 'cannot be read'],
    ['a list that is none', zipSync({ 'jobs.json': strToU8('[]') }), 'cannot be read'],
  ])('that is %s is refused in a sentence, and nothing comes in', async (_, bytes, why) => {
    await expect(unpackBackup(bytes)).rejects.toThrow(BadBackupError);
    await expect(unpackBackup(bytes)).rejects.toThrow(why);
    expect(await listJobs()).toEqual([]);
  });

  it('takes in each job that is whole, and names what is damaged', async () => {
    const [good, bad] = ['x', 'y'].map((id) => ({
      job: { ...job, id, title: id.toUpperCase() },
      sources: [{ ...source, file: `sources/${id}/1-1` }],
      brief: {},
      position: 0,
      steps: [],
    }));
    const file = { 'sources/x/1-1': Uint8Array.from([1]), 'sources/y/1-1': Uint8Array.from([2]) };
    const zip = (jobs: unknown[], files: Record<string, Uint8Array> = file) =>
      packZip(
        { ...files, 'jobs.json': strToU8(JSON.stringify({ format: 'dragoman-jobs', version: 1, jobs })) },
        () => 0,
      );
    const cases: [unknown, string, Record<string, Uint8Array>?][] = [
      [{ ...bad, brief: undefined }, '“Y” is damaged and was not taken in.'],
      [{ ...bad, sources: [] }, '“Y” is damaged and was not taken in.'],
      [{ ...bad, position: 3 }, '“Y” is damaged and was not taken in.'],
      [
        { ...bad, steps: [{ index: 0, removed: [7], added: [], at: 0 }] },
        '“Y” is damaged and was not taken in.',
      ],
      ['flour', 'Job 2 of the backup is damaged and was not taken in.'],
      [
        { ...bad, sources: [{ ...source, file: 'sources/y/1-1', hash: 'a'.repeat(64) }] },
        '“Y” was not taken in: its source x is not what was saved.',
      ],
      [
        bad,
        '“Y” was not taken in: its source x is missing or damaged.',
        { 'sources/x/1-1': file['sources/x/1-1'] },
      ],
    ];
    for (const [second, told, files] of cases) {
      await clear();
      expect(await unpackBackup(zip([good, second], files))).toEqual({ added: 1, known: 0, damaged: [told] });
      expect((await listJobs()).map(({ title }) => title)).toEqual(['X']);
    }
    // A byte that flipped in the file.
    await clear();
    const flipped = zip([good, bad]);
    const at = flipped.findIndex((_, index) => flipped[index] === 2 && flipped[index - 1] === 49);
    flipped[at]! ^= 1;
    const { added, damaged } = await unpackBackup(flipped);
    expect([added, damaged]).toEqual([1, ['“Y” was not taken in: its source x is missing or damaged.']]);
  });

  it('holds what is whole in this browser, names the rest, and is read back before it is given out', async () => {
    const bytes = Uint8Array.from([77, 84, 104, 100]);
    for (const id of ['a', 'b', 'c', 'd'])
      await addJob({ title: id, sourceName: `${id}.mid`, bytes, strands: 1, notes: 1 }, id);
    await database.sources
      .where('jobId')
      .equals('b')
      .modify({ bytes: undefined as never });
    await database.sources
      .where('jobId')
      .equals('c')
      .modify({ bytes: Uint8Array.from([77, 84, 104, 101]) });
    await database.jobs.put({ id: 'e', title: 7 } as never);
    await database.steps.add({ jobId: 'd', index: 4, removed: [], added: [], at: 1 });
    const { bytes: packed, jobs, leftOut } = await packBackup();
    expect(jobs).toBe(2);
    expect(leftOut).toEqual([
      '“b”: the source b.mid, version 1, is damaged in this browser.',
      '“b” has no source that is whole.',
      '“c”: the source c.mid, version 1, is damaged in this browser.',
      '“c” has no source that is whole.',
      '“d”: its history is damaged; its decisions are kept as they stand.',
      'A job (e) cannot be read.',
    ]);
    await clear();
    expect(await unpackBackup(packed)).toEqual({ added: 2, known: 0, damaged: [] });
  });

  it('mends a source whose bytes are no longer those that came', async () => {
    const bytes = Uint8Array.from([77, 84, 104, 100]);
    await addJob({ title: 'A', sourceName: 'a.mid', bytes, strands: 1, notes: 1 }, 'a');
    const { bytes: packed } = await packBackup();
    await database.sources
      .where('jobId')
      .equals('a')
      .modify({ bytes: Uint8Array.from([77, 84, 104, 101]) });
    const { sources, damaged } = await findSources('a');
    expect(sources).toEqual([]);
    expect(damaged).toMatchObject([{ name: 'a.mid', version: 1 }]);
    expect(await mendFromBackup('a', packed)).toBe(1);
    const mended = await findSources('a');
    expect(mended.damaged).toEqual([]);
    expect(mended.sources[0]!.bytes).toEqual(bytes);
  });
});
