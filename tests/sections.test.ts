import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { PlainDirective } from '@/core/decisions/kinds';
import { type BarLook, findSections, sectionName } from '@/core/infer/form/sections';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import type { SmfEvent } from '@/core/sources/smf/events';
import { transcribeNow } from '@/core/transcribe';
import { deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

/** A bar of chords, or a bar of a quick line with a bass, over one of several harmonies. */
const calm = (at: number): Stroke[] =>
  [60, 64, 67].map((key) => [1920 * at, 1920 * at + 1900, key + (at % 2) * 5, 60]);
const busy = (at: number): Stroke[] =>
  Array.from(
    { length: 8 },
    (_, each): Stroke => [
      1920 * at + 240 * each,
      1920 * at + 240 * each + 230,
      69 + ((each * 2 + at) % 9),
      95,
    ],
  );
const form = (plan: string) =>
  [...plan].flatMap((letter, section) =>
    Array.from({ length: 8 }, (_, bar) => (letter === 'A' ? calm : busy)(8 * section + bar)).flat(),
  );
const marker = (tick: number, text: string): SmfEvent => ({
  kind: 'marker',
  tick,
  type: 6,
  bytes: new TextEncoder().encode(text),
});
const read = (strokes: Stroke[], more: SmfEvent[], ...directives: PlainDirective[]) => {
  const desk = deskOf(madeFile(madeTrack('Piano', 0, strokes, more)), ...directives);
  return transcribeNow(desk.performance, desk.brief);
};
const offered = (plan: string, more: SmfEvent[] = []) =>
  read(form(plan), more).told!.offers[0]!.filter(({ kind }) => kind === 'rehearsals');

describe('sections', () => {
  it('begin where the music changes, and get letters in order', () => {
    const result = read(form('ABAB'), []);
    const bars = result.score.bars.map(({ start }) => start);
    const marks = offered('ABAB').map(({ mark, from }) => [mark, bars.indexOf(from)]);
    expect(marks).toEqual([
      ['A', 8],
      ['B', 16],
      ['C', 24],
    ]);
    expect(result.score.rehearsals).toEqual([]);
  });

  it('are none in a piece of one texture, and none where the file names its own', () => {
    expect(offered('AAAA')).toEqual([]);
    expect(offered('ABAB', [marker(8 * 1920, 'Chorus')])).toEqual([]);
  });

  it('are rehearsal marks where they are chosen, one or all, and go out', () => {
    const { score } = read(form('ABAB'), [], { kind: 'marks', what: 'rehearsals', use: 'shown' });
    expect(score.rehearsals).toEqual([
      { bar: 8, text: 'A' },
      { bar: 16, text: 'B' },
      { bar: 24, text: 'C' },
    ]);
    const document = writeMusicXml(score);
    expect(schemaFaults(parseXml(document))).toEqual([]);
    expect(document.match(/<rehearsal/g)).toHaveLength(3);
    const one = read(form('ABAB'), [], {
      kind: 'marks',
      what: 'rehearsals',
      use: 'shown',
      from: 16 * 1920,
      to: 16 * 1920 + 1,
    });
    expect(one.score.rehearsals).toEqual([{ bar: 16, text: 'A' }]);
    expect([sectionName(0), sectionName(25), sectionName(26)]).toEqual(['A', 'Z', 'AA']);
  });

  it('are never shorter than four bars, whatever the bars are like', () => {
    const look = fc.record({
      chroma: fc.array(fc.double({ min: 0, max: 4, noNaN: true }), { minLength: 12, maxLength: 12 }),
      attacks: fc.array(fc.nat(16), { minLength: 3, maxLength: 3 }),
      loudness: fc.integer({ min: 0, max: 127 }),
      begins: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(look, { maxLength: 60 }), (bars: BarLook[]) => {
        const starts = [0, ...findSections(bars).map(({ bar }) => bar), bars.length];
        if (starts.length === 2) return;
        starts.slice(1).forEach((bar, at) => {
          expect(bar - starts[at]!).toBeGreaterThanOrEqual(4);
        });
      }),
      { numRuns: 60 },
    );
  });
});
