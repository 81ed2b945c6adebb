import 'fake-indexeddb/auto';
import { describe, expect, it } from 'vitest';
import { changeBrief } from './history';
import { addJob, addSource, findJob, noteState } from './jobs';

const STATE = { engine: 'build', parts: 1, bars: 4, seconds: 8, notes: 16, settled: 16, open: 0 };
const file = { title: 'Cue', sourceName: 'cue.mid', bytes: new Uint8Array([1]), strands: 1, notes: 16 };

describe('how a job stands', () => {
  it('is kept for the decisions that it was worked out of, and for no others', async () => {
    const id = await addJob(file);
    await noteState(id, 0, STATE);
    expect((await findJob(id))?.state).toMatchObject(STATE);
    await changeBrief(id, (brief) => ({ ...brief, directives: [{ kind: 'title', title: 'Night' }] }));
    expect((await findJob(id))?.state).toBeUndefined();
    // What was worked out before that decision comes too late.
    await noteState(id, 0, STATE);
    expect((await findJob(id))?.state).toBeUndefined();
  });

  it('is not known of a job with another source', async () => {
    const id = await addJob(file);
    await noteState(id, 0, STATE);
    await addSource(id, { name: 'more.mid', bytes: new Uint8Array([2]) }, null);
    expect((await findJob(id))?.state).toBeUndefined();
  });
});
