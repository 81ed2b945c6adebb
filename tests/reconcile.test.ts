import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seeded } from '@/core/basics/random';
import { tidyFile } from '@/core/demo/tidy';
import { untidyFile } from '@/core/demo/untidy';
import { QUARTER } from '@/core/model/time';
import { scoreSide } from '@/core/proof/going-out';
import { reconcile } from '@/core/reconcile';
import { agreement, type Difference, totalsOf } from '@/core/reconcile/ledger';
import { type ReadNote, type Side, sideOfPerformance } from '@/core/reconcile/reading';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readPerformance } from '@/core/sources/smf/performance';
import { readSmf } from '@/core/sources/smf/read';
import { transcribeNow } from '@/core/transcribe';
import { DAMAGES, type Damage, damage } from './helpers/damage';
import { layOutFile } from './helpers/desk';
import { briefOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';

const BAR = 4 * QUARTER;

/** Some lines of made music, which never repeats itself: a seeded walk in eighths and quarters. */
function madeSide(lines: number, bars: number, seed: number): Side {
  const random = seeded(seed);
  return {
    kind: 'score',
    lines: Array.from({ length: lines }, (_, line) => {
      const notes: ReadNote[] = [];
      let key = 60 - 5 * line;
      for (let at = 0; at < bars * BAR; ) {
        const length = random() < 0.6 ? QUARTER : QUARTER / 2;
        key = Math.min(90, Math.max(30, key + Math.floor(random() * 9) - 4));
        notes.push({
          id: `${line}/${notes.length}`,
          line,
          key,
          start: at,
          end: Math.min(bars * BAR, at + length),
        });
        at += length;
      }
      return { id: `${line}`, name: `Part ${line + 1}`, unpitched: false, notes };
    }),
    bars: Array.from({ length: bars }, (_, index) => ({
      start: index * BAR,
      length: BAR,
      written: index,
      number: String(index + 1),
      meter: '4/4',
      groups: [QUARTER, QUARTER, QUARTER, QUARTER],
      missing: 0,
      fifths: 0,
      tempo: 120,
    })),
  };
}

/** What the ledger says of notes of the first reading, by their ids. */
function saidOf(one: Side, two: Side): Map<string, Difference[]> {
  const entries = reconcile(one, two)?.entries ?? [];
  return new Map(entries.flatMap(({ one: note, differs }) => (note ? [[note.id, differs]] : [])));
}

describe('two readings laid over each other', () => {
  it('agree throughout where they are the same, each note with itself', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 5 }),
        fc.integer({ min: 1, max: 12 }),
        fc.nat(),
        (lines, bars, seed) => {
          const side = madeSide(lines, bars, seed);
          const ledger = reconcile(side, side)!;
          expect(ledger.entries.every(({ one, two, differs }) => one === two && differs.length === 0)).toBe(
            true,
          );
          expect(ledger.bars.every(({ one, two }) => one === two)).toBe(true);
          expect(ledger.clock).toEqual([]);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('have every note of both in the ledger, once, whatever was done to one of them', () => {
    const notesOf = (side: Side) => side.lines.flatMap(({ notes }) => notes).map(({ id }) => id);
    fc.assert(
      fc.property(fc.subarray([...DAMAGES], { minLength: 1 }), fc.nat(), (kinds, seed) => {
        const one = madeSide(4, 24, seed);
        const { side: two } = damage(one, kinds, seeded(seed + 1));
        const ledger = reconcile(one, two);
        if (!ledger) return;
        const { entries } = ledger;
        expect(entries.flatMap(({ one: note }) => note?.id ?? []).sort()).toEqual(notesOf(one).sort());
        expect(entries.flatMap(({ two: note }) => note?.id ?? []).sort()).toEqual(notesOf(two).sort());
        for (const { one: a, two: b, differs } of entries) {
          expect(differs.includes('missing')).toBe(b === null);
          expect(differs.includes('added')).toBe(a === null);
        }
      }),
      { numRuns: 60 },
    );
  });

  it.each(DAMAGES.filter((kind) => kind !== 'free time'))('tell just what was done: %s', (kind: Damage) => {
    const one = madeSide(5, 40, 3);
    const { side, planted, added } = damage(one, [kind], seeded(7));
    const said = saidOf(one, side);
    for (const [id, differs] of said)
      expect([id, [...differs].sort()]).toEqual([id, [...(planted.get(id) ?? [])].sort()]);
    const alone = reconcile(one, side)!.entries.filter(({ one: note }) => !note);
    expect(alone).toHaveLength(added.size);
  });

  it('say which bars were cut, put in, and played again', () => {
    const one = madeSide(3, 30, 5);
    const cut = damage(one, ['bar cut'], seeded(2)).side;
    expect(reconcile(one, cut)!.bars.filter(({ two }) => two === null)).toHaveLength(1);
    const again = damage(one, ['bars again'], seeded(2)).side;
    const more = reconcile(one, again)!.bars.filter(({ one: own }) => own === null);
    expect(more).toHaveLength(6);
    expect(more.every(({ two, again: of }) => of !== undefined && two! - of === 6)).toBe(true);
  });

  it('name the line that was transposed, and those that were merged', () => {
    const one = madeSide(4, 30, 8);
    const higher = damage(one, ['part transposed'], seeded(1)).side;
    expect(reconcile(one, higher)!.lines.filter(({ transposed }) => transposed === 2)).toHaveLength(1);
    const merged = damage(one, ['tracks merged'], seeded(1)).side;
    expect(reconcile(one, merged)!.lines.filter(({ whole }) => !whole)).toHaveLength(1);
  });

  it('tell other tempos, meters and signatures where they begin', () => {
    const one = madeSide(2, 8, 1);
    const two = {
      ...one,
      bars: one.bars.map((bar, index) => ({
        ...bar,
        tempo: index >= 4 ? 90 : 120,
        fifths: index >= 2 ? 1 : 0,
        number: String(index + 101),
      })),
    };
    expect(reconcile(one, two)!.clock.map(({ kind, one: bar }) => [kind, bar])).toEqual([
      ['number', 0],
      ['key', 2],
      ['tempo', 4],
    ]);
  });

  it('are told to have nothing in common where they have nothing', () => {
    const one = madeSide(2, 12, 1);
    const other: Side = { ...one, lines: [{ id: 'x', name: 'x', unpitched: false, notes: [] }] };
    expect(reconcile(one, other)).toBeNull();
    expect(reconcile(other, one)).toBeNull();
    expect(reconcile(other, other)?.entries ?? []).toEqual([]);
  });

  it('may be many tracks against few', () => {
    const one = madeSide(40, 12, 4);
    const few: Side = {
      ...one,
      lines: [0, 1, 2].map((line) => ({
        id: `m${line}`,
        name: `Merged ${line}`,
        unpitched: false,
        notes: one.lines
          .filter((_, index) => index % 3 === line)
          .flatMap(({ notes }) => notes.map((note) => ({ ...note, line })))
          .sort((a, b) => a.start - b.start || a.key - b.key),
      })),
    };
    const ledger = reconcile(one, few)!;
    const kinds = new Set(ledger.entries.flatMap(({ differs }) => differs));
    expect([...kinds]).toEqual(['part']);
  });
});

describe('the demo', () => {
  const tidy = readPerformance(readSmf(tidyFile()));
  const { score } = transcribeNow(tidy, briefOf());

  it('agrees as a performance, as a score, and as a document read back', () => {
    const back = readMusicXml(new TextEncoder().encode(writeMusicXml(score))).score;
    for (const [one, two] of [
      [sideOfPerformance(tidy), scoreSide(score)],
      [scoreSide(score), scoreSide(back)],
      [sideOfPerformance(tidy), scoreSide(back)],
    ] as const) {
      const ledger = reconcile(one, two)!;
      expect(agreement(totalsOf(ledger.entries))).toBe(1);
      expect(ledger.clock).toEqual([]);
    }
  });

  it('is known again in its untidy performance: drums on other keys, a copy an octave up, key switches', () => {
    const untidy = readPerformance(readSmf(untidyFile()));
    const ledger = reconcile(sideOfPerformance(tidy), sideOfPerformance(untidy))!;
    const { kinds } = totalsOf(ledger.entries);
    expect(kinds.missing).toBe(0);
    expect(kinds.pitch).toBe(0);
    expect(ledger.lines.filter(({ one }) => one === null)).toHaveLength(1);
    expect(ledger.bars.every(({ one, two }) => one === two)).toBe(true);
  });
});

describe('repeats', () => {
  it('played out and not played out are one thing, with what comes again told', () => {
    const phrase: Stroke[] = [60, 62, 64, 65, 67, 69, 71, 72].map((key, index) => [
      480 * index,
      480 * index + 480,
      key,
    ]);
    const desk = layOutFile(madeFile(madeTrack('Flute', 0, phrase)), briefOf());
    const { score } = transcribeNow(desk.performance, briefOf());
    score.bars[1]!.right = { repeat: { direction: 'backward' } };
    const ledger = reconcile(scoreSide(score, false), scoreSide(score))!;
    expect(ledger.bars.map(({ one, two, again }) => [one, two, again])).toEqual([
      [0, 0, undefined],
      [1, 1, undefined],
      [null, 2, 0],
      [null, 3, 1],
    ]);
  });
});
