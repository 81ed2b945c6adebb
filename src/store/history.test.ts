import 'fake-indexeddb/auto';
import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { type Brief, EMPTY_BRIEF } from '../core/decisions/brief';
import { withDirectives } from '../core/decisions/decisions';
import type { PlainDirective } from '../core/decisions/kinds';
import type { StrandId } from '../core/model/ids';
import { database } from './database';
import { changeBrief, findHistory, forgetUnread, goTo, listSteps, redo, undo } from './history';
import { addJob } from './jobs';

const take = (...directives: PlainDirective[]) =>
  changeBrief('a', (brief) => withDirectives(brief, directives));
const named = (name: string, strand: StrandId = '1/t1c1') => take({ kind: 'name', strand, name });
const nameNow = async () =>
  (await findHistory('a'))!.brief.directives.map((each) => (each.kind === 'name' ? each.name : ''));

beforeEach(async () => {
  await Promise.all(database.tables.map((table) => table.clear()));
  const bytes = Uint8Array.from([1]);
  await addJob({ title: 'Cue', sourceName: 'cue.mid', bytes, strands: 1, notes: 1 }, 'a');
});

describe('decisions', () => {
  it('go back and forth', async () => {
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

  it('known by a note are made once, also where they were undone or changed nothing', async () => {
    const noted = (note: string, name: string) =>
      changeBrief('a', (brief) => withDirectives(brief, [{ kind: 'name', strand: '1/t1c1', name }]), {
        note,
      });
    expect(await noted('one', 'Oboe')).toBe(true);
    await undo('a');
    expect(await noted('one', 'Oboe')).toBe(true);
    expect(await nameNow()).toEqual([]);
    await noted('two', 'Flute');
    await noted('three', 'Flute');
    await noted('four', 'Horn');
    await noted('three', 'Flute');
    expect(await nameNow()).toEqual(['Horn']);
    expect((await findHistory('a'))!.steps).toBe(2);
  });

  it('that are not to be made now are made later, under the same note', async () => {
    expect(await changeBrief('a', () => null, { note: 'one' })).toBe(false);
    await changeBrief(
      'a',
      (brief) => withDirectives(brief, [{ kind: 'name', strand: '1/t1c1', name: 'Oboe' }]),
      {
        note: 'one',
      },
    );
    expect(await nameNow()).toEqual(['Oboe']);
    await database.briefs.update('a', { notes: 7 as never });
    await named('Flute');
    expect(await nameNow()).toEqual(['Flute']);
  });

  it('a new one after an undo ends the way forward', async () => {
    await named('Oboe');
    await undo('a');
    await named('Harp');
    expect(await findHistory('a')).toMatchObject({ canUndo: true, canRedo: false, position: 1, steps: 1 });
  });

  it('taken at once from two sides are both kept', async () => {
    const out = (strand: StrandId) => take({ kind: 'leave-out', strand, out: true });
    await Promise.all((['1/t1c1', '1/t2c2', '1/t3c3', '1/t4c4'] as const).map(out));
    expect((await findHistory('a'))!.brief.directives).toHaveLength(4);
  });

  it('leave what was decided before where it is, whatever the order of its fields', async () => {
    await take({ name: 'Oboe', strand: '1/t1c1', kind: 'name' });
    await take({ kind: 'leave-out', strand: '1/t2c2', out: true });
    expect((await listSteps('a'))[1]).toMatchObject({ removed: [], added: [{ kind: 'leave-out' }] });
  });

  it('undone twice at once go back by two', async () => {
    for (const name of ['A', 'B', 'C']) await named(name);
    await Promise.all([undo('a'), undo('a')]);
    expect(await nameNow()).toEqual(['A']);
    await Promise.all([redo('a'), redo('a')]);
    expect(await nameNow()).toEqual(['C']);
  });

  it('that change nothing are no step', async () => {
    await named('Oboe');
    await named('Oboe');
    expect((await findHistory('a'))!.steps).toBe(1);
  });

  it('are small steps, each listed with what it put in and took out', async () => {
    await named('Oboe');
    await take({ kind: 'name', strand: '1/t1c1', name: 'Flute' }, { kind: 'title', title: 'Cue 1' });
    const [, second] = await listSteps('a');
    expect(second!.added).toHaveLength(2);
    expect(second).toMatchObject({
      index: 1,
      added: [{ name: 'Flute' }, { title: 'Cue 1' }],
      removed: [{ name: 'Oboe' }],
    });
  });

  it('of a job deleted elsewhere are refused in a sentence', async () => {
    await database.briefs.delete('a');
    await expect(named('Oboe')).rejects.toThrow('deleted in another tab');
    expect(await findHistory('a')).toBeNull();
  });

  it('that can no longer be read are said one by one, and the others hold', async () => {
    await named('Oboe');
    const bad = [{ kind: 'key', minor: true }, { kind: 'sing' }, null];
    const { brief } = (await database.briefs.get('a'))!;
    const directives = [...bad, ...(brief as Brief).directives];
    await database.briefs.update('a', { brief: { ...EMPTY_BRIEF, directives } });
    const history = (await findHistory('a'))!;
    expect(history.brief.directives).toHaveLength(1);
    expect(history.refused).toEqual([
      'Decision 1 (key) is not valid: fifths must not be greater than 7.',
      'Decision 2 has no known kind.',
      'Decision 3 has no known kind.',
    ]);
    // What a newer version may understand stays for it, whatever is decided here.
    await take({ kind: 'title', title: 'x' });
    const kept = ((await database.briefs.get('a'))!.brief as Brief).directives as readonly unknown[];
    expect(kept).toMatchObject([
      { kind: 'key' },
      { kind: 'sing' },
      { kind: 'name' },
      { kind: 'title', title: 'x' },
    ]);
    expect((await findHistory('a'))!.refused).toHaveLength(2);
    await forgetUnread('a');
    expect((await findHistory('a'))!.refused).toEqual([]);
    await undo('a');
    await undo('a');
    expect((await findHistory('a'))!.refused).toHaveLength(3);
  });

  it('that are damaged as a whole come back from their steps', async () => {
    await named('Oboe');
    await named('Flute');
    await database.briefs.update('a', { brief: 7 });
    expect(await nameNow()).toEqual(['Flute']);
    expect((await findHistory('a'))!.refused[0]).toContain('were put together again');
    await undo('a');
    expect(await nameNow()).toEqual(['Oboe']);
  });

  it('in any sequence with undo and redo come to what remains of them, taken from scratch', async () => {
    const strands: StrandId[] = ['1/t1c1', '1/t2c2'];
    const act = fc.oneof(
      fc.record({ strand: fc.constantFrom(...strands), name: fc.constantFrom('A', 'B', 'C') }),
      fc.constantFrom('undo' as const, 'redo' as const),
      fc.nat(12),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(act, { maxLength: 14 }), async (acts) => {
        await Promise.all([database.briefs.clear(), database.steps.clear()]);
        await database.briefs.add({ jobId: 'a', brief: EMPTY_BRIEF, position: 0 });
        let taken: Brief[] = [EMPTY_BRIEF];
        let at = 0;
        for (const each of acts) {
          if (each === 'undo') {
            await undo('a');
            at = Math.max(0, at - 1);
          } else if (each === 'redo') {
            await redo('a');
            at = Math.min(taken.length - 1, at + 1);
          } else if (typeof each === 'number') {
            await goTo('a', each);
            at = Math.min(each, taken.length - 1);
          } else {
            await named(each.name, each.strand);
            const next = withDirectives(taken[at]!, [{ kind: 'name', ...each }]);
            if (JSON.stringify(next) !== JSON.stringify(taken[at])) {
              taken = [...taken.slice(0, at + 1), next];
              at++;
            }
          }
        }
        const history = (await findHistory('a'))!;
        expect(history.brief).toEqual(taken[at]);
        expect([history.position, history.steps]).toEqual([at, taken.length - 1]);
      }),
      { numRuns: 60 },
    );
  });
});
