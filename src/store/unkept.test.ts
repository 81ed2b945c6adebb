// @vitest-environment jsdom
import '../../tests/helpers/page';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { type Brief, EMPTY_BRIEF } from '../core/decisions/brief';
import type { StrandId } from '../core/model/ids';
import { dropAllUnkept, dropUnkept, listUnkept, noteUnkept } from './unkept';

const named = (...names: string[]): Brief => ({
  ...EMPTY_BRIEF,
  directives: names.map((name) => ({ kind: 'name', strand: '1/t1c1' as StrandId, name })),
});
const A = { id: 'a', createdAt: 5 };
const B = { id: 'b', createdAt: 5 };
const listed = (job = A) =>
  listUnkept(job).map(({ brief, isWhole }) => [
    isWhole,
    ...brief.directives.map((each) => (each.kind === 'name' ? each.name : each.kind)),
  ]);

beforeEach(() => localStorage.clear());

describe('decisions on their way', () => {
  it('are found again in their order, by job, until they are kept', () => {
    const keys = [...'abcdefghijkl'].map((name) => noteUnkept(A, named(name), false));
    noteUnkept(B, named('elsewhere'), true);
    expect(listed()).toEqual([...'abcdefghijkl'].map((name) => [false, name]));
    for (const key of keys.slice(1)) dropUnkept(key);
    expect(listed()).toEqual([[false, 'a']]);
    expect(listed(B)).toEqual([[true, 'elsewhere']]);
    // Another job that had its id before.
    expect(listed({ ...A, createdAt: 4 })).toEqual([]);
    dropAllUnkept('a');
    expect(listed()).toEqual([]);
    expect(listed(B)).toHaveLength(1);
  });

  it('that cannot be read are dropped; of a list the rest is kept, unless it is to be the whole', () => {
    const kept = { directives: [...named('Oboe').directives, { kind: 'nothing known' }] };
    localStorage.setItem('unkept a 5 1 0 x', 'no JSON');
    localStorage.setItem('unkept a 5 1 1 x', JSON.stringify({ ...kept, isWhole: true }));
    localStorage.setItem('unkept a 5 1 2 x', JSON.stringify({ ...kept, isWhole: false }));
    localStorage.setItem('unkept a 5 1 3 x', JSON.stringify({ directives: [], isWhole: false }));
    localStorage.setItem('unkept a 5 1 4 x', JSON.stringify({ directives: 7 }));
    expect(listed()).toEqual([[false, 'Oboe']]);
    expect(localStorage).toHaveLength(1);
  });

  it('are not noted where the browser has no room', () => {
    const full = vi.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    dropUnkept(noteUnkept(A, named('Oboe'), false));
    full.mockRestore();
    expect(listed()).toEqual([]);
  });
});
