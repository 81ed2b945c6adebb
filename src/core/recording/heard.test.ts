import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import '../../../tests/helpers/properties';
import { FIRST_SOURCE } from '../model/ids';
import { readHeard, writeHeard } from '../sources/audio/document';
import type { Heard } from '../sources/audio/listen';
import { heardAs } from '../sources/audio/source';
import {
  AS_HEARD,
  confidenceOf,
  type HearingSettings,
  type MaybeNote,
  RULES,
  type Rule,
  take,
} from './heard';

const NO_RULES: Record<Rule, number> = { ghosts: 0, ringing: 0, doubled: 0, neighbours: 0, faint: 0 };
const maybe = (
  on: number,
  key: number,
  says: number,
  against: Partial<Record<Rule, number>> = {},
): MaybeNote => ({
  on,
  off: on + 1,
  key,
  velocity: 80,
  cents: 0,
  says,
  rules: { ...NO_RULES, ...against },
});
const taken = (notes: MaybeNote[], settings: Partial<HearingSettings> = {}) =>
  take(notes, { ...AS_HEARD, ...settings });

const notes = fc
  .array(
    fc.record({
      on: fc.integer({ min: 0, max: 300_000 }).map((on) => on / 10_000),
      length: fc.integer({ min: 1, max: 40_000 }).map((length) => length / 10_000),
      key: fc.integer({ min: 21, max: 108 }),
      velocity: fc.integer({ min: 1, max: 127 }),
      cents: fc.integer({ min: -500, max: 500 }).map((cents) => cents / 10),
      says: fc.integer({ min: -6000, max: 9000 }).map((says) => says / 1000),
      rules: fc.record(
        Object.fromEntries(
          RULES.map((rule) => [rule, fc.integer({ min: -8000, max: 3000 }).map((odds) => odds / 1000)]),
        ) as Record<Rule, fc.Arbitrary<number>>,
      ),
    }),
    { maxLength: 60 },
  )
  .map((list) =>
    list
      .map(({ length, ...note }): MaybeNote => ({ ...note, off: Math.round((note.on + length) * 1e4) / 1e4 }))
      .sort((a, b) => a.on - b.on || a.key - b.key),
  );
const threshold = fc.integer({ min: 5, max: 95 }).map((share) => share / 100);
const rules = fc.subarray([...RULES]);

const heardOf = (many: MaybeNote[]): Heard => ({
  facts: { seconds: 40, peak: 0.5, clipped: 0, silentBefore: 0, silentAfter: 0 },
  tuning: -12.5,
  guess: 'many',
  line: many.map(({ rules: _, ...note }) => note),
  many,
  mix: null,
});

describe('what may have been heard', () => {
  it('is taken where it is sure enough, and each rule says what it alone kept out', () => {
    const all = [
      maybe(0, 60, 3),
      maybe(0, 72, 2, { ghosts: -4 }),
      maybe(0.5, 60, 2, { ringing: -5 }),
      maybe(0.5, 61, 1, { neighbours: -3 }),
      maybe(1, 64, -0.5),
      maybe(1.2, 90, -4),
    ];
    const { notes: kept, kept: out, below } = taken(all);
    expect(kept.map(({ index }) => index)).toEqual([0]);
    expect(out).toEqual({ ...NO_RULES, ghosts: 1, ringing: 1, neighbours: 1 });
    expect(below).toBe(1);
    expect(taken(all, { rules: ['ringing', 'neighbours'] }).notes.map(({ key }) => key)).toEqual([60, 72]);
  });

  it('goes on where its key only seems to begin again, and ends where it does', () => {
    const again = [maybe(0, 60, 3), maybe(0.5, 60, 2, { ringing: -5 })];
    expect(taken(again).notes[0]!.off).toBe(1);
    const [first, second] = taken(again, { rules: [] }).notes;
    expect([first!.off, second!.on]).toEqual([0.5, 0.5]);
  });

  it('is taken within a passage, and what sounds past its end ends there', () => {
    const { notes: kept, outside } = taken([maybe(0, 60, 3), maybe(1.5, 62, 3), maybe(3, 64, 3)], {
      from: 1,
      to: 2,
    });
    expect(kept.map(({ on, off }) => [on, off])).toEqual([[1.5, 2]]);
    expect(outside).toBe(2);
  });

  it('is fewer under a higher threshold, and never fewer with a rule less', () => {
    fc.assert(
      fc.property(
        notes,
        threshold,
        threshold,
        rules,
        fc.constantFrom(...RULES),
        (all, one, two, on, rule) => {
          const of = (settings: Partial<HearingSettings>) =>
            new Set(taken(all, settings).notes.map(({ index }) => index));
          const [low, high] = [Math.min(one, two), Math.max(one, two)];
          const many = of({ threshold: low, rules: on });
          for (const index of of({ threshold: high, rules: on })) expect(many).toContain(index);
          const fewer = on.filter((each) => each !== rule);
          const more = of({ threshold: low, rules: fewer });
          for (const index of many) expect(more).toContain(index);
        },
      ),
    );
  });

  it('has each note end after it begins, and no key twice at once', () => {
    fc.assert(
      fc.property(notes, threshold, rules, (all, least, on) => {
        const ends = new Map<number, number>();
        for (const { key, on: begins, off, confidence, index } of taken(all, { threshold: least, rules: on })
          .notes) {
          expect(off).toBeGreaterThan(begins);
          expect(confidence).toBeCloseTo(confidenceOf(all[index]!, on), 9);
          const before = ends.get(key) ?? 0;
          // A hundredth of a second is left of what begins again at once.
          expect(begins).toBeGreaterThanOrEqual(before - 0.0101);
          ends.set(key, off);
        }
      }),
    );
  });
});

describe('the document of what was heard', () => {
  it('is read as it was written', () => {
    fc.assert(
      fc.property(notes, (all) => {
        const heard = heardOf(all);
        expect(readHeard(writeHeard(heard))).toEqual(heard);
      }),
      { numRuns: 30 },
    );
  });

  it('that is damaged is refused in a sentence', () => {
    const bytes = writeHeard(heardOf([maybe(0, 60, 3), maybe(1, 62, 2)]));
    fc.assert(
      fc.property(fc.nat(bytes.length - 1), fc.nat(255), fc.nat(bytes.length), (at, value, length) => {
        const broken = bytes.slice(0, Math.max(20, length));
        broken[Math.min(at, broken.length - 1)] = value;
        try {
          readHeard(broken);
        } catch (error) {
          expect((error as Error).message).toMatch(/^What was heard in this recording is damaged/);
        }
      }),
      { numRuns: 200 },
    );
  });

  it('gives each note an id that stays, whatever is taken beside it', () => {
    fc.assert(
      fc.property(notes, threshold, threshold, (all, one, two) => {
        const idsAt = (least: number) => {
          const heard = heardAs(heardOf(all), { ...AS_HEARD, threshold: least }, FIRST_SOURCE, 'sketch');
          const [strand] = heard.played.strands;
          expect(strand?.notes.length ?? 0).toBe(heard.taken.notes.length);
          return new Map(strand?.notes.map(({ id, on, key }) => [id, `${on} ${key}`]));
        };
        const [few, many] = [idsAt(Math.max(one, two)), idsAt(Math.min(one, two))];
        for (const [id, says] of few) expect(many.get(id)).toBe(says);
      }),
      { numRuns: 60 },
    );
  });
});
