import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BadBriefError, EMPTY_BRIEF, parseBrief } from './brief';
import { decide, withDirectives } from './decisions';
import type { PlainDirective } from './directives';

const strand = fc
  .tuple(fc.integer({ min: 1, max: 99 }), fc.integer({ min: 1, max: 16 }))
  .map(([t, c]) => `t${t}c${c}`);
const directive: fc.Arbitrary<PlainDirective> = fc.oneof(
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
    kind: fc.constant('key' as const),
    fifths: fc.option(fc.integer({ min: -7, max: 7 })),
    minor: fc.boolean(),
  }),
  fc.record({ kind: fc.constant('clock' as const), firstBar: fc.integer({ min: 0, max: 9 }) }),
  fc.record({ kind: fc.constant('order' as const), strands: fc.array(strand, { maxLength: 5 }) }),
  fc.record({ kind: fc.constant('title' as const), title: fc.string({ maxLength: 40 }) }),
);

describe('a brief as a file', () => {
  it('comes back as it was written', () => {
    fc.assert(
      fc.property(fc.array(directive, { maxLength: 20 }), (directives) => {
        const brief = { ...EMPTY_BRIEF, directives };
        expect(parseBrief(JSON.parse(JSON.stringify(brief)))).toEqual(brief);
      }),
      { numRuns: 300, seed: 21 },
    );
  });

  it.each([
    ['no object', 7, 'This is not a brief.'],
    [
      'another format',
      { format: 'x', version: 1, directives: [] },
      'The brief is not valid: format must be equal to dragoman-brief.',
    ],
    [
      'an unknown kind',
      { ...EMPTY_BRIEF, directives: [{ kind: 'sing' }] },
      'Directive 1 of the brief has no known kind.',
    ],
    [
      'a bad strand',
      { ...EMPTY_BRIEF, directives: [{ kind: 'leave-out', strand: 'x', out: true }] },
      /^Directive 1 is not valid: strand must match/,
    ],
    [
      'an unknown instrument',
      { ...EMPTY_BRIEF, directives: [{ kind: 'cast', strand: 't1c1', instrument: 'kazoo choir' }] },
      'Directive 1 is not valid: instrument is not in the catalogue.',
    ],
    [
      'a field too many',
      { ...EMPTY_BRIEF, directives: [{ kind: 'title', title: 'x', colour: 1 }] },
      /^Directive 1 is not valid: property colour/,
    ],
  ])('is refused in one sentence: %s', (_, data, message) => {
    expect(() => parseBrief(data)).toThrow(BadBriefError);
    expect(() => parseBrief(data)).toThrow(message);
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
      { numRuns: 300, seed: 22 },
    );
  });

  it('replace what they overrule, so a brief does not grow with every change of mind', () => {
    let brief = EMPTY_BRIEF;
    for (let time = 0; time < 10; time++)
      brief = withDirectives(brief, [{ kind: 'name', strand: 't1c1', name: `Name ${time}` }]);
    expect(brief.directives).toEqual([{ kind: 'name', strand: 't1c1', name: 'Name 9' }]);
  });
});
