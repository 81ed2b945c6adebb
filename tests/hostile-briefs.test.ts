import { getMetadataStorage } from 'class-validator';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lostInCleaning } from '@/core/clean/desk';
import { BadBriefError, EMPTY_BRIEF, MOST_DIRECTIVES, parseBrief } from '@/core/decisions/brief';
import { decide, withDirectives, wordsOf } from '@/core/decisions/decisions';
import { KINDS, type KindName, type PlainDirective } from '@/core/decisions/kinds';
import { deliverMidi } from '@/core/deliver';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readSmf } from '@/core/sources/smf/read';
import { takeStock } from '@/core/stock/inventory';
import { findOddities } from '@/core/stock/oddities';
import { transcribeNow, unaccounted } from '@/core/transcribe';
import { layOutFile } from './helpers/desk';
import { madeFile, madeTrack, meterAt, type Stroke } from './helpers/made-file';

const line = (from: number): Stroke[] =>
  Array.from({ length: 40 }, (_, at): Stroke => [at * 240, at * 240 + 200, from + ((at * 5) % 12)]);
const smf = madeFile(
  { events: [meterAt(0, 4, 4), meterAt(5760, 3, 4)] },
  madeTrack('Violin', 0, line(62)),
  madeTrack('Drums', 9, line(36)),
  madeTrack('Piano', 2, [...line(48), ...line(64)]),
);

/** The fields that a kind of directive has, by what checks them. */
const fieldsOf = (kind: KindName): string[] => [
  ...new Set(
    getMetadataStorage()
      .getTargetValidationMetadatas(KINDS[kind].type, '', true, false)
      .map(({ propertyName }) => propertyName)
      .filter((name) => name !== 'kind'),
  ),
];

const NASTY: readonly unknown[] = [
  undefined,
  null,
  Number.NaN,
  Number.POSITIVE_INFINITY,
  -1,
  0,
  0.5,
  1,
  2,
  3,
  4,
  7,
  16,
  64,
  128,
  999,
  1e9,
  2 ** 31,
  2 ** 53,
  1e300,
  -0,
  true,
  false,
  '',
  '1',
  '1/t2c1',
  '1/t3c10',
  '1/t4c3s2',
  '9/t9c9',
  '1/t2c1/3',
  '1/t2c1/999999999',
  't2c1',
  '__proto__',
  'constructor',
  '99999999999999/1',
  '0/1',
  '7/3',
  'x'.repeat(10_000),
  [],
  [0],
  [4, 3, 2, 1],
  [0, 1, 2, 3, 4],
  [0, 0.01, 0.02, 0.03],
  [0, 480, 960, 1e12],
  [2, 3],
  [null],
  [{}],
  ['1/t2c1', '1/t2c1'],
  ['cc7', 'pitch-bend'],
  {},
  { from: 1, to: 2 },
  { toString: 1 },
];

/** Words that fields ask for, from all kinds at once: most combinations contradict each other. */
const WORDS = [
  'eighth',
  '16th',
  '32nd',
  'swung',
  'straight',
  'found',
  'pitch',
  'program',
  'key-switch',
  'passage',
  'remove',
  'first',
  'neutral',
  'none',
  'instrument',
  'number',
  'flute',
  'drum-set',
  'tempo',
  'meter',
  'to-bar',
  'drop',
  'plain',
  'full',
  'clock',
  'loops',
  'general-midi',
  'each',
  'one',
];

const value = fc.oneof(fc.constantFrom(...NASTY), fc.constantFrom(...WORDS), fc.integer(), fc.double());

const directive = fc
  .constantFrom(...(Object.keys(KINDS) as KindName[]))
  .chain((kind) =>
    fc
      .record(Object.fromEntries(fieldsOf(kind).map((field) => [field, value])), { requiredKeys: [] })
      .map((fields) => ({ kind, ...fields })),
  );

/** Everything that a job does with its brief. */
function everything(directives: readonly PlainDirective[]): void {
  const brief = { ...EMPTY_BRIEF, directives };
  const desk = layOutFile(readSmf(new Uint8Array(bytes)), brief);
  const { file, performance, decisions } = desk;
  JSON.stringify(takeStock(file, performance, decisions));
  findOddities(performance, decisions);
  const { score, account } = transcribeNow(performance, brief);
  expect(unaccounted(account)).toBe(0);
  expect(lostInCleaning(desk)).toBe(0);
  const document = writeMusicXml(score);
  expect(document).not.toContain('NaN');
  expect(document).not.toContain('undefined');
  expect(document).not.toContain('Infinity');
  expect(readSmf(deliverMidi(desk)).mends.filter(({ what }) => !what.includes('time'))).toEqual([]);
  for (const each of directives) expect(wordsOf(each)).not.toMatch(/undefined|NaN|\[object/);
}

const { writeSmf } = await import('@/core/sources/smf/write');
const bytes = writeSmf(smf);

describe('a brief made of nonsense', () => {
  it('is refused in one sentence that names directive and field, or obeyed as far as the source allows', () => {
    let obeyed = 0;
    fc.assert(
      fc.property(fc.array(directive, { minLength: 1, maxLength: 2 }), (directives) => {
        let brief: ReturnType<typeof parseBrief>;
        try {
          brief = parseBrief({ ...EMPTY_BRIEF, directives });
        } catch (error) {
          expect(error).toBeInstanceOf(BadBriefError);
          expect((error as Error).message).toMatch(/^Directive \d+ \([a-z-]+\) is not valid: \S.*\.$/);
          return;
        }
        obeyed++;
        everything(brief.directives);
      }),
      { numRuns: 2500 },
    );
    expect(obeyed).toBeGreaterThan(5);
  });

  it('that is well formed by itself is obeyed with any other, in any order', () => {
    const valid = directive.filter((each) => {
      try {
        parseBrief({ ...EMPTY_BRIEF, directives: [each] });
        return true;
      } catch {
        return false;
      }
    });
    fc.assert(
      fc.property(fc.array(valid, { minLength: 2, maxLength: 8 }), (directives) => {
        const brief = parseBrief({ ...EMPTY_BRIEF, directives });
        everything(brief.directives);
        expect(decide(withDirectives(EMPTY_BRIEF, brief.directives))).toEqual(decide(brief));
      }),
      { numRuns: 60 },
    );
  });

  const one = (fields: object) => () => parseBrief({ ...EMPTY_BRIEF, directives: [fields] });
  it.each([
    [
      'bars that go back',
      { kind: 'beats', ticks: [0, 480, 960, 1440], perBar: 4, first: 0, bars: [4, 3, 2, 1] },
      'Directive 1 (beats) is not valid: bars must ascend.',
    ],
    [
      'beats that go back',
      { kind: 'beats', ticks: [0, 480, 470, 1440], perBar: 4, first: 0 },
      'Directive 1 (beats) is not valid: ticks must ascend.',
    ],
    ['a key without fifths', { kind: 'key', minor: true }, /^Directive 1 \(key\) is not valid: fifths must/],
    [
      'a meter without a numerator',
      { kind: 'meter', denominator: 4, upbeatQuarters: 0 },
      /^Directive 1 \(meter\) is not valid: numerator must/,
    ],
    [
      'an upbeat of a bar',
      { kind: 'meter', numerator: 3, denominator: 4, upbeatQuarters: 3 },
      'Directive 1 (meter) is not valid: upbeatQuarters must be less than a bar of 3/4.',
    ],
    [
      'a strand that is null',
      { kind: 'specks', strand: null, under: 5 },
      /^Directive 1 \(specks\) is not valid: strand must match/,
    ],
    [
      'groups that do not add up',
      { kind: 'groups', numerator: 7, denominator: 8, groups: [3, 3] },
      'Directive 1 (groups) is not valid: groups must add up to 7.',
    ],
  ])('is refused: %s', (_, fields, message) => {
    expect(one(fields)).toThrow(BadBriefError);
    expect(one(fields)).toThrow(message);
  });

  it('may not reach into what objects are made of', () => {
    const text =
      '{"format":"dragoman-brief","version":2,"directives":[{"kind":"title","title":"x","__proto__":{"evil":1}}]}';
    expect(() => parseBrief(JSON.parse(text))).not.toThrow(TypeError);
    expect(({} as { evil?: number }).evil).toBeUndefined();
    for (const kind of ['__proto__', 'constructor', 'toString'])
      expect(one({ kind })).toThrow('Directive 1 has no known kind.');
  });

  it('of a million directives is refused before anything is looked at', () => {
    const directives = new Array<object>(1_000_000).fill({ kind: 'title', title: 'x' });
    const reads = new Proxy(directives, {
      get: (all, name) => {
        if (name === '0') throw new Error('looked at');
        return Reflect.get(all, name);
      },
    });
    expect(() => parseBrief({ ...EMPTY_BRIEF, directives: reads })).toThrow(
      `The brief has 1,000,000 directives; ${MOST_DIRECTIVES.toLocaleString('en')} are the most that can be read.`,
    );
  });

  it('is told where the source cannot follow, and the rest of it holds', () => {
    const far = madeFile(
      madeTrack('Flute', 0, [
        [0, 480, 70],
        [480 * 4 * 400, 480 * 4 * 400 + 480, 72],
      ]),
    );
    const meter: PlainDirective = { kind: 'meter', numerator: 1, denominator: 32, upbeatQuarters: 0 };
    const desk = layOutFile(far, { ...EMPTY_BRIEF, directives: [meter, { kind: 'title', title: 'Kept' }] });
    expect(desk.refusals).toEqual([
      { step: 'meter', why: 'A meter of 1/32 would make 12,809 bars of this piece; 10,000 are the most.' },
    ]);
    expect(desk.decisions.title).toBe('Kept');
    const close: PlainDirective = { kind: 'beats', ticks: [0, 0.01, 0.02, 0.03], perBar: 1, first: 0 };
    expect(layOutFile(far, { ...EMPTY_BRIEF, directives: [close] }).refusals[0]!.why).toBe(
      'Following these beats would make over 10,000 bars of this piece; 10,000 are the most.',
    );
  });

  it('that makes a grace note where nothing begins has it written otherwise, never dropped', () => {
    const place: PlainDirective = { kind: 'place', note: '1/t2c1/1', start: '7/3', grace: true };
    const brief = { ...EMPTY_BRIEF, directives: [place] };
    const { account } = transcribeNow(layOutFile(smf, brief).performance, brief);
    expect(unaccounted(account)).toBe(0);
    expect(account.unwritable).toBe(0);
  });

  it('that places notes after the end of the piece has them where they were heard, and is told', () => {
    const place: PlainDirective = { kind: 'place', note: '1/t2c1/1', start: '99999999999999' };
    const brief = { ...EMPTY_BRIEF, directives: [place] };
    const { account, placedBeyond } = transcribeNow(layOutFile(smf, brief).performance, brief);
    expect([unaccounted(account), placedBeyond]).toEqual([0, 1]);
  });
});
