import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import '../../../tests/helpers/properties';
import { finished } from '../basics/steps';
import { type Candidate, FEATURES, PARTIALS, type Strength } from './candidates';
import { AT, among, COMPANY } from './company';
import { RULES } from './heard';
import type { Tree } from './trees';
import { type AllWeights, alone, said } from './weigh';

const SIZE = FEATURES.length + COMPANY.length;
const NO_RULES = { ghosts: 0, ringing: 0, doubled: 0, neighbours: 0, faint: 0 };

/** A tree of two questions: its root asks for one thing, its second child for another. */
const trees = fc
  .record({
    first: fc.nat(SIZE - 1),
    second: fc.nat(SIZE - 1),
    edges: fc.tuple(fc.integer({ min: -3, max: 3 }), fc.integer({ min: -3, max: 3 })),
    says: fc.array(fc.integer({ min: -40, max: 40 }), { minLength: 5, maxLength: 5 }),
  })
  .map(
    ({ first, second, edges: [low, high], says }): Tree => ({
      of: [first, -1, second, -1, -1],
      at: [low, 0, high, 0, 0],
      next: [1, 0, 3, 0, 0],
      says: says.map((value) => value / 10),
    }),
  );
const seen = fc.array(fc.integer({ min: -4, max: 4 }), { minLength: SIZE, maxLength: SIZE });

const candidate = (on: number, key: number, level: number, more: Partial<Candidate> = {}): Candidate => ({
  on,
  off: on + 50,
  rings: on + 50,
  key,
  loud: level,
  cents: 0,
  seen: [],
  own: { level, frame: 0.5, onset: 0.5 },
  over: PARTIALS.map((): Strength => ({ level: -60, frame: 0, onset: 0 })),
  under: PARTIALS.map(() => -80),
  ...more,
});

describe('what is learnt of a note', () => {
  it('is divided among the rules whose questions were asked, and nothing of it is lost', () => {
    fc.assert(
      fc.property(
        fc.array(trees, { maxLength: 6 }),
        seen,
        fc.integer({ min: -3, max: 3 }),
        (all, row, bias) => {
          const weights: AllWeights = {
            alone: { bias, trees: all },
            among: { bias, trees: all },
            usual: { ...NO_RULES, ghosts: 0.5, faint: -0.25 },
          };
          const [share] = alone([candidate(0, 60, -20, { seen: row })], weights.alone);
          const { says, rules } = said(row, weights);
          const odds = RULES.reduce((sum, rule) => sum + rules[rule], says);
          expect(1 / (1 + Math.exp(-odds))).toBeCloseTo(share!, 9);
        },
      ),
    );
  });
});

describe('a note among others', () => {
  /** Ten notes whose octave is heard 6 dB below each, then one over an octave that is as loud as said. */
  const overOctave = (level: number) => {
    const octave = PARTIALS.indexOf(12);
    const tones = Array.from({ length: 10 }, (_, at) =>
      candidate(at * 100, 55 + at, -20, {
        over: PARTIALS.map((_, partial) => ({
          level: partial === octave ? -6 : -60,
          frame: 0.1,
          onset: 0.1,
        })),
      }),
    );
    const below = candidate(1100, 60, -20);
    const above = candidate(1100, 72, level, { under: PARTIALS.map((_, at) => (at === octave ? -20 : -80)) });
    const all = [...tones, below, above];
    const likely = Float64Array.from(all, (each) => (each === above ? 0.4 : 0.9));
    return finished(among(all, likely, 86)).at(-1)![AT.over]!;
  };

  it('is told by how far it exceeds what partials of this recording usually are', () => {
    expect(overOctave(-26)).toBeCloseTo(0, 6);
    expect(overOctave(-14)).toBeCloseTo(1.2, 6);
    expect(overOctave(-36)).toBeCloseTo(-1, 6);
  });
});
