import { describe, expect, it } from 'vitest';
import { EMPTY_BRIEF } from '../decisions/brief';
import { decide, withDirectives } from '../decisions/decisions';
import type { PlainDirective } from '../decisions/kinds';
import type { StrandId } from '../model/ids';
import {
  BadPrecedentsError,
  offersFor,
  parsePrecedents,
  precedentKey,
  precedentsOf,
  withJob,
  writePrecedents,
} from './precedents';

const job = { jobId: 'a', job: 'Cue 4', at: 1 };
const strand = (id: StrandId, name: string, guess = 'piano', confidence = 0.9) => ({
  id,
  name,
  guess: { id: guess, confidence },
});
const decided = (...directives: PlainDirective[]) => decide(withDirectives(EMPTY_BRIEF, directives));

const SOURCE = [
  strand('1/t2c1', 'Vlns_thick 8va', 'violin'),
  strand('1/t3c2', 'LA Celli leg', 'cello'),
  strand('1/t4c3', 'LA Celli pizz', 'cello'),
  strand('1/t5c4', 'Track 5'),
];
const DECIDED = decided(
  { kind: 'leave-out', strand: '1/t2c1', out: true },
  { kind: 'name', strand: '1/t3c2', name: 'Violoncello' },
  { kind: 'join', strand: '1/t4c3', into: '1/t3c2' },
  { kind: 'cast', strand: '1/t5c4', instrument: 'harp' },
);

describe('what was decided for a name', () => {
  it('is remembered by its words, and not for names that say nothing', () => {
    expect(precedentKey('Vlns_thick 8va')).toBe(precedentKey('vlns THICK (8va) 02'));
    for (const empty of ['Track 5', 'MIDI 07', '', 'Inst 12', 'Untitled', 'Audio copy'])
      expect(precedentKey(empty)).toBe('');
    const precedents = precedentsOf(SOURCE, DECIDED, job);
    expect(precedents.map(({ key, out, part, into }) => [key, out, part, into])).toEqual([
      ['vlns thick 8va', true, undefined, undefined],
      ['la celli leg', undefined, 'Violoncello', undefined],
      ['la celli pizz', undefined, undefined, 'la celli leg'],
    ]);
  });

  it('is offered in a later job for strands that are called so, and decided for no other', () => {
    const next = [
      strand('1/t7c1', 'LA CELLI PIZZ 03', 'cello'),
      strand('1/t8c2', 'la celli leg', 'cello'),
      strand('1/t9c3', 'Harp'),
    ];
    const offers = offersFor(next, decided(), precedentsOf(SOURCE, DECIDED, job));
    expect(offers.map(({ directives }) => directives)).toEqual([
      [{ kind: 'join', strand: '1/t7c1', into: '1/t8c2' }],
      [{ kind: 'name', strand: '1/t8c2', name: 'Violoncello' }],
    ]);
    // Taken, they are not offered again.
    const taken = decided(...offers.flatMap(({ directives }) => directives));
    expect(offersFor(next, taken, precedentsOf(SOURCE, DECIDED, job))).toEqual([]);
  });

  it('settles what is guessed without trust, and divides again', () => {
    const before = decided(
      { kind: 'cast', strand: '1/t1c1', instrument: 'synthesizer' },
      { kind: 'split', strand: '1/t2c1', by: 'chairs', chairs: ['horn-f', 'horn-f'] },
    );
    const source = [strand('1/t1c1', 'Warm thing', 'synthesizer', 0.5), strand('1/t2c1', 'Hns', 'horn-f')];
    const offers = offersFor(source, decided(), precedentsOf(source, before, job));
    expect(offers.flatMap(({ directives }) => directives)).toEqual([
      { kind: 'cast', strand: '1/t1c1', instrument: 'synthesizer' },
      { kind: 'split', strand: '1/t2c1', by: 'chairs', chairs: ['horn-f', 'horn-f'] },
    ]);
    // Its pieces are called the same, and are no strands of their own here.
    const pieces = [...source, strand('1/t2c1s2', 'Hns', 'horn-f')];
    expect(offersFor(pieces, before, precedentsOf(pieces, before, job))).toEqual([]);
  });

  it('says nothing where the guess says the same, and the newest of a name counts', () => {
    const older = precedentsOf(SOURCE, decided({ kind: 'cast', strand: '1/t3c2', instrument: 'viola' }), job);
    const newer = precedentsOf(SOURCE, decided({ kind: 'cast', strand: '1/t3c2', instrument: 'cello' }), {
      ...job,
      jobId: 'b',
      at: 2,
    });
    const next = [strand('1/t8c2', 'LA Celli leg', 'cello')];
    expect(offersFor(next, decided(), older)).toHaveLength(1);
    expect(offersFor(next, decided(), [...newer, ...older])).toEqual([]);
  });

  it('goes when its job takes it back, and then what was decided before counts again', () => {
    const all = withJob([], 'a', precedentsOf(SOURCE, DECIDED, job));
    expect(withJob(all, 'a', [])).toEqual([]);
    const later = { ...job, jobId: 'b', at: 2 };
    const other = precedentsOf(SOURCE, decided({ kind: 'name', strand: '1/t3c2', name: 'Celli' }), later);
    const both = withJob(all, 'b', other);
    const next = [strand('1/t8c2', 'LA Celli leg', 'cello')];
    const nameOf = (precedents: typeof both) =>
      offersFor(next, decided(), precedents).flatMap(({ precedent }) => precedent.part);
    expect(nameOf(both)).toEqual(['Celli']);
    expect(nameOf(withJob(both, 'b', []))).toEqual(['Violoncello']);
  });

  it('stays the first job’s when another only takes it over, and keeps its time', () => {
    const all = withJob([], 'a', precedentsOf(SOURCE, DECIDED, job));
    const same = precedentsOf(SOURCE, DECIDED, { ...job, jobId: 'b', at: 2 });
    expect(withJob(all, 'b', same)).toEqual(all);
    expect(withJob(all, 'a', precedentsOf(SOURCE, DECIDED, { ...job, at: 9 }))).toEqual(all);
  });

  it('goes out as a file and comes in again; a broken one is refused in a sentence', () => {
    const precedents = precedentsOf(SOURCE, DECIDED, job);
    expect(parsePrecedents(writePrecedents(precedents)).map((each) => ({ ...each }))).toEqual(precedents);
    for (const broken of [
      '{',
      '[]',
      '7',
      '{}',
      '{"format":"dragoman-precedents","version":2,"precedents":[]}',
    ])
      expect(() => parsePrecedents(broken)).toThrow(BadPrecedentsError);
    const damaged = writePrecedents([{ ...precedents[0]!, key: '' }]);
    expect(() => parsePrecedents(damaged)).toThrow('Some precedents in this file are damaged.');
  });
});
