import fc from 'fast-check';
import { parse as parseElsewhere } from 'musicxml-io';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import type { PlainDirective } from '@/core/decisions/kinds';
import { AS_FOUND } from '@/core/decisions/kinds/clef';
import { deliverScore } from '@/core/deliver/score';
import { PITCHED_CLEFS } from '@/core/model/clefs';
import { clefAt, type Part } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { transcribeNow } from '@/core/transcribe';
import { proofOf } from '@/core/workbench/proof';
import { Workbench } from '@/core/workbench/workbench';
import { briefOf, deskOf, madeFile, madeTrack, meterAt, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

type Clef = Extract<PlainDirective, { kind: 'clef' }>;

const BAR = 4 * 480;
/** The clefs of a staff as bar, beat and name (all from 1), the one at the start first. */
const shown = (part: Part, staff = 1): string[] => [
  part.clefs[staff - 1]!,
  ...(part.changes ?? []).flatMap((change) =>
    change.kind === 'clef' && change.staff === staff
      ? [`${change.bar + 1}.${change.at / QUARTER + 1} ${change.clef}`]
      : [],
  ),
];

describe('clefs that were decided for a performance', () => {
  /** Eight bars of quarters in the middle of the bass staff. */
  const line = Array.from({ length: 32 }, (_, at): Stroke => [at * 480, at * 480 + 460, 48 + (at % 5)]);
  const cello = madeFile(madeTrack('Cello', 0, line, [meterAt(0, 4, 4)]));
  const under = (...clefs: Omit<Clef, 'kind'>[]) => {
    const directives = clefs.map((clef): Clef => ({ kind: 'clef', ...clef }));
    const { performance } = deskOf(cello, ...directives);
    return transcribeNow(performance, briefOf(...directives)).score;
  };

  it('hold throughout, from a note on, or in a passage, and end before the first note after it', () => {
    expect(shown(under().parts[0]!)).toEqual(['bass']);
    expect(shown(under({ clef: 'tenor' }).parts[0]!)).toEqual(['tenor']);
    expect(shown(under({ clef: 'tenor', from: 2 * BAR + 960 }).parts[0]!)).toEqual(['bass', '3.3 tenor']);
    expect(shown(under({ clef: 'alto', from: 2 * BAR, to: 4 * BAR }).parts[0]!)).toEqual([
      'bass',
      '3.1 alto',
      '5.1 bass',
    ]);
  });

  it('the last that was said of a place holds, and "as found" is what was found', () => {
    const score = under({ clef: 'alto' }, { clef: 'treble', from: BAR }, { clef: AS_FOUND, from: 3 * BAR });
    expect(shown(score.parts[0]!)).toEqual(['alto', '2.1 treble', '4.1 bass']);
    expect(shown(under({ clef: 'alto', from: BAR }, { clef: 'tenor' }).parts[0]!)).toEqual(['tenor']);
  });

  it('stand in the document where they stand in the score, in either staff', () => {
    const both = (from: number, key: number) =>
      Array.from({ length: 16 }, (_, at): Stroke => [from + at * 480, from + at * 480 + 460, key + (at % 4)]);
    const smf = madeFile(madeTrack('Piano', 0, [...both(0, 72), ...both(0, 45)], [meterAt(0, 4, 4)]));
    const { performance } = deskOf(smf);
    const strand = performance.strands[0]!.id;
    const clefs: Clef[] = [
      { kind: 'clef', strand, staff: 2, clef: 'tenor', from: BAR + 960, to: 2 * BAR },
      { kind: 'clef', strand, clef: 'soprano', from: 2 * BAR },
    ];
    const { score } = transcribeNow(performance, briefOf(...clefs));
    expect(score.parts[0]!.clefs).toHaveLength(2);
    expect(shown(score.parts[0]!, 1)).toEqual(['treble', '3.1 soprano']);
    expect(shown(score.parts[0]!, 2)).toEqual(['bass', '2.3 tenor', '3.1 bass']);
    const text = writeMusicXml(score);
    expect(schemaFaults(parseXml(text))).toEqual([]);
    expect(elsewhere(text)).toEqual(['1 1 G2', '1 2 F4', '2 2 C4', '3 1 C1', '3 2 F4']);
  });

  it('a staff of drums keeps its clef, which is told', () => {
    const drums = madeFile(
      madeTrack(
        'Drums',
        9,
        line.map(([on, off]): Stroke => [on, off, 38]),
      ),
    );
    const { performance } = deskOf(drums);
    const strand = performance.strands[0]!.id;
    const { score, undone } = transcribeNow(performance, briefOf({ kind: 'clef', strand, clef: 'alto' }));
    expect(score.parts[0]!.clefs).toEqual(['percussion']);
    expect(undone).toEqual(['Drum Set keeps its clef: its staff has no pitches.']);
  });
});

/** The clefs that another reader finds (musicxml-io): bar, staff, sign and line, sorted. */
function elsewhere(text: string): string[] {
  const { parts } = parseElsewhere(text);
  return parts
    .flatMap(({ measures }) =>
      measures.flatMap(({ number, attributes, entries }, index) =>
        [
          ...(attributes?.clef ?? []),
          ...entries.flatMap((entry) => (entry.type === 'attributes' ? (entry.attributes.clef ?? []) : [])),
        ].map(({ sign, line, staff = 1 }) => `${number ?? index + 1} ${staff} ${sign}${line}`),
      ),
    )
    .sort();
}

/** A piano part of four bars: quarters above with a change of clef in the third bar, halves below. */
const note = (step: string, octave: number, duration: number, staff: number) =>
  `<note><pitch><step>${step}</step><octave>${octave}</octave></pitch><duration>${duration}</duration><voice>${staff}</voice><type>${duration === 1 ? 'quarter' : 'half'}</type><staff>${staff}</staff></note>`;
const ATTRIBUTES =
  '<attributes><divisions>1</divisions><time><beats>4</beats><beat-type>4</beat-type></time><staves>2</staves><clef number="1"><sign>G</sign><line>2</line></clef><clef number="2"><sign>F</sign><line>4</line></clef></attributes>';
const CHANGE = '<attributes><clef number="1"><sign>F</sign><line>4</line></clef></attributes>';
const measure = (bar: number) =>
  `\n  <measure number="${bar}">\n   ${bar === 1 ? ATTRIBUTES : ''}${note('C', 5, 1, 1)}${note('D', 5, 1, 1)}${bar === 3 ? CHANGE : ''}${note('E', 4, 1, 1)}${note('F', 4, 1, 1)}<backup><duration>4</duration></backup>${note('C', 3, 2, 2)}${note('D', 3, 2, 2)}\n  </measure>`;
const SCORE = `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Piano</part-name></score-part></part-list><part id="P1">${[1, 2, 3, 4].map(measure).join('')}\n </part></score-partwise>`;
const bytes = new TextEncoder().encode(SCORE);
const workbench = new Workbench([{ id: '1', version: 1, name: 'score.musicxml', bytes }]);
let revision = 0;

function decided(...clefs: Omit<Clef, 'kind' | 'strand'>[]) {
  revision++;
  const strand = workbench.layOut(revision, briefOf()).desk.performance.strands[0]!.id;
  revision++;
  const brief = briefOf(...clefs.map((clef): Clef => ({ kind: 'clef', strand, ...clef })));
  const { desk } = workbench.layOut(revision, brief);
  const written = finished(workbench.write(revision));
  const { score } = written.transcription;
  const text = new TextDecoder().decode(deliverScore(desk, score, 'musicxml'));
  return { written, text, part: score.parts[0]!, perBar: 4 * desk.performance.clock.ticksPerQuarter };
}
const bars = (text: string) =>
  [...text.matchAll(/<measure[^>]*>([\s\S]*?)<\/measure>/g)].map(([, bar]) => bar!);
const changedBars = (text: string) =>
  bars(text).flatMap((bar, index) => (bar === bars(SCORE)[index] ? [] : [index + 1]));

describe('clefs that were decided for a score that was read', () => {
  const { perBar } = decided();

  it('without any the document stays as it came', () => {
    expect(decided().text).toBe(SCORE);
    expect(decided({ clef: AS_FOUND }).text).toBe(SCORE);
  });

  it('stand before the first note of a passage and after it, and nothing else changes', () => {
    const { text, part } = decided({ clef: 'alto', from: 1.5 * perBar, to: 1.75 * perBar });
    expect(shown(part)).toEqual(['treble', '2.3 alto', '2.4 treble', '3.3 bass']);
    expect(changedBars(text)).toEqual([2]);
    expect(bars(text)[1]!.replace(/<attributes>.*?<\/attributes>/g, '')).toBe(bars(SCORE)[1]);
    expect(elsewhere(text)).toEqual(['1 1 G2', '1 2 F4', '2 1 C3', '2 1 G2', '3 1 F4']);
    expect(schemaFaults(parseXml(text))).toEqual([]);
  });

  it('take the place of those that stand in the passage, which hold again after it', () => {
    const { text, part } = decided({ clef: 'tenor', from: 2 * perBar, to: 3 * perBar });
    expect(shown(part)).toEqual(['treble', '3.1 tenor', '4.1 bass']);
    expect(changedBars(text)).toEqual([3, 4]);
    expect(schemaFaults(parseXml(text))).toEqual([]);
  });

  it('throughout they change the first clef and take the others out', () => {
    const { text, part } = decided({ clef: 'alto' });
    expect(shown(part)).toEqual(['alto']);
    expect(elsewhere(text)).toEqual(['1 1 C3', '1 2 F4']);
  });

  it('of the lower staff stand in its own voice', () => {
    const { text, part } = decided({ clef: 'baritoneF', staff: 2, from: 1.5 * perBar });
    expect(shown(part, 2)).toEqual(['bass', '2.3 baritoneF']);
    expect(changedBars(text)).toEqual([2]);
    expect(bars(text)[1]).toMatch(
      /<backup>.*<clef number="2"><sign>F<\/sign><line>3<\/line><\/clef><\/attributes><note><pitch><step>D<\/step><octave>3/,
    );
  });

  it('are read again as they were decided, wherever passages lie, and no pitch moves (property)', () => {
    const clef = fc.record({
      clef: fc.constantFrom(...PITCHED_CLEFS, AS_FOUND),
      staff: fc.integer({ min: 1, max: 2 }),
      from: fc.integer({ min: 0, max: 15 }),
      beats: fc.integer({ min: 1, max: 9 }),
    });
    fc.assert(
      fc.property(fc.array(clef, { maxLength: 4 }), (clefs) => {
        const passages = clefs.map(({ beats, from, ...each }) => ({
          ...each,
          from: (from * perBar) / 4,
          to: ((from + beats) * perBar) / 4,
        }));
        const { text, part } = decided(...passages);
        expect(schemaFaults(parseXml(text))).toEqual([]);
        const again = new Workbench([
          { id: '1', version: 1, name: 'again.musicxml', bytes: new TextEncoder().encode(text) },
        ]);
        again.layOut(1, briefOf());
        const back = finished(again.write(1)).transcription.score.parts[0]!;
        for (const staff of [1, 2]) expect(shown(back, staff)).toEqual(shown(part, staff));
        // Under each note is what was said last of its place.
        const beatsOf = (staff: number) => (staff === 1 ? [0, 1, 2, 3] : [0, 2]);
        for (const staff of [1, 2])
          for (let bar = 0; bar < 4; bar++)
            for (const beat of beatsOf(staff)) {
              const tick = bar * perBar + (beat * perBar) / 4;
              const last = passages.findLast(
                (each) => each.staff === staff && tick >= each.from && tick < each.to,
              );
              const plain = staff === 2 || bar > 2 || (bar === 2 && beat >= 2) ? 'bass' : 'treble';
              const wanted = last && last.clef !== AS_FOUND ? last.clef : plain;
              expect(clefAt(back, staff, bar, beat * QUARTER)).toBe(wanted);
            }
        const pitches = (made: string) => made.match(/<pitch>.*?<\/pitch>/g);
        expect(pitches(text)).toEqual(pitches(SCORE));
      }),
      { numRuns: 60 },
    );
  });

  it('passages far off the staff are found in Proof, and brought back by another clef', () => {
    const { written } = decided({ clef: 'bass', staff: 1 });
    const far = finished(proofOf(written)).findings.filter(({ check }) => check === 'clefs');
    expect(far).toEqual([]);
    const low = decided({ clef: 'treble15ma', staff: 2 });
    const [finding] = finished(proofOf(low.written)).findings.filter(({ check }) => check === 'clefs');
    expect(finding?.mends[0]?.label).toBe('Write it in bass clef');
    const [mend] = finding!.mends[0]!.directives as [Clef];
    const mended = decided({ clef: 'treble15ma', staff: 2 }, mend);
    expect(finished(proofOf(mended.written)).findings.some(({ check }) => check === 'clefs')).toBe(false);
  });
});
