import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { type Brief, EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverScore } from '@/core/deliver/score';
import { VELOCITIES } from '@/core/model/marks';
import { writeSmf } from '@/core/sources/smf/write';
import { marksFrom } from '@/core/workbench/marks-from';
import { Workbench } from '@/core/workbench/workbench';
import { madeFile, madeTrack, meterAt, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

const TICKS = 480;
/** Eight bars of quarters, the first half soft, the second loud, the last note of each bar staccato. */
const strokes = (by: number): Stroke[] =>
  Array.from({ length: 32 }, (_, beat): Stroke => {
    const on = beat * TICKS;
    const length = beat % 4 === 3 ? TICKS / 3 : TICKS - 10;
    return [on, on + length, by + [0, 4, 7, 5][beat % 4]!, beat < 16 ? VELOCITIES.p : VELOCITIES.f];
  });
const PLAYING = writeSmf(
  madeFile(madeTrack('Flute', 0, strokes(72), [meterAt(0, 4, 4)]), madeTrack('Horn', 1, strokes(55))),
);
const quarter = (step: string, octave: number) =>
  `<note><pitch><step>${step}</step><octave>${octave}</octave></pitch><duration>1</duration><voice>1</voice><type>quarter</type></note>`;
const part = (id: string, notes: string) =>
  `<part id="${id}">${Array.from(
    { length: 8 },
    (_, bar) =>
      `<measure number="${bar + 1}">${bar === 0 ? '<attributes><divisions>1</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time></attributes>' : ''}${notes}</measure>`,
  ).join('')}</part>`;
/** The same music as a document, the horn first; without any mark. */
const SCORE = `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Horn</part-name></score-part><score-part id="P2"><part-name>Flute</part-name></score-part></part-list>${part('P1', ['G', 'B', 'D', 'C'].map((step, at) => quarter(step, at < 2 ? 3 : 4)).join(''))}${part('P2', ['C', 'E', 'G', 'F'].map((step) => quarter(step, 5)).join(''))}</score-partwise>`;

const workbench = new Workbench([
  { id: '1', version: 1, name: 'plain.musicxml', bytes: new TextEncoder().encode(SCORE) },
  { id: '2', version: 1, name: 'played.mid', bytes: PLAYING },
]);
let revision = 0;
function under(brief: Brief) {
  revision++;
  workbench.layOut(revision, brief);
  const written = finished(workbench.write(revision));
  const text = new TextDecoder().decode(deliverScore(written.desk, written.transcription.score, 'musicxml'));
  return { written, text };
}
const taken = (brief: Brief) =>
  finished(marksFrom(workbench, under(brief).written, { source: '2', version: 1 }));

describe('marks of a performance taken into a score that was read', () => {
  const found = taken(EMPTY_BRIEF);
  const of = (kind: string) => found.marks.filter((each) => each.kind === kind);

  it('are found at the notes that are the same, whatever the order of the parts', () => {
    expect(of('dynamics').map(({ part, bar, words, mark }) => [part, bar, words, mark])).toEqual([
      [0, 0, 'beat 1', 'p'],
      [0, 4, 'beat 1', 'f'],
      [1, 0, 'beat 1', 'p'],
      [1, 4, 'beat 1', 'f'],
    ]);
    expect(of('staccato')).toHaveLength(16);
    expect(of('staccato').every(({ words }) => words === 'beat 4')).toBe(true);
  });

  it('stand in the document where they are taken, and nothing else does', () => {
    const brief = withDirectives(
      EMPTY_BRIEF,
      found.marks.map(({ directive }) => directive),
    );
    const { text } = under(brief);
    expect(schemaFaults(parseXml(text))).toEqual([]);
    expect(text.match(/<p\/>/g)).toHaveLength(2);
    expect(text.match(/<f\/>/g)).toHaveLength(2);
    expect(text.match(/<staccato\/>/g)).toHaveLength(16);
    const bare = text
      .replaceAll(/<direction\b[\s\S]*?<\/direction>/g, '')
      .replaceAll(/<notations>\s*<articulations>\s*<staccato\/>\s*<\/articulations>\s*<\/notations>/g, '');
    expect(bare.replaceAll(/\s+/g, '')).toBe(SCORE.replaceAll(/\s+/g, ''));
    // What stands there already is not offered again.
    const again = taken(brief);
    expect(again.marks).toEqual([]);
    expect(again.there).toMatchObject({ dynamics: 4, staccato: 16 });
  });

  it('are not asked of a score, or of a source that is not there', () => {
    const { written } = under(EMPTY_BRIEF);
    for (const source of ['1', '3'] as const)
      expect(() => finished(marksFrom(workbench, written, { source, version: 1 }))).toThrow(RangeError);
  });

  it('that have no note in the score are counted', () => {
    const drop: PlainDirective[] = under(EMPTY_BRIEF)
      .written.desk.performance.strands.flatMap(({ notes }) => notes.filter((_, index) => index % 4 === 3))
      .map(({ id }) => ({ kind: 'drop', note: id, out: true }));
    const { marks, homeless } = taken(withDirectives(EMPTY_BRIEF, drop));
    expect(marks.filter(({ kind }) => kind === 'staccato')).toEqual([]);
    expect(homeless.staccato).toBe(16);
  });
});
