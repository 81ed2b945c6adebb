import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Graph, node, steppedNode } from './graph';
import { remembered } from './remember';
import { isSame, whole } from './same';
import { finished } from './steps';

let runs: string[] = [];
const SUM = node(
  'sum',
  ({ list }: { list: readonly number[] }) => {
    runs.push('sum');
    return { sum: list.reduce((all, each) => all + each, 0) };
  },
  { cuts: true },
);
const TEXT = node('text', ({ of, unit }: { of: { sum: number }; unit: string }) => {
  runs.push('text');
  return [`${of.sum} ${unit}`];
});
const SLOW = steppedNode('slow', function* ({ times }: { times: number }) {
  for (let time = 0; time < times; time++) yield;
  runs.push('slow');
  return times;
});

const told = (graph: Graph, list: readonly number[], unit: string) => {
  runs = [];
  const text = graph.of(TEXT, 'a', { of: graph.of(SUM, 'a', { list }), unit });
  return { text: text[0], runs };
};

describe('results that are kept', () => {
  it('hold as long as all that they were made of, and no longer', () => {
    const graph = new Graph();
    expect(told(graph, [1, 2], 's')).toEqual({ text: '3 s', runs: ['sum', 'text'] });
    expect(told(graph, [1, 2], 's')).toEqual({ text: '3 s', runs: [] });
    expect(told(graph, [1, 2], 'ms')).toEqual({ text: '3 ms', runs: ['text'] });
  });

  it('stop the wave where they come out the same', () => {
    const graph = new Graph();
    told(graph, [1, 2], 's');
    expect(told(graph, [2, 1], 's')).toEqual({ text: '3 s', runs: ['sum'] });
    expect(told(graph, [2, 2], 's')).toEqual({ text: '4 s', runs: ['sum', 'text'] });
  });

  it('are kept apart by owner, and say what made them run', () => {
    const graph = new Graph();
    graph.of(SUM, 'a', { list: [1] });
    graph.of(SUM, 'b', { list: [2] });
    expect(graph.of(SUM, 'a', { list: [1] })).toEqual({ sum: 1 });
    graph.of(SUM, 'b', { list: [3] });
    expect(graph.ran.map(({ node: of, owner, because }) => `${of} ${owner}: ${because}`)).toEqual([
      'sum a: new',
      'sum b: new',
      'sum b: list',
    ]);
  });

  it('go when a run did not ask for them', () => {
    const graph = new Graph();
    told(graph, [1], 's');
    graph.turn();
    expect(told(graph, [1], 's').runs).toEqual([]);
    graph.turn();
    graph.turn();
    expect(told(graph, [1], 's').runs).toEqual(['sum', 'text']);
  });

  it('of a copy stay its own', () => {
    const graph = new Graph();
    told(graph, [1], 's');
    const copy = graph.fork();
    expect(told(copy, [1], 's').runs).toEqual([]);
    expect(told(copy, [5], 's').text).toBe('5 s');
    expect(told(graph, [1], 's')).toEqual({ text: '1 s', runs: [] });
  });

  it('are not there before their work is whole', () => {
    const graph = new Graph();
    const work = graph.inSteps(SLOW, '', { times: 3 });
    work.next();
    work.next();
    runs = [];
    expect(finished(graph.inSteps(SLOW, '', { times: 3 }))).toBe(3);
    expect(runs).toEqual(['slow']);
  });

  it('go with the object that they are kept with', () => {
    const [one, two] = [{}, {}];
    runs = [];
    remembered(one, SUM, { list: [1] });
    remembered(one, SUM, { list: [1] });
    remembered(two, SUM, { list: [1] });
    expect(runs).toEqual(['sum', 'sum']);
    expect(remembered(one, SUM, { list: [4] })).toEqual({ sum: 4 });
  });
});

describe('what is the same', () => {
  const value = fc.anything({ withMap: true, withSet: true, withTypedArray: true, maxDepth: 3 });

  it('is what is made of the same things', () => {
    fc.assert(
      fc.property(fc.clone(value, 2), ([one, two]) => {
        expect(isSame(one, one)).toBe(true);
        expect(isSame(one, two)).toBe(true);
      }),
    );
  });

  it('is never what the checks of tests tell apart', () => {
    fc.assert(
      fc.property(value, value, (one, two) => {
        if (isSame(one, two)) expect(one).toStrictEqual(two);
      }),
      { numRuns: 500 },
    );
  });

  it.each([
    ['a field more', { a: 1 }, { a: 1, b: undefined }],
    ['another field', { a: undefined }, { b: undefined }],
    [
      'another order of a map',
      new Map([
        [1, 1],
        [2, 2],
      ]),
      new Map([
        [2, 2],
        [1, 1],
      ]),
    ],
    ['a list and an object', [1], { 0: 1 }],
    ['other numbers', new Float64Array([1, 2]), new Float64Array([1, 3])],
    ['another kind of numbers', new Float64Array([1]), new Float32Array([1])],
    ['no number and nothing', Number.NaN, null],
    ['functions', () => 1, () => 1],
  ])('is not: %s', (_, one, two) => expect(isSame(one, two)).toBe(false));

  it('goes by identity where that is asked for', () => {
    const one = whole({ a: 1 });
    expect(isSame(one, { a: 1 })).toBe(false);
    expect(isSame({ of: one }, { of: one })).toBe(true);
  });
});
