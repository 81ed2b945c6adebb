import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PITCHED_CLEFS } from '../model/clefs';
import { SWUNG_VALUES } from '../model/score';
import { BadBriefError, EMPTY_BRIEF, parseBrief } from './brief';
import { decide, decidedFor, withDirectives } from './decisions';
import type { PlainDirective } from './kinds';
import { BEAT_UNITS } from './kinds/beats';
import { AS_FOUND } from './kinds/clef';
import { CONTROLLER_USES } from './kinds/controllers';
import { CHANNELS, FORMS, HAND_OVER_PROGRAMS } from './kinds/hand-over';
import { PLAYING } from './kinds/play-like';
import { PROGRAM_USES } from './kinds/programs';
import { SWING_USES } from './kinds/swing';

const strand = fc
  .tuple(fc.integer({ min: 1, max: 99 }), fc.integer({ min: 1, max: 16 }))
  .map(([t, c]) => `1/t${t}c${c}` as const);
const source = fc.constantFrom('1' as const, '2' as const);
const key = fc.integer({ min: 1, max: 127 });

/** A record with a strand, or without one so that it holds for all. */
const anyStrand = <T>(fields: { [K in keyof T]: fc.Arbitrary<T[K]> }) =>
  fc.oneof(fc.record(fields), fc.record({ ...fields, strand })) as fc.Arbitrary<T>;

const directive: fc.Arbitrary<PlainDirective> = fc.oneof(
  fc.record({ kind: fc.constant('leads' as const), source }),
  fc.record({ kind: fc.constant('version' as const), source, version: fc.integer({ min: 1, max: 9 }) }),
  fc.record({ kind: fc.constant('clock-from' as const), source: fc.option(source) }),
  fc.record({ kind: fc.constant('leave-out' as const), strand, out: fc.boolean() }),
  fc.record({ kind: fc.constant('name' as const), strand, name: fc.string({ maxLength: 40 }) }),
  fc.record({
    kind: fc.constant('cast' as const),
    strand,
    instrument: fc.constantFrom('flute', 'harp', 'horn-f'),
  }),
  fc.record({
    kind: fc.constant('staves' as const),
    strand,
    staves: fc.constantFrom(1 as const, 2 as const),
  }),
  fc.record({ kind: fc.constant('join' as const), strand, into: fc.option(strand) }),
  fc.record({
    kind: fc.constant('grid' as const),
    smallest: fc.constantFrom('eighth' as const, '16th' as const),
    triplets: fc.boolean(),
  }),
  fc.record({
    kind: fc.constant('lead' as const),
    strand,
    milliseconds: fc.option(fc.integer({ min: -200, max: 200 })),
  }),
  fc.record({
    kind: fc.constant('swing' as const),
    use: fc.constantFrom(...SWING_USES),
    value: fc.constantFrom(...SWUNG_VALUES),
    ratio: fc.constantFrom(0.55, 0.6, 0.667),
  }),
  fc.record({
    kind: fc.constant('groups' as const),
    numerator: fc.constant(5),
    denominator: fc.constantFrom(4, 8),
    groups: fc.constantFrom<number[]>([], [2, 3], [3, 2]),
    from: fc.nat(4000),
  }),
  anyStrand({
    kind: fc.constant('lengths' as const),
    closing: fc.integer({ min: 0, max: 4 }),
    from: fc.nat(4000),
  }),
  anyStrand({
    kind: fc.constant('voices' as const),
    most: fc.constantFrom<(1 | 2)[]>(1, 2),
    from: fc.nat(4000),
  }),
  fc.record({
    kind: fc.constant('beats' as const),
    ticks: fc.constantFrom<number[]>([], [0, 480, 900, 1500, 2000]),
    perBar: fc.constantFrom(3, 4),
    first: fc.nat(2),
    bars: fc.constantFrom<number[]>([0, 2], [1, 4]),
    unit: fc.constantFrom(...BEAT_UNITS),
  }),
  fc.record({
    kind: fc.constant('meter' as const),
    numerator: fc.option(fc.integer({ min: 4, max: 12 })),
    denominator: fc.constantFrom(4, 8),
    upbeatQuarters: fc.constantFrom(0, 1, 1.5),
  }),
  fc.record({
    kind: fc.constant('place' as const),
    note: fc.constantFrom('1/t1c1/3', '1/t2c1/5', '1/t2c2/4'),
    start: fc.option(fc.constantFrom('0', '5/2', '40/3')),
    end: fc.option(fc.constantFrom('1', '7/2', '14')),
  }),
  fc.record({
    kind: fc.constant('key' as const),
    fifths: fc.option(fc.integer({ min: -7, max: 7 })),
    minor: fc.boolean(),
  }),
  fc.record({ kind: fc.constant('clock' as const), firstBar: fc.integer({ min: 0, max: 9 }) }),
  fc.record({ kind: fc.constant('order' as const), strands: fc.array(strand, { maxLength: 5 }) }),
  fc.record({ kind: fc.constant('title' as const), title: fc.string({ maxLength: 40 }) }),
  fc.record({ kind: fc.constant('split' as const), strand, by: fc.constant('pitch' as const), key }),
  fc.record({
    kind: fc.constant('split' as const),
    strand,
    by: fc.constantFrom('program' as const, null),
  }),
  fc.record({ kind: fc.constant('key-switches' as const), strand, keys: fc.array(key, { maxLength: 4 }) }),
  anyStrand({ kind: fc.constant('hanging' as const), close: fc.boolean() }),
  anyStrand({ kind: fc.constant('stacked' as const), mend: fc.boolean() }),
  anyStrand({ kind: fc.constant('specks' as const), under: fc.nat(100) }),
  anyStrand({
    kind: fc.constant('controllers' as const),
    lanes: fc.array(fc.constantFrom('cc7', 'cc20-31', 'pitch-bend', 'key-pressure'), {
      minLength: 1,
      maxLength: 3,
    }),
    use: fc.constantFrom(...CONTROLLER_USES),
  }),
  anyStrand({ kind: fc.constant('programs' as const), use: fc.constantFrom(...PROGRAM_USES) }),
  anyStrand({
    kind: fc.constant('velocities' as const),
    scale: fc.integer({ min: 1, max: 400 }),
    level: fc.integer({ min: 1, max: 127 }),
    strength: fc.nat(100),
  }),
  fc.record({
    kind: fc.constant('kit' as const),
    strand,
    keys: fc.array(fc.record({ from: key, to: key }), { maxLength: 4 }),
  }),
  fc.record({ kind: fc.constant('channel' as const), strand, channel: fc.integer({ min: 1, max: 16 }) }),
  fc.record({
    kind: fc.constant('clock-event' as const),
    what: fc.constantFrom('tempo' as const, 'meter' as const),
    tick: fc.nat(5),
    mend: fc.constantFrom('keep' as const, 'to-bar' as const, 'drop' as const),
  }),
  fc.record(
    {
      kind: fc.constant('stem' as const),
      stem: fc.constantFrom('a', 'b'),
      part: fc.constantFrom('1/t1c1' as const, null),
      offset: fc.integer({ min: -9, max: 9 }),
      name: fc.constantFrom('Flute', '笛'),
      muted: fc.boolean(),
      hidden: fc.boolean(),
    },
    { requiredKeys: ['kind', 'stem', 'muted'] },
  ),
  anyStrand({
    kind: fc.constant('clef' as const),
    clef: fc.constantFrom(...PITCHED_CLEFS, AS_FOUND),
    staff: fc.integer({ min: 1, max: 3 }),
  }),
  fc.record({ kind: fc.constant('silence' as const), trim: fc.boolean() }),
  fc.record({
    kind: fc.constant('play-like' as const),
    source: fc.constantFrom('2' as const, null),
    takes: fc.uniqueArray(fc.constantFrom(...PLAYING), { minLength: 1 }),
  }),
  anyStrand({ kind: fc.constant('vary' as const), time: fc.nat(60), velocity: fc.nat(40), seed: fc.nat(99) }),
  fc.record({
    kind: fc.constant('meant' as const),
    oddity: fc.constantFrom('key', 'silence', 'mixer 1/t1c1'),
    meant: fc.boolean(),
  }),
  fc.record({
    kind: fc.constant('hand-over' as const),
    form: fc.constantFrom(...FORMS),
    type: fc.constantFrom(0 as const, 1 as const),
    programs: fc.constantFrom(...HAND_OVER_PROGRAMS),
    channels: fc.constantFrom(...CHANNELS),
    leadInBars: fc.nat(32),
    click: fc.boolean(),
    loopBars: fc.nat(99),
  }),
);

describe('a brief as a file', () => {
  it('comes back as it was written', () => {
    fc.assert(
      fc.property(fc.array(directive, { maxLength: 20 }), (directives) => {
        const brief = { ...EMPTY_BRIEF, directives };
        expect(parseBrief(JSON.parse(JSON.stringify(brief)))).toEqual(brief);
      }),
      { numRuns: 300 },
    );
  });

  it.each([
    ['no object', 7, 'This is not a brief.'],
    [
      'another format',
      { format: 'x', version: 1, directives: [] },
      'The brief is not valid: its format is not dragoman-brief.',
    ],
    ['an unknown kind', { ...EMPTY_BRIEF, directives: [{ kind: 'sing' }] }, 'Directive 1 has no known kind.'],
    [
      'a bad strand',
      { ...EMPTY_BRIEF, directives: [{ kind: 'leave-out', strand: 'x', out: true }] },
      /^Directive 1 \(leave-out\) is not valid: strand must match/,
    ],
    [
      'an unknown instrument',
      { ...EMPTY_BRIEF, directives: [{ kind: 'cast', strand: '1/t1c1', instrument: 'kazoo choir' }] },
      'Directive 1 (cast) is not valid: “kazoo choir” is not an instrument of the catalogue.',
    ],
    [
      'a field too many',
      { ...EMPTY_BRIEF, directives: [{ kind: 'title', title: 'x', colour: 1 }] },
      /^Directive 1 \(title\) is not valid: property colour/,
    ],
    [
      'a key beyond the keyboard',
      { ...EMPTY_BRIEF, directives: [{ kind: 'key-switches', strand: '1/t1c1', keys: [128] }] },
      /^Directive 1 \(key-switches\) is not valid: each value in keys/,
    ],
    [
      'a lane that is none',
      { ...EMPTY_BRIEF, directives: [{ kind: 'controllers', lanes: ['volume'], use: 'remove' }] },
      /^Directive 1 \(controllers\) is not valid: each value in lanes/,
    ],
    [
      'a key move that leads nowhere',
      { ...EMPTY_BRIEF, directives: [{ kind: 'kit', strand: '1/t1c10', keys: [{ from: 36 }] }] },
      /^Directive 1 \(kit\) is not valid: to must/,
    ],
    [
      'a hand-over in no form',
      {
        ...EMPTY_BRIEF,
        directives: [
          { kind: 'title', title: 'x' },
          { kind: 'hand-over', form: 'fax' },
        ],
      },
      /^Directive 2 \(hand-over\) is not valid: /,
    ],
    [
      'a variation that would be none of the music’s',
      { ...EMPTY_BRIEF, directives: [{ kind: 'vary', time: 500, velocity: 1, seed: 1 }] },
      'Directive 1 (vary) is not valid: time must not be greater than 60.',
    ],
  ])('is refused in one sentence: %s', (_, data, message) => {
    expect(() => parseBrief(data)).toThrow(BadBriefError);
    expect(() => parseBrief(data)).toThrow(message);
  });
});

describe('what decisions come to for a strand', () => {
  const decided = (...directives: PlainDirective[]) =>
    decidedFor(decide({ ...EMPTY_BRIEF, directives }), '1/t1c1');

  it('is its own before what holds for all, whichever came first', () => {
    expect(
      decided({ kind: 'specks', strand: '1/t1c1', under: 10 }, { kind: 'specks', under: 30 }).specksUnder,
    ).toBe(10);
    expect(
      decided({ kind: 'specks', under: 30 }, { kind: 'specks', strand: '1/t2c2', under: 5 }).specksUnder,
    ).toBe(30);
  });

  it('is for controllers both, with its own last', () => {
    const rules = decided(
      { kind: 'controllers', strand: '1/t1c1', lanes: ['cc7'], use: 'keep' },
      { kind: 'controllers', lanes: ['cc7', 'cc10'], use: 'remove' },
    ).controllers;
    expect(rules?.map((rule) => rule.use)).toEqual(['remove', 'keep']);
  });

  it('forgets a clock mend that is taken back, and what is meant no longer', () => {
    const { clockMends, meant } = decide({
      ...EMPTY_BRIEF,
      directives: [
        { kind: 'clock-event', what: 'tempo', tick: 5, mend: 'drop' },
        { kind: 'clock-event', what: 'tempo', tick: 5, mend: 'keep' },
        { kind: 'meant', oddity: 'key', meant: true },
        { kind: 'meant', oddity: 'key', meant: false },
      ],
    });
    expect(clockMends).toEqual([]);
    expect(meant.size).toBe(0);
  });
});

describe('decisions', () => {
  it('are those of the last directive about each thing', () => {
    fc.assert(
      fc.property(
        fc.array(directive, { maxLength: 30 }),
        fc.array(directive, { maxLength: 5 }),
        (before, added) => {
          const whole = decide({ ...EMPTY_BRIEF, directives: [...before, ...added] });
          let brief = EMPTY_BRIEF;
          for (const each of before) brief = withDirectives(brief, [each]);
          brief = withDirectives(brief, added);
          expect(decide(brief)).toEqual(whole);
        },
      ),
      { numRuns: 300 },
    );
  });

  it('replace what they overrule, so a brief does not grow with every change of mind', () => {
    let brief = EMPTY_BRIEF;
    for (let time = 0; time < 10; time++)
      brief = withDirectives(brief, [{ kind: 'name', strand: '1/t1c1', name: `Name ${time}` }]);
    expect(brief.directives).toEqual([{ kind: 'name', strand: '1/t1c1', name: 'Name 9' }]);
  });
});
