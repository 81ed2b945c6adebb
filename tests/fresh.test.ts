import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { BadBriefError, type Brief, EMPTY_BRIEF, parseBrief } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { DEFAULT_HAND_OVER } from '@/core/decisions/kinds/hand-over';
import { deliverMidi } from '@/core/deliver';
import type { StrandId } from '@/core/model/ids';
import type { Source } from '@/core/sources';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { writeSmf } from '@/core/sources/smf/write';
import type { Transcription } from '@/core/transcribe';
import { proofOf } from '@/core/workbench/proof';
import { stockOf } from '@/core/workbench/stock';
import { summarise } from '@/core/workbench/summary';
import { Workbench } from '@/core/workbench/workbench';
import { Chance } from './fuzz/chance';
import { type Known, makeDirective } from './fuzz/make-brief';
import { madeFile, madeTrack, meterAt, type Stroke } from './helpers/made-file';
import { RICH } from './helpers/rich-document';

const BAR = 1920;
/** Eighths through some bars, loosely played; every second bar the same. */
const line = (key: number, bars: readonly number[], loose = 0): Stroke[] =>
  bars.flatMap((bar) =>
    Array.from({ length: 8 }, (_, at): Stroke => {
      const on = bar * BAR + at * 240 + ((at * 37 + bar * 11) % 23) * loose;
      return [on, on + 180 + ((at * 13) % 40), key + (((bar % 2) * 3 + at * 5) % 12)];
    }),
  );
const chords = (key: number, bars: readonly number[]): Stroke[] =>
  bars.flatMap((bar) =>
    [0, 4, 7].map((step): Stroke => [bar * BAR, bar * BAR + 900, key + step + ((bar * 5) % 7)]),
  );

const fileOf = (shift: number) =>
  writeSmf(
    madeFile(
      { events: [meterAt(0, 4, 4)] },
      madeTrack('Violin', 0, line(67, [0, 1, 4, 5])),
      madeTrack('Violin pizz', 1, line(67 + shift, [2, 3, 6])),
      madeTrack('Flute', 2, line(79, [0, 2, 4], 1)),
      madeTrack('Piccolo', 3, line(84, [5, 6], 1)),
      madeTrack('Trumpets', 4, chords(60, [1, 2, 3])),
      madeTrack('Guitar', 5, chords(52, [0, 4, 5])),
      madeTrack('Drums', 9, line(36, [0, 1, 2, 3])),
      madeTrack('Piano', 6, [...chords(36, [0, 1, 2]), ...line(64, [0, 1, 2])]),
    ),
  );
const SOURCES: readonly Source[] = [
  { id: '1', version: 1, name: 'cue.mid', bytes: fileOf(0) },
  { id: '1', version: 2, name: 'cue v2.mid', bytes: fileOf(2) },
];
/** One part played in two ways, one on two instruments, players on one staff, tablature, repeats written. */
const BEGUN = withDirectives(EMPTY_BRIEF, [
  { kind: 'version', source: '1', version: 1 },
  { kind: 'join', strand: '1/t3c2', into: '1/t2c1' },
  { kind: 'join', strand: '1/t5c4', into: '1/t4c3' },
  { kind: 'split', strand: '1/t6c5', by: 'chairs', chairs: ['trumpet-bflat', 'trumpet-bflat', 'trombone'] },
  { kind: 'frets', strand: '1/t7c6', show: 'both' },
  { kind: 'repeats', use: 'folded' },
]);
/** A score with transposition, repeats, slides and signs. */
const SCORE: readonly Source[] = [
  { id: '1', version: 1, name: 'rich.musicxml', bytes: new TextEncoder().encode(RICH) },
];

const knownOf = (sources: readonly Source[], brief: Brief): Known => {
  const { performance } = new Workbench(sources).deskUnder(brief);
  return {
    strands: performance.strands.map(({ id }) => id),
    notes: performance.strands.flatMap(({ notes }) => notes.slice(0, 12).map(({ id }) => id)),
  };
};

/** Everything that is shown of a state, and everything that goes out, as texts. */
function everything(bench: Workbench, revision: number, brief: Brief): Record<string, string> {
  const state = bench.layOut(revision, brief);
  const stock = finished(stockOf(state));
  const written = finished(bench.write(revision));
  const { offers, form } = finished(bench.tell(written));
  const { score, readings, folded, tonality, account, plans } = written.transcription;
  const midi = (times: 'played' | 'written') => {
    const bytes = deliverMidi(state.desk, { ...DEFAULT_HAND_OVER, times }, written.transcription);
    return Buffer.from(bytes).toString('base64');
  };
  return {
    stock: JSON.stringify(stock),
    summary: JSON.stringify(summarise(written)),
    score: writeMusicXml(score),
    'as played': midi('played'),
    'as written': midi('written'),
    proof: JSON.stringify(finished(proofOf(written))),
    form: JSON.stringify([form, folded]),
    offers: JSON.stringify([offers, readings.map(({ unplayable }) => unplayable)]),
    keys: JSON.stringify(tonality),
    account: JSON.stringify(account),
    roster: JSON.stringify(plans),
  };
}

/** What of a state is otherwise in a workbench that had others before than in one that is new. */
function stale(briefs: readonly Brief[], sources = SOURCES): string[] {
  const bench = new Workbench(sources);
  let own: Record<string, string> = {};
  for (const [revision, brief] of briefs.entries()) own = everything(bench, revision, brief);
  const fresh = everything(new Workbench(sources), briefs.length - 1, briefs.at(-1)!);
  return Object.keys(fresh).filter((name) => own[name] !== fresh[name]);
}

const transcriptionOf = (sources: readonly Source[], brief: Brief): Transcription => {
  const bench = new Workbench(sources);
  bench.layOut(0, brief);
  return finished(bench.write(0)).transcription;
};

/** A decision of any kind, or nothing where the kind refuses it. */
function decided(seed: number, known: Known): readonly PlainDirective[] {
  const made = makeDirective(new Chance(seed), known);
  try {
    return parseBrief({ ...EMPTY_BRIEF, directives: [made] }).directives;
  } catch (error) {
    if (error instanceof BadBriefError) return [];
    throw error;
  }
}

const techniques = (strand: '1/t3c2' | '1/t2c1', ...all: (string | null)[]): PlainDirective[] =>
  all.map((technique) => ({ kind: 'technique', strand, technique }));

describe('what is shown after decisions', () => {
  it.each<[string, PlainDirective[]]>([
    ['how a joined strand is played', techniques('1/t3c2', 'pizzicato', 'muted', null, 'muted')],
    ['how the leading strand is played', techniques('1/t2c1', 'muted', 'pizzicato')],
    [
      'how a lone strand is played',
      [
        { kind: 'technique', strand: '1/t9c7', technique: 'pizzicato' },
        { kind: 'technique', strand: '1/t9c7', technique: 'muted' },
      ],
    ],
    [
      'what a joined strand is played on',
      [
        { kind: 'cast', strand: '1/t5c4', instrument: 'viola' },
        { kind: 'cast', strand: '1/t5c4', instrument: 'piccolo' },
        { kind: 'cast', strand: '1/t3c2', instrument: 'viola' },
      ],
    ],
    [
      'whose staff it is',
      [
        { kind: 'cast', strand: '1/t4c3', instrument: 'oboe' },
        { kind: 'cast', strand: '1/t4c3', instrument: 'flute' },
      ],
    ],
    [
      'where words of another version stand',
      [
        { kind: 'version', source: '1', version: 2 },
        { kind: 'version', source: '1', version: 1 },
      ],
    ],
  ])('is what a new start comes to: %s', (_, directives) => {
    const briefs = [BEGUN];
    for (const each of directives) briefs.push(withDirectives(briefs.at(-1)!, [each]));
    for (let count = 2; count <= briefs.length; count++) expect(stale(briefs.slice(0, count))).toEqual([]);
  });

  it('has the strands of a divided part of a score as they were, where something else is decided', () => {
    const [strand] = knownOf(SCORE, EMPTY_BRIEF).strands as [StrandId];
    const bench = new Workbench(SCORE);
    const divided = withDirectives(EMPTY_BRIEF, [
      { kind: 'split', strand, by: 'chairs', chairs: ['flute', 'flute'] },
    ]);
    const before = bench.layOut(0, divided).desk.performance;
    const after = bench.layOut(1, withDirectives(divided, [{ kind: 'title', title: 'x' }])).desk.performance;
    expect(before.strands.length).toBeGreaterThan(knownOf(SCORE, EMPTY_BRIEF).strands.length);
    expect(after).toBe(before);
  });

  it('is what a new start comes to: a part of a score on the instrument that it has', () => {
    const [strand] = knownOf(SCORE, EMPTY_BRIEF).strands as [StrandId];
    const { plans } = transcriptionOf(SCORE, EMPTY_BRIEF);
    const own = { kind: 'cast' as const, strand, instrument: plans[0]!.instrument.id };
    const decided = withDirectives(EMPTY_BRIEF, [own]);
    expect(stale([EMPTY_BRIEF, decided], SCORE)).toEqual([]);
    expect(transcriptionOf(SCORE, decided).plans[0]!.why).not.toBe(plans[0]!.why);
  });

  // 2,000 sequences were run once (DRAGOMAN_SEQUENCES); these are a share of them.
  it.each([
    ['a performance', SOURCES, BEGUN, 10],
    ['a score', SCORE, EMPTY_BRIEF, 10],
  ])(
    'is what a new start comes to, after any decisions of every kind, undone and done again: %s',
    (...of) => {
      const [, sources, begun, runs] = of;
      const known = knownOf(sources, begun);
      const act = fc.oneof(
        { weight: 5, arbitrary: fc.record({ decide: fc.nat() }) },
        { weight: 1, arbitrary: fc.record({ back: fc.nat(5) }) },
      );
      fc.assert(
        fc.property(fc.array(act, { minLength: 2, maxLength: 7 }), (acts) => {
          const briefs: Brief[] = [begun];
          for (const each of acts) {
            const last = briefs.at(-1)!;
            if ('back' in each) briefs.push(briefs.at(-1 - each.back) ?? last);
            else briefs.push(withDirectives(last, decided(each.decide, known)));
          }
          expect(stale(briefs, sources)).toEqual([]);
        }),
        {
          numRuns: Number(process.env.DRAGOMAN_SEQUENCES ?? runs),
          seed: Number(process.env.DRAGOMAN_SEED ?? 26),
        },
      );
    },
  );
});
