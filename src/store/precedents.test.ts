import 'fake-indexeddb/auto';
import { describe, expect, it } from 'vitest';
import type { Precedent } from '../core/cast/precedents';
import { writeSetting } from './jobs';
import { changePrecedents, listPrecedents } from './precedents';

const precedent = (key: string): Precedent => ({
  key,
  name: key,
  part: 'Horn',
  jobId: 'a',
  job: 'Cue',
  at: 1,
});

describe('the precedents that are kept', () => {
  it('are none at first, and what was put there', async () => {
    expect(await listPrecedents()).toEqual([]);
    await changePrecedents((now) => [...now, precedent('hn 1')]);
    expect((await listPrecedents()).map(({ key }) => key)).toEqual(['hn 1']);
  });

  it('lose nothing that is decided at the same time', async () => {
    await Promise.all(
      ['hn 2', 'hn 3', 'hn 4'].map((key) => changePrecedents((now) => [...now, precedent(key)])),
    );
    expect((await listPrecedents()).map(({ key }) => key).sort()).toEqual(['hn 1', 'hn 2', 'hn 3', 'hn 4']);
  });

  it('are none where what is kept is damaged, and begin anew', async () => {
    await writeSetting('precedents', '{"format":');
    expect(await listPrecedents()).toEqual([]);
    await changePrecedents(() => [precedent('hn 1')]);
    expect(await listPrecedents()).toHaveLength(1);
  });
});
