import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { packBackup, unpackBackup } from './backup';
import { database } from './database';
import { addJob, deleteJobs, duplicateJob, listJobs } from './jobs';
import { hashOfRecording } from './recordings';
import type { RecordingRow } from './rows';
import { dropStems, findStems, keepStems, MOST_STEMS } from './stems';

const row = (jobId: string, name: string, text = name): RecordingRow => ({
  jobId,
  name,
  file: new Blob([text], { type: 'audio/wav' }),
  seconds: 12.5,
  heard: null,
  addedAt: 1,
});
const namesOf = async (jobId: string) => (await findStems(jobId)).map(({ name }) => name);

describe('the stems of a job', () => {
  let id = '';
  beforeEach(async () => {
    await deleteJobs((await listJobs()).map((each) => each.id));
    id = await addJob({ title: 'One', sourceName: 'a.mid', bytes: Uint8Array.of(1), strands: 1, notes: 1 });
  });

  it('are kept in the order of their names; one of the same name takes the place of the one before', async () => {
    await keepStems(id, [row(id, '10 Viola.wav'), row(id, '2 Oboe.wav', 'first')]);
    await keepStems(id, [row(id, '2 Oboe.wav', 'second')]);
    expect(await namesOf(id)).toEqual(['2 Oboe.wav', '10 Viola.wav']);
    expect(await (await findStems(id))[0]!.file.text()).toBe('second');
    await dropStems(id, ['2 Oboe.wav']);
    expect(await namesOf(id)).toEqual(['10 Viola.wav']);
  });

  it('come in all or not at all', async () => {
    const many = Array.from({ length: MOST_STEMS + 1 }, (_, index) => row(id, `${index}.wav`));
    await expect(keepStems(id, many)).rejects.toThrow('at most 400 stems');
    expect(await namesOf(id)).toEqual([]);
    await expect(keepStems('gone', [row('gone', 'a.wav')])).rejects.toThrow('no longer in this browser');
  });

  it('go with their job, into copies and through backups', async () => {
    await keepStems(id, [row(id, 'a.wav'), row(id, 'b.wav')]);
    const copy = await duplicateJob(id);
    expect(await namesOf(copy)).toEqual(['a.wav', 'b.wav']);
    const { bytes, leftOut } = await packBackup();
    expect(leftOut).toEqual([]);
    await deleteJobs([id, copy]);
    expect(await database.stems.count()).toBe(0);
    expect((await unpackBackup(bytes)).damaged).toEqual([]);
    expect(await namesOf(id)).toEqual(['a.wav', 'b.wav']);
    expect(await (await findStems(id))[1]!.file.text()).toBe('b.wav');
  });

  it('that are damaged leave the house in no backup, which says so', async () => {
    const whole = row(id, 'a.wav');
    await keepStems(id, [{ ...whole, hash: await hashOfRecording(whole.file) }, row(id, 'b.wav')]);
    await database.stems.put({ ...whole, hash: 'f'.repeat(64) });
    const { leftOut, bytes } = await packBackup();
    expect(leftOut).toEqual([
      '“One”: The recording a.wav is damaged: what this browser kept is no longer the file that you attached.',
    ]);
    await deleteJobs([id]);
    await unpackBackup(bytes);
    expect(await namesOf(id)).toEqual(['b.wav']);
  });
});
