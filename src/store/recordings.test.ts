import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { packBackup, unpackBackup } from './backup';
import { database } from './database';
import { addJob, deleteJobs, duplicateJob, listJobs } from './jobs';
import { bytesOfRecording, dropRecording, findRecording, hashOfRecording, keepRecording } from './recordings';
import type { RecordingRow } from './rows';

const row = (jobId: string, text: string): RecordingRow => ({
  jobId,
  name: `${text}.mp3`,
  file: new Blob([text], { type: 'audio/mpeg' }),
  seconds: 12.5,
  heard: {
    facts: { seconds: 12.5, peak: 0.5, clipped: 0, silentBefore: 0, silentAfter: 1 },
    levels: { perSecond: 100, low: new Int8Array(3), high: new Int8Array(3), loud: new Uint8Array(3) },
  },
  addedAt: 1,
});
const job = (title: string) =>
  addJob({ title, sourceName: 'a.mid', bytes: Uint8Array.of(1, 2), strands: 1, notes: 1 });
const textOf = async (jobId: string) => (await findRecording(jobId))?.file.text();

describe('the recording of a job', () => {
  let id = '';
  beforeEach(async () => {
    await deleteJobs((await listJobs()).map((each) => each.id));
    id = await job('One');
  });

  it('is kept byte for byte, in the place of the one before, and goes when it is taken out', async () => {
    await keepRecording(row(id, 'first'));
    await keepRecording(row(id, 'second'));
    expect(await findRecording(id)).toMatchObject({ name: 'second.mp3', seconds: 12.5 });
    expect(await textOf(id)).toBe('second');
    await dropRecording(id);
    expect(await findRecording(id)).toBeNull();
  });

  it('that is damaged leaves the house in no backup, which says so', async () => {
    const whole = row(id, 'first');
    await keepRecording({ ...whole, hash: await hashOfRecording(whole.file) });
    expect((await packBackup()).leftOut).toEqual([]);
    const kept = (await findRecording(id))!;
    await database.recordings.put({ ...kept, file: new Blob(['fir5t'], { type: 'audio/mpeg' }) });
    await expect(bytesOfRecording((await findRecording(id))!)).rejects.toThrow('first.mp3 is damaged');
    expect((await packBackup()).leftOut).toEqual([
      '“One”: The recording first.mp3 is damaged: what this browser kept is no longer the file that you attached.',
    ]);
  });

  it('is not kept for a job that is gone', async () => {
    await expect(keepRecording(row('nobody', 'x'))).rejects.toThrow('no longer in this browser');
    expect(await findRecording('nobody')).toBeNull();
  });

  it('goes along with a copy of the job, and away with the job', async () => {
    await keepRecording(row(id, 'take'));
    const copy = await duplicateJob(id);
    await deleteJobs([id]);
    expect(await findRecording(id)).toBeNull();
    expect(await textOf(copy)).toBe('take');
  });

  it('is in a backup, and comes back without its outline, which is drawn anew', async () => {
    await keepRecording(row(id, 'take'));
    const { bytes: zip } = await packBackup();
    await deleteJobs([id]);
    expect(await unpackBackup(zip)).toEqual({ added: 1, known: 0, damaged: [] });
    expect(await findRecording(id)).toMatchObject({ name: 'take.mp3', heard: null });
    expect(await textOf(id)).toBe('take');
    expect((await findRecording(id))!.file.type).toBe('audio/mpeg');
  });

  it('is none where the browser gives back something else, and has no outline where that is damaged', async () => {
    await database.recordings.put({ ...row(id, 'take'), seconds: 'long' } as unknown as RecordingRow);
    expect(await findRecording(id)).toBeNull();
    await database.recordings.put({
      ...row(id, 'take'),
      heard: { facts: {}, levels: null },
    } as unknown as RecordingRow);
    expect(await findRecording(id)).toMatchObject({ name: 'take.mp3', heard: null });
  });
});
