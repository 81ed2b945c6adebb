import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { lanternFerry } from '@/core/demo/lantern-ferry';
import type { BarSignChoice } from '@/core/model/bar-signs';
import { mapNotes, type Note, writtenKeys } from '@/core/model/score';
import { WHOLE } from '@/core/model/time';
import { showAccidentals } from '@/core/notate/accidentals';
import { withBarSigns } from '@/core/rewrite/bar-signs';
import { readScore, type ScoreReading } from '@/core/sources/musicxml/source';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import './helpers/properties';
import { parseXml, schemaFaults } from './helpers/schema';

const read = (text: string) => finished(readScore(new TextEncoder().encode(text), '1'));

const note = (step: string, alter = 0, accidental = '') =>
  `<note><pitch><step>${step}</step>${alter ? `<alter>${alter}</alter>` : ''}<octave>5</octave></pitch><duration>2</duration><voice>1</voice><type>half</type>${accidental ? `<accidental>${accidental}</accidental>` : ''}</note>`;
const attributes = (more: string) => `<attributes><divisions>1</divisions>${more}</attributes>`;
const scoreOf = (...parts: string[][]) =>
  `<score-partwise version="4.0"><part-list>${parts.map((_, at) => `<score-part id="P${at + 1}"><part-name>Part ${at + 1}</part-name></score-part>`).join('')}</part-list>${parts
    .map(
      (bars, part) =>
        `<part id="P${part + 1}">${bars.map((inside, at) => `<measure number="${at + 1}">${inside}</measure>`).join('')}</part>`,
    )
    .join('')}</score-partwise>`;
const key = (bar: number, fifths: number | null, minor = false): BarSignChoice => ({
  at: bar * WHOLE,
  what: 'key',
  put: fifths !== null,
  ...(fifths !== null && { fifths, minor }),
});
const signed = (text: string, ...choices: BarSignChoice[]): ScoreReading & { refused: readonly string[] } => {
  const { reading, refused } = withBarSigns(read(text), choices);
  return { ...reading, refused };
};
const barsOf = (text: string, part: number) =>
  (text.split('<part id=')[part]!.match(/<measure .*?<\/measure>/gs) ?? []).map((bar) =>
    bar.replace(/^<measure[^>]*>|<\/measure>$/g, ''),
  );

describe('keys at bars of a score that was read', () => {
  const four = '<time><beats>4</beats><beat-type>4</beat-type></time>';
  const flute = [
    attributes(`<key><fifths>0</fifths></key>${four}`) + note('F', 1, 'sharp') + note('B'),
    note('F', 1, 'sharp') + note('C'),
    note('F') + note('F', 1, 'sharp'),
  ];

  it('stand in every part as it reads them, and notes have the accidentals that they ask for', () => {
    const clarinet = [
      attributes(
        `<key><fifths>2</fifths></key>${four}<transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose>`,
      ) +
        note('G', 1, 'sharp') +
        note('C', 1),
      note('G', 1, 'sharp') + note('D'),
      note('G') + note('G', 1, 'sharp'),
    ];
    const { document } = signed(scoreOf(flute, clarinet), key(1, 1));
    const [before, from, after] = barsOf(document.text, 1);
    expect(before).toBe(flute[0]);
    expect(from).toBe(
      `<attributes><key><fifths>1</fifths><mode>major</mode></key></attributes>${note('F', 1)}${note('C')}`,
    );
    expect(after).toBe(note('F', 0, 'natural') + note('F', 1, 'sharp'));
    expect(barsOf(document.text, 2)[1]).toContain('<key><fifths>3</fifths><mode>major</mode></key>');
    expect(barsOf(document.text, 2)[1]).toContain(note('G', 1));
  });

  it('go, and what they said stands by the notes again', () => {
    const { document } = signed(scoreOf(flute), key(1, 1));
    const back = signed(document.text, key(1, null));
    expect(back.document.text).toBe(scoreOf(flute));
    expect(signed(scoreOf(flute), key(0, null)).refused).toEqual([
      'A score has a key from its first bar on: it is changed, not taken off.',
    ]);
  });

  it('take the place of one that stands there, and hold up to the next', () => {
    const keyed = [
      flute[0]!,
      `<attributes><key><fifths>1</fifths></key></attributes>${note('F', 1)}${note('B')}`,
      flute[2]!.replace('</note>', '</note>'),
    ];
    const { document, score } = signed(scoreOf(keyed), key(0, -3, true));
    expect(barsOf(document.text, 1)[0]).toContain('<key><fifths>-3</fifths><mode>minor</mode></key>');
    expect(barsOf(document.text, 1)[0]).toContain(note('B', 0, 'natural'));
    expect(barsOf(document.text, 1).slice(1)).toEqual(keyed.slice(1));
    expect(score.keys.map(({ bar, fifths, minor }) => [bar, fifths, minor])).toEqual([
      [0, -3, true],
      [1, 1, false],
    ]);
  });

  it('are refused where a score is written without signatures', () => {
    const horn = [
      attributes(
        `<key><fifths>0</fifths></key>${four}<transpose><diatonic>-4</diatonic><chromatic>-7</chromatic></transpose>`,
      ) +
        note('G') +
        note('C'),
      note('G') + note('D'),
    ];
    const open = signed(scoreOf(flute, horn), key(1, 2));
    expect(open.refused).toEqual(['This score is written without signatures: it stays so.']);
    expect(open.document.text).toBe(scoreOf(flute, horn));
  });

  it('leave every pitch, the schema, and exactly the accidentals that must stand, wherever they are put', () => {
    const demo = writeMusicXml(lanternFerry());
    const reading = read(demo);
    const faults = schemaFaults(parseXml(demo)).length;
    const keysOf = ({ asRead }: ScoreReading) =>
      JSON.stringify(asRead.parts.map(({ bars }) => mapNotes(bars, ({ key: own, pitch }) => [own, pitch])));
    fc.assert(
      fc.property(fc.nat(40), fc.integer({ min: -5, max: 5 }), fc.boolean(), (bar, fifths, minor) => {
        const at = reading.asRead.bars[bar]!.start;
        const choice = { at, what: 'key', put: true, fifths, minor } as const;
        const { reading: made, refused } = withBarSigns(reading, [choice]);
        expect(refused).toEqual([]);
        expect(schemaFaults(parseXml(made.document.text))).toHaveLength(faults);
        expect(keysOf(made)).toBe(keysOf(reading));
        expect(made.asRead.keys.find((each) => each.bar === bar)).toMatchObject({ fifths, minor });
        for (const part of made.asRead.parts) {
          if (part.clefs.every((clef) => clef === 'percussion')) continue;
          const keys = writtenKeys(made.asRead, part);
          part.bars.forEach((own, index) => {
            const holding = keys.findLast((each) => each.bar <= index)?.fifths ?? 0;
            const [must] = mapNotes([own], (each: Note) => ({ ...each }));
            showAccidentals(must!, holding);
            const shown = new Map<string, string | undefined>();
            mapNotes([own], ({ id, accidental }) => shown.set(id, accidental));
            mapNotes([must!], ({ id, accidental }) => {
              // What only reminds may stand besides.
              if (accidental) expect(shown.get(id)).toBe(accidental);
            });
          });
        }
      }),
      { numRuns: 8 },
    );
  });
});
