import 'fake-indexeddb/auto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Dexie } from 'dexie';
import { describe, expect, it } from 'vitest';
import { layOut } from '../core/clean/desk';
import { readSource } from '../core/sources';
import { transcribeNow, unaccounted } from '../core/transcribe';
import { findHistory, goTo, listSteps, undo } from './history';
import { findJob, findSources, listJobs, readSetting } from './jobs';

interface Rows {
  jobs: object[];
  sources: { bytes: string }[];
  histories: object[];
  settings: object[];
}

/** Rows as the build of database version 2 kept them. */
const file = join(import.meta.dirname, '../../tests/fixtures/rows-of-version-2.json');
const rows: Rows = JSON.parse(readFileSync(file, 'utf8'));

/** A shelf as that build left it. */
async function oldShelf(): Promise<void> {
  const old = new Dexie('dragoman');
  old.version(1).stores({
    jobs: 'id, changedAt',
    sources: 'id, jobId',
    histories: 'jobId',
    settings: 'name',
  });
  old.version(2).stores({ banks: 'id' });
  await old.table('jobs').bulkAdd(rows.jobs);
  const bytes = (text: string) => new Uint8Array(Buffer.from(text, 'base64'));
  await old.table('sources').bulkAdd(rows.sources.map((row) => ({ ...row, bytes: bytes(row.bytes) })));
  await old.table('histories').bulkAdd(rows.histories);
  await old.table('settings').bulkAdd(rows.settings);
  old.close();
}

describe('a shelf of the version before', () => {
  it('opens as it was: jobs, sources, decisions, the way back and forth, and what was heard how', async () => {
    await oldShelf();
    expect((await listJobs()).map((job) => job.title).sort()).toEqual(['Cue 4', 'Cue 5']);
    expect(await findJob('job-a')).toMatchObject({ sourceName: 'cue-4.mid', notes: 48 });
    const { sources } = await findSources('job-a');
    expect(sources).toMatchObject([{ source: '1', version: 1, name: 'cue-4.mid' }]);
    expect(sources[0]!.hash).toMatch(/^[0-9a-f]{64}$/);

    const history = (await findHistory('job-a'))!;
    expect(history).toMatchObject({ canUndo: true, canRedo: true, refused: [] });
    expect(history.brief.directives).toMatchObject([
      { kind: 'name', strand: '1/t1c1', name: 'Flute solo' },
      { kind: 'join', strand: '1/t3c3', into: '1/t2c2' },
      { kind: 'place', note: '1/t1c1/3', start: '1/2', end: '1' },
      { kind: 'order', strands: ['1/t2c2', '1/t1c1'] },
      { kind: 'meant', oddity: 'mixer 1/t2c2' },
      { kind: 'hand-over', strands: ['1/t2c2'] },
      { kind: 'split', strand: '1/t1c1', key: 74 },
      { kind: 'name', strand: '1/t1c1s2', name: 'Low' },
    ]);
    const readings = sources.map(({ source: id, version, name, bytes }) =>
      readSource({ id, version, name, bytes }),
    );
    const desk = layOut(readings, history.brief);
    const { score, account } = transcribeNow(desk.performance, history.brief);
    expect(score.parts.map((part) => part.name)).toEqual(['Oboe', 'Flute solo', 'Low']);
    expect(unaccounted(account)).toBe(0);

    expect((await listSteps('job-a')).at(-1)!.added).toEqual([{ kind: 'title', title: 'Undone' }]);
    await undo('job-a');
    expect((await findHistory('job-a'))!.brief.directives.map(({ kind }) => kind)).not.toContain('split');
    await goTo('job-a', 99);
    expect((await findHistory('job-a'))!.brief.directives.at(-1)).toEqual({ kind: 'title', title: 'Undone' });
    expect(await readSetting('hearing job-a')).toContain('"strand":"1/t1c1"');
  });

  it('loses no job to one decision that should never have been let in', async () => {
    const history = (await findHistory('job-b'))!;
    expect(history.brief.directives).toEqual([{ kind: 'key', fifths: -3, minor: true }]);
    expect(history.refused).toHaveLength(1);
    await goTo('job-b', 1);
    expect((await findHistory('job-b'))!.brief.directives).toEqual([]);
  });
});
