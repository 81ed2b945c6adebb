import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { PlainDirective } from '@/core/decisions/kinds';
import { lanternFerry } from '@/core/demo/lantern-ferry';
import { foldScore } from '@/core/edit/fold';
import { mendedMei } from '@/core/engrave/mend';
import { withoutMultiRests } from '@/core/engrave/multi-rests';
import { hastyTurns, onPaper, pageSize, planPages } from '@/core/engrave/pages';
import { inFull, withSlashes } from '@/core/engrave/slashes';
import { sliceScore } from '@/core/engrave/slice';
import { planSystems } from '@/core/engrave/systems';
import type { PartBar, Score } from '@/core/model/score';
import { multiBarRests } from '@/core/notate/shorthand';
import { performScore } from '@/core/perform';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { type Transcription, transcribeNow } from '@/core/transcribe';
import { readClosed } from './helpers/closure';
import { deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';
import { engraver } from './helpers/verovio';

/** A bass that plays one bar four times, another one, and again; a flute that comes in at bar 6. */
const PATTERN = [36, 43, 36, 41];
const barOf = (at: number, keys: readonly number[]): Stroke[] =>
  keys.map((key, beat) => [1920 * at + 480 * beat, 1920 * at + 480 * beat + 470, key]);
const bass = [0, 1, 2, 3, 4, 5, 6, 7].flatMap((at) => barOf(at, at === 4 ? [38, 40, 41, 43] : PATTERN));
const flute = [5, 6, 7].flatMap((at) => barOf(at, [72, 74, 76, 77]));
const read = (...directives: PlainDirective[]): Transcription => {
  const desk = deskOf(
    madeFile(madeTrack('Flute', 0, flute), madeTrack('Double Bass', 1, bass)),
    ...directives,
  );
  return transcribeNow(desk.performance, desk.brief);
};
const plain = read();
const [fluteId, bassId] = plain.score.parts.map(({ id }) => id);
const bassStrand = plain.plans[1]!.leader;
const shownIn = ({ score }: Transcription, part = 1) => score.parts[part]!.bars.map(({ shown }) => shown);

describe('bars that are like the one before', () => {
  const repeats: PlainDirective = { kind: 'shorthand', use: 'bar-repeats', strand: bassStrand };

  it('are signs on request, in MusicXML too, and sound as before', () => {
    expect(shownIn(plain).every((shown) => shown === undefined)).toBe(true);
    const short = read(repeats);
    expect(shownIn(short)).toEqual([
      undefined,
      'repeat',
      'repeat',
      'repeat',
      undefined,
      undefined,
      'repeat',
      'repeat',
    ]);
    expect(shownIn(short, 0).every((shown) => shown === undefined)).toBe(true);
    const document = writeMusicXml(short.score);
    expect(schemaFaults(parseXml(document))).toEqual([]);
    expect(readClosed(parseXml(document)).faults).toEqual([]);
    expect(document.match(/<measure-repeat type="start">1</g)).toHaveLength(2);
    // The notes are there all the same.
    expect(document.match(/<pitch>/g)).toHaveLength(44);
    expect(writeMusicXml(inFull(short.score))).toBe(writeMusicXml(plain.score));
    expect(read(repeats, { ...repeats, use: 'written-out' } as PlainDirective).score).toEqual(plain.score);
  });

  it('come back as they went out; with a rest in the place of their notes they sound as the bar before', () => {
    const { score } = read(repeats);
    const document = writeMusicXml(score);
    const again = readMusicXml(new TextEncoder().encode(document));
    expect([...again.lost]).toEqual([]);
    expect(writeMusicXml(again.score)).toBe(document);
    // As others write it: the sign over a rest.
    const rested = {
      ...score,
      parts: score.parts.map((part) => ({
        ...part,
        bars: part.bars.map((bar, index): PartBar => {
          if (bar.shown !== 'repeat') return bar;
          const { length } = score.bars[index]!;
          const whole = {
            kind: 'rest' as const,
            wholeBar: true as const,
            onset: 0,
            duration: length,
            value: { type: 'whole' as const, dots: 0 },
          };
          return { ...bar, voices: [{ voice: 1, staff: 1, items: [whole] }] };
        }),
      })),
    };
    const read2 = readMusicXml(new TextEncoder().encode(writeMusicXml(rested)));
    const heard = ({ score: of }: { score: Score }) =>
      performScore(of).parts[1]!.notes.map(({ on, key }) => [on, key]);
    expect(heard(read2)).toEqual(heard(again));
    expect(heard(read2)).toHaveLength(32);
  });

  it('are none where a sign, a text or another articulation stands', () => {
    const note = plain.score.parts[1]!.bars[2]!.voices[0]!.items[0]!;
    const id = note.kind === 'chord' ? note.notes[0]!.sources[0]! : null;
    const marked = read(repeats, { kind: 'sign', note: id!, sign: 'accent', put: true });
    expect(shownIn(marked).slice(0, 4)).toEqual([undefined, 'repeat', undefined, undefined]);
  });

  it('are written out where they no longer follow it once sections are folded', () => {
    const short = read(repeats);
    const folded = foldScore(
      short.score,
      [{ from: 1, length: 1, passes: 3, ending: 0, lastEnding: 0 }],
      null,
    );
    expect(folded.score.parts[1]!.bars.map(({ shown }) => shown)).toEqual([
      undefined,
      undefined,
      undefined,
      undefined,
      'repeat',
      'repeat',
    ]);
  });

  it('can be slashes, one for each beat, which the engraver draws as such', async () => {
    const slashes = read({ kind: 'shorthand', use: 'slashes', strand: bassStrand, from: 0, to: 2 * 1920 });
    expect(shownIn(slashes).slice(0, 3)).toEqual(['slashes', 'slashes', undefined]);
    const document = writeMusicXml(slashes.score);
    expect(schemaFaults(parseXml(document))).toEqual([]);
    expect(document.match(/<slash type="start" use-stems="no"\/>/g)).toHaveLength(1);
    const drawn = withSlashes(slashes.score).parts[1]!.bars;
    expect(drawn[0]!.voices[0]!.items.map((item) => item.kind === 'chord' && item.notes[0]!.head)).toEqual([
      'slash',
      'slash',
      'slash',
      'slash',
    ]);
    const toolkit = await engraver();
    expect(toolkit.loadData(writeMusicXml(withSlashes(slashes.score)))).toBe(1);
  });
});

describe('rests over several bars', () => {
  it('are one on paper, where all parts rest and nothing stands between', () => {
    const part = onPaper(plain.score, new Set([fluteId!]));
    expect(part.multiRests).toEqual([{ from: 0, to: 5 }]);
    expect(onPaper(plain.score, new Set([fluteId!, bassId!])).multiRests).toBeUndefined();
    expect(part.parts[0]!.name).toBe('');
    const document = writeMusicXml(part);
    expect(schemaFaults(parseXml(document))).toEqual([]);
    expect(document.match(/<multiple-rest>5<\/multiple-rest>/g)).toHaveLength(1);
  });

  it('end where a player must see something: a rehearsal mark, a key, a meter, a tempo (common practice)', () => {
    const { score } = plain;
    const part = onPaper(score, new Set([fluteId!]));
    const runs = (more: object) => multiBarRests({ ...part, ...more });
    expect(runs({ rehearsals: [{ bar: 2, text: 'A' }] })).toEqual([
      { from: 0, to: 2 },
      { from: 2, to: 5 },
    ]);
    expect(runs({ keys: [...part.keys, { bar: 4, fifths: 2, minor: false }] })).toEqual([{ from: 0, to: 4 }]);
    expect(runs({ tempos: [{ bar: 1, at: 0, quartersPerMinute: 90, printed: 90 }] })).toEqual([
      { from: 1, to: 5 },
    ]);
    expect(runs({ tempos: [{ bar: 1, at: 0, quartersPerMinute: 90, printed: null }] })).toEqual([
      { from: 0, to: 5 },
    ]);
  });

  it('are never cut by a system, and take the room of one thing', () => {
    const part = onPaper(plain.score, new Set([fluteId!]));
    const plans = planSystems(part, new Set([fluteId!]), 30);
    // The flute rests in all of them, which is long enough to turn in.
    expect(plans[0]).toEqual({ from: 0, to: 5, rest: 10 });
    const cut = sliceScore(part, new Set([fluteId!]), 0, 5);
    expect(cut.multiRests).toEqual([{ from: 0, to: 5 }]);
  });

  it('keep what stands over them when they are engraved, and the signatures of transposing parts after them', async () => {
    const score = lanternFerry();
    const ids = new Set(score.parts.filter(({ name }) => /Saxophone|Voice/.test(name)).map(({ id }) => id));
    const own = onPaper(score, ids);
    expect(own.multiRests!.length).toBeGreaterThan(1);
    const whole = writeMusicXml(own);
    const { document, rests } = withoutMultiRests(whole);
    expect(document).not.toContain('multiple-rest');
    expect(rests).toEqual(own.multiRests!.map(({ from, to }) => ({ measure: from, count: to - from })));
    const toolkit = await engraver();
    expect(toolkit.loadData(document)).toBe(1);
    const mended = mendedMei(document, () => toolkit.getMEI(), rests)!;
    expect(toolkit.loadData(mended)).toBe(1);
    const drawn = toolkit.getMEI();
    expect(drawn.match(/<multiRest\b/g)).toHaveLength(ids.size * rests.length);
    expect(drawn.match(/<reh\b/g)).toHaveLength(score.rehearsals.length);
    const bars = score.bars.length - rests.reduce((sum, { count }) => sum + count - 1, 0);
    expect(drawn.match(/<measure\b/g)).toHaveLength(bars);
    // Every bar of notes is there, under its own number.
    const numbers = [...drawn.matchAll(/<measure\b[^>]* n="(\d+)"/g)].map(([, number]) => Number(number));
    expect(numbers).toEqual([...numbers].sort((one, other) => one - other));
  });
});

describe('pages', () => {
  it('hold as many systems as fit, spread over all but the last, each once and in order', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 20, max: 400 }), { minLength: 1, maxLength: 40 }),
        fc.integer({ min: 400, max: 1200 }),
        (heights, other) => {
          const pages = planPages(heights, { first: other - 60, other }, { least: 10, most: 60 });
          expect(pages.flatMap(({ systems }) => systems)).toEqual(heights.map((_, index) => index));
          pages.forEach(({ systems, gap }, page) => {
            const room = page === 0 ? other - 60 : other;
            const used =
              systems.reduce((sum, system) => sum + heights[system]!, 0) + gap * (systems.length - 1);
            if (systems.length > 1) expect(used).toBeLessThanOrEqual(room + 1e-6);
            expect(gap).toBeGreaterThanOrEqual(10);
            // Nothing that would still have fitted is on the next page.
            const next = pages[page + 1]?.systems[0];
            if (next !== undefined) {
              const least = systems.reduce((sum, system) => sum + heights[system]!, 0) + 10 * systems.length;
              expect(least + heights[next]!).toBeGreaterThan(room);
            }
          });
        },
      ),
    );
  });

  it('that are turned end in rests where that can be had, and hold every system once and in order all the same', () => {
    const plan = (count: number, rests: number[]) =>
      planPages(Array(count).fill(100), { first: 500, other: 500 }, { least: 10, most: 60 }, rests);
    // Four fit a page; a rest after the third is worth a shorter page, and after page 3 there is one anyway.
    const rests = Array.from({ length: 13 }, (_, system) => (system === 2 || system === 10 ? 3 : 0));
    const pages = plan(13, rests);
    expect(pages[0]!.systems).toEqual([0, 1, 2]);
    expect(pages[2]!.systems.at(-1)).toBe(10);
    expect(hastyTurns(pages, rests)).toEqual([]);
    // No rest anywhere: the pages are as full as can be, and say where they are turned in haste.
    const none = plan(13, Array(13).fill(0.5));
    expect(none.map(({ systems }) => systems.length)).toEqual([4, 4, 4, 1]);
    expect(hastyTurns(none, Array(13).fill(0.5))).toEqual([
      { page: 1, rest: 0.5 },
      { page: 3, rest: 0.5 },
    ]);
    // Two pages lie open side by side.
    expect(plan(8, Array(8).fill(0)).map(({ systems }) => systems.length)).toEqual([4, 4]);
    expect(hastyTurns(plan(8, Array(8).fill(0)), Array(8).fill(0))).toEqual([]);
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 20, max: 300 }), fc.double({ min: 0, max: 5, noNaN: true })), {
          minLength: 1,
          maxLength: 40,
        }),
        fc.integer({ min: 300, max: 1200 }),
        (systems, other) => {
          const heights = systems.map(([height]) => height);
          const own = systems.map(([, rest]) => rest);
          const room = { first: other, other };
          const gap = { least: 10, most: 60 };
          const turned = planPages(heights, room, gap, own);
          expect(turned.flatMap((page) => page.systems)).toEqual(heights.map((_, index) => index));
          for (const { systems: held } of turned) {
            const used = held.reduce((sum, system) => sum + heights[system]!, 0) + 10 * (held.length - 1);
            if (held.length > 1) expect(used).toBeLessThanOrEqual(other);
          }
          const full = planPages(heights, room, gap);
          const haste = (pages: typeof full) =>
            hastyTurns(pages, own).reduce((sum, { rest }) => sum + 1 - rest / 2, 0);
          // At most as many pages more as turns were won by them.
          expect(turned.length - full.length).toBeLessThanOrEqual(Math.ceil((4 / 3) * haste(full)));
        },
      ),
    );
  });

  it('have the sizes of the standard, upright or across', () => {
    expect(pageSize({ paper: 'A4', landscape: false, staff: 7, margin: 14 })).toEqual({
      width: 210,
      height: 297,
      inner: { width: 182, height: 269 },
    });
    expect(pageSize({ paper: 'Letter', landscape: true, staff: 7, margin: 10 }).width).toBe(279.4);
  });
});
