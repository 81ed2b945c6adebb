import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverScore } from '@/core/deliver/score';
import { lanternFerry } from '@/core/demo/lantern-ferry';
import { instrumentOf } from '@/core/instruments/catalogue';
import type { PartId, StrandId } from '@/core/model/ids';
import type { Interval } from '@/core/model/pitch';
import { concertScore, type Transposing, transposeScore } from '@/core/notate/transpose';
import { readScore } from '@/core/sources/musicxml/source';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { stockOf } from '@/core/workbench/stock';
import { Workbench } from '@/core/workbench/workbench';
import { parseXml, schemaFaults } from './helpers/schema';
import { disagreements, writtenInto } from './helpers/written-into';

const encoder = new TextEncoder();
const decoder = new TextDecoder();
const read = (text: string) => finished(readScore(encoder.encode(text), '1'));
const ferryText = writeMusicXml(lanternFerry());

const note = (pitch: string, more = '', duration = 4) => {
  const [, step, alter, octave] = /^([A-G])(b|#|)(\d)$/.exec(pitch)!;
  const said = alter === 'b' ? '<alter>-1</alter>' : alter === '#' ? '<alter>1</alter>' : '';
  return `<note default-x="7"><pitch><step>${step}</step>${said}<octave>${octave}</octave></pitch><duration>${duration}</duration><voice>1</voice><type>whole</type>${more}</note>`;
};
const score = (...measures: string[]) =>
  `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Clarinet</part-name></score-part></part-list><part id="P1">${measures
    .map((measure, index) => `\n<measure number="${index + 1}">${measure}</measure>`)
    .join('')}</part></score-partwise>`;
const attributes = (...inner: string[]) =>
  `<attributes><divisions>1</divisions>${inner.join('')}</attributes>`;
const key = (fifths: number) => `<key color="#123456"><fifths>${fifths}</fifths><mode>major</mode></key>`;
const FOUR = '<time><beats>4</beats><beat-type>4</beat-type></time>';
const IN_B_FLAT = '<transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose>';

/** What the document says once its only part is treated so. */
function treated(text: string, transposing: Transposing): string {
  const reading = read(text);
  const result = transposeScore(reading.score, new Map([[reading.score.parts[0]!.id, transposing]]));
  expect(result.impossible).toEqual([]);
  const after = writtenInto(reading, result.score);
  expect(disagreements(after, result.score)).toEqual([]);
  return after;
}
const to = (diatonic: number, chromatic: number) => ({ to: () => ({ diatonic, chromatic }) });

/** A job on a score under some decisions, and what it hands over. */
function job(text: string, ...directives: PlainDirective[]) {
  const workbench = new Workbench([{ id: '1', version: 1, name: 'x.musicxml', bytes: encoder.encode(text) }]);
  const state = workbench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
  const { desk, transcription } = finished(workbench.write(1));
  const document = decoder.decode(deliverScore(desk, transcription.score, 'musicxml'));
  return { state, desk, transcription, document };
}
const keysOf = ({ desk }: ReturnType<typeof job>) =>
  desk.performance.strands.map(({ notes }) => notes.map(({ on, key }) => `${on} ${key}`));

describe('a part of a score that is written for another instrument', () => {
  // Written for sounding C5, after the tables of transposing instruments in orchestration handbooks
  // (Adler, The Study of Orchestration; from memory).
  it.each([
    ['clarinet-bflat', 'D5', 2],
    ['clarinet-a', 'E♭5', -3],
    ['horn-f', 'G5', 1],
    ['alto-saxophone', 'A5', 3],
    ['tenor-saxophone', 'D6', 2],
    ['baritone-saxophone', 'A6', 3],
    ['bass-clarinet', 'D6', 2],
    ['english-horn', 'G5', 1],
    ['piccolo', 'C4', 0],
    ['double-bass', 'C6', 0],
    ['trumpet-bflat', 'D5', 2],
  ])('reads as the handbook says: %s', (id, expected, fifths) => {
    const instrument = instrumentOf(id);
    const after = treated(score(`${attributes(key(0), FOUR)}${note('C5')}`), {
      to: () => instrument.transposition,
    });
    const [, step, alter, octave] =
      /<step>(.)<\/step>(?:<alter>(-?1)<\/alter>)?<octave>(\d)/.exec(after) ?? [];
    expect(`${step}${alter === '-1' ? '♭' : ''}${octave}`).toBe(expected);
    expect(after).toContain(`<fifths>${fifths}</fifths>`);
  });

  it('changes nothing but pitches, accidentals, signatures, symbols and what says that it transposes', () => {
    const before = score(
      `<print new-page="yes"/>${attributes(key(-2), FOUR)}
<harmony color="#aa0000"><root><root-step>B</root-step><root-alter>-1</root-alter></root><kind>major</kind><bass><bass-step>D</bass-step></bass></harmony>
${note('Bb4', '<!-- kept --><notations><ornaments><trill-mark/><accidental-mark>flat</accidental-mark></ornaments></notations>')}`,
      note('F#4', '<accidental parentheses="yes">sharp</accidental><stem>up</stem>'),
      `${attributes(key(4))}${note('E4')}`,
    );
    const after = treated(before, to(-1, -2));
    expect(after.split('\n')).toEqual([
      '<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Clarinet</part-name></score-part></part-list><part id="P1">',
      `<measure number="1"><print new-page="yes"/>${attributes(key(0), FOUR, IN_B_FLAT)}`,
      // B flat over D becomes C over E; the flat above B flat, C flat, becomes D flat above C.
      '<harmony color="#aa0000"><root><root-step>C</root-step></root><kind>major</kind><bass><bass-step>E</bass-step></bass></harmony>',
      `${note('C5', '<!-- kept --><notations><ornaments><trill-mark/><accidental-mark>flat</accidental-mark></ornaments></notations>')}</measure>`,
      `<measure number="2">${note('G#4', '<accidental parentheses="yes">sharp</accidental><stem>up</stem>')}</measure>`,
      `<measure number="3">${attributes(key(6))}${note('F#4')}</measure></part></score-partwise>`,
    ]);
  });

  it('is written with flats where it would have more than six sharps, notes and all', () => {
    const before = score(
      `${attributes(key(5), FOUR)}${note('B4')}`,
      note('E#5', '<accidental>sharp</accidental>'),
    );
    const after = treated(before, to(-1, -2));
    // B major for an instrument in B flat: D flat major, not C sharp major (seven sharps).
    expect(after).toContain(`${attributes(key(-5), FOUR, IN_B_FLAT)}${note('Db5')}`);
    expect(after).toContain(note('G5', '<accidental>natural</accidental>'));
  });

  it('goes back to what it was, to the character', () => {
    const before = score(
      `${attributes(key(1), FOUR)}${note('G4')}`,
      note('C#5', '<accidental>sharp</accidental>'),
    );
    const there = treated(before, to(-4, -7));
    expect(there).not.toBe(before);
    expect(treated(there, to(0, 0))).toBe(before);
  });

  it('stays without a signature where it has none by custom, with accidentals by the notes', () => {
    const horn = '<transpose><diatonic>-4</diatonic><chromatic>-7</chromatic></transpose>';
    const parts = (inner: string) =>
      score(inner)
        .replace('</part-list>', '<score-part id="P2"><part-name>Oboe</part-name></score-part></part-list>')
        .replace(
          '</score-partwise>',
          `<part id="P2"><measure number="1">${attributes(key(-3), FOUR)}${note('Eb4')}</measure></part></score-partwise>`,
        );
    const reading = read(parts(`${attributes(FOUR, horn)}${note('Bb4', '<accidental>flat</accidental>')}`));
    // The oboe leads the keys; the horn reads none.
    const [part] = reading.score.parts;
    const result = transposeScore(reading.score, new Map([[part!.id, to(-2, -3)]]));
    const after = writtenInto(reading, result.score);
    expect(disagreements(after, result.score)).toEqual([]);
    const first = after.slice(0, after.indexOf('<part id="P2"'));
    expect(first).not.toContain('<fifths>');
    // Sounding E flat 4 is F sharp's neighbour no more: written G flat 4 for an instrument in A.
    expect(first).toContain('<step>G</step><alter>-1</alter><octave>4</octave>');
    expect(first).toContain('<accidental>flat</accidental>');
  });

  it('has the transposition of its changes of instrument taken out, as it is for one instrument', () => {
    const inA = '<transpose><diatonic>-2</diatonic><chromatic>-3</chromatic></transpose>';
    const before = score(
      `${attributes(key(2), FOUR, IN_B_FLAT)}${note('D5')}`,
      `${attributes(key(-3), inA)}${note('Eb5')}`,
    );
    const after = treated(before, to(-4, -7));
    expect(after.match(/<transpose>/g)).toHaveLength(1);
    expect(after).toContain('<diatonic>-4</diatonic>');
    // Concert C throughout, and C5 in both bars: one sharp and G5 for a horn in F.
    expect([...after.matchAll(/<fifths>(-?\d)/g)].map(([, fifths]) => fifths)).toEqual(['1', '1']);
    expect(
      [...after.matchAll(/<step>(.)<\/step><octave>(\d)/g)].map(([, ...pitch]) => pitch.join('')),
    ).toEqual(['G5', 'G5']);
  });

  it('is read in a clef that its new player reads', () => {
    const bass = '<clef><sign>F</sign><line>4</line></clef>';
    const treble = '<clef><sign>G</sign><line>2</line></clef>';
    const before = score(
      `${attributes(key(0), FOUR, bass)}${note('C4')}`,
      `<attributes>${treble}</attributes>${note('C5')}`,
    );
    const after = treated(before, { ...to(-5, -9), clefs: instrumentOf('alto-saxophone').clefs });
    expect(after).toContain('<clef><sign>G</sign><line>2</line></clef>');
    expect(after).not.toContain('<sign>F</sign>');
  });
});

describe('a part of a score that sounds higher or lower', () => {
  it('is played and written so, and reads back as it is played', () => {
    const strand = '1/t2c1' as StrandId;
    const plain = job(ferryText);
    const higher = job(ferryText, { kind: 'transpose', strand, steps: 2, semitones: 4 });
    const [first, ...others] = keysOf(plain);
    expect(keysOf(higher)).toEqual([
      first!.map((each) => each.replace(/\d+$/, (at) => String(Number(at) + 4))),
      ...others,
    ]);
    expect(keysOf(job(higher.document))).toEqual(keysOf(higher));
    expect(schemaFaults(parseXml(higher.document))).toEqual([]);
    expect(disagreements(higher.document, higher.transcription.score)).toEqual([]);
  });

  it('takes the key of the piece along when all parts go', () => {
    const all = job(ferryText, { kind: 'transpose', steps: 1, semitones: 2 });
    const before = job(ferryText);
    expect(all.transcription.score.keys[0]!.fifths).toBe(before.transcription.score.keys[0]!.fifths + 2);
    expect(all.desk.performance.keys[0]!.fifths).toBe(before.desk.performance.keys[0]!.fifths + 2);
    // The drums stay on their lines.
    const drums = (text: string) =>
      [...text.matchAll(/<unpitched>[\s\S]*?<\/unpitched>/g)].map(([each]) => each);
    expect(drums(all.document)).toEqual(drums(before.document));
    expect(keysOf(job(all.document))).toEqual(keysOf(all));
  });

  it('stays where it is when it would leave what can be written, and that is said', () => {
    const far = job(score(`${attributes(key(0), FOUR)}${note('C9')}`), {
      kind: 'transpose',
      steps: 7,
      semitones: 12,
    });
    expect(finished(stockOf(far.state)).refusals.map(({ why }) => why)).toEqual([
      'Clarinet stays where it is: 12 semitones from there are keys that MIDI does not have.',
      'Clarinet stays as it is written: some of its notes would leave the staff’s octaves, C0 to B9.',
    ]);
    expect(far.document).toContain('<octave>9</octave>');
  });

  it('presses other frets, and none below the nut', () => {
    const tab = (string: number, fret: number) =>
      `<notations><technical><string>${string}</string><fret>${fret}</fret></technical></notations>`;
    const before = score(`${attributes(key(0), FOUR)}${note('E5', tab(1, 12))}`, note('F4', tab(1, 1)));
    const after = treated(before, { by: { diatonic: -2, chromatic: -3 } });
    expect(after).toContain(tab(1, 9));
    expect(after).toContain('<notations><technical></technical></notations>');
  });
});

describe('whatever is asked of a score', () => {
  const reading = read(ferryText);
  const intervals: Interval[] = [
    { diatonic: 0, chromatic: 0 },
    { diatonic: 1, chromatic: 1 },
    { diatonic: -1, chromatic: -2 },
    { diatonic: 2, chromatic: 3 },
    { diatonic: -5, chromatic: -9 },
    { diatonic: 7, chromatic: 12 },
    { diatonic: 3, chromatic: 6 },
  ];
  const asked = fc.record(
    { by: fc.constantFrom(...intervals), to: fc.constantFrom(...intervals).map((each) => () => each) },
    { requiredKeys: [] },
  );

  it('text and score say the same, it is valid, and it sounds as it did but for what was asked', () => {
    fc.assert(
      fc.property(fc.array(asked, { minLength: 1, maxLength: reading.score.parts.length }), (all) => {
        const wanted = new Map<PartId, Transposing>(
          all.map((each, index) => [reading.score.parts[index]!.id, each]),
        );
        const { score: after, impossible } = transposeScore(reading.score, wanted);
        expect(impossible).toEqual([]);
        const text = writtenInto(reading, after);
        expect(disagreements(text, after)).toEqual([]);
        expect(schemaFaults(parseXml(text))).toEqual([]);
        const played = (parts: typeof after.parts) =>
          parts.map(({ bars }) =>
            bars.flatMap(({ voices }) =>
              voices.flatMap(({ items }) =>
                items.flatMap((item) => (item.kind === 'chord' ? item.notes.map((each) => each.key) : [])),
              ),
            ),
          );
        const before = played(reading.score.parts);
        expect(played(after.parts)).toEqual(
          before.map((keys, index) => {
            const isDrums = instrumentOf(reading.score.parts[index]!.instrument).unpitched;
            return keys.map((each) => each + (isDrums ? 0 : (all[index]?.by?.chromatic ?? 0)));
          }),
        );
      }),
      { numRuns: 15 },
    );
  });

  it('in concert pitch nothing transposes but by octaves, and all read one signature', () => {
    const concert = concertScore(reading.score);
    for (const part of concert.parts) {
      expect(part.transposition.chromatic % 12).toBeCloseTo(0);
      expect((part.changes ?? []).filter(({ kind }) => kind === 'key')).toEqual([]);
    }
    expect(disagreements(writtenInto(reading, concert), concert)).toEqual([]);
  });
});
