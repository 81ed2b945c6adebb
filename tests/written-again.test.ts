import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverScore } from '@/core/deliver/score';
import { lanternFerry } from '@/core/demo/lantern-ferry';
import type { Score } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { Workbench } from '@/core/workbench/workbench';
import { standing } from './helpers/edited-score';
import { parseXml, schemaFaults } from './helpers/schema';

const head =
  '<attributes><divisions>16</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time></attributes>';
const tied = (type: string) => `<tie type="${type}"/>`;
const note = (step: string, duration: number, type: string, ties = '', more = '') =>
  `<note><pitch><step>${step}</step><octave>4</octave></pitch><duration>${duration}</duration>${ties}<voice>1</voice><type>${type}</type>${more}</note>`;
const rest = (duration: number, type: string) =>
  `<note><rest/><duration>${duration}</duration><voice>1</voice><type>${type}</type></note>`;
/** A quarter as sequencers write one that is let go early: two heads and a scrap of a rest. */
const scrap = (step: string, more = '') =>
  note(step, 8, 'eighth', tied('start'), `${more}<notations><tied type="start"/></notations>`) +
  note(step, 6, '16th', tied('stop'), '<dot/><notations><tied type="stop"/></notations>') +
  rest(2, '64th');
const measure = (number: number, text: string) =>
  `\n<measure number="${number}">${number === 1 ? head : ''}${text}</measure>`;
const scraps = 'CDEFGFEDCDEF'.split('');
const bars = [0, 1, 2].map((bar) =>
  measure(
    bar + 1,
    scraps
      .slice(4 * bar, 4 * bar + 4)
      .map((step, at) => scrap(step, at === 0 ? '<lyric><text>la</text></lyric>' : ''))
      .join(''),
  ),
);
const p = '<direction><direction-type><dynamics><p/></dynamics></direction-type></direction>';
const slur = (text: string) =>
  text
    .replace(
      '<tied type="start"/></notations>',
      '<tied type="start"/><slur type="start" number="1"/></notations>',
    )
    .replace(/(<step>F<\/step>.*?<tied type="start"\/>)/s, '$1<slur type="stop" number="1"/>');
const held = [1, 2, 3].map((bar) => measure(bar, note('E', 64, 'whole'))).join('');
const SCRAPS = `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Flute</part-name></score-part><score-part id="P2"><part-name>Oboe</part-name></score-part></part-list><part id="P1">${slur(bars[0]!).replace(head, head + p)}${bars.slice(1).join('')}</part><part id="P2">${held}</part></score-partwise>`;

const job = (document: string, ...directives: PlainDirective[]) => {
  const workbench = new Workbench([
    { id: '1', version: 1, name: 'x.musicxml', bytes: new TextEncoder().encode(document) },
  ]);
  const { desk } = workbench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
  const { transcription } = finished(workbench.write(1));
  const text = new TextDecoder().decode(deliverScore(desk, transcription.score, 'musicxml'));
  return { desk, transcription, text };
};
const again = (strand?: '1/t2c1' | '1/t3c2'): PlainDirective => ({
  kind: 'again',
  again: true,
  ...(strand && { strand }),
});
const partOf = (text: string, id: string) => text.slice(text.indexOf(`<part id="${id}"`)).split('</part>')[0];
const rhythm = ({ parts }: Score, part: number) =>
  parts[part]!.bars.flatMap(({ voices }) =>
    voices.flatMap(({ items }) =>
      items.map(
        ({ kind, value: { type, dots } }) => `${kind === 'rest' ? 'r' : ''}${type}${'.'.repeat(dots)}`,
      ),
    ),
  );

describe('a part of a score that is written again', () => {
  it('has plain values for ties and scraps of rests, and keeps its marks, lyrics and slurs; others stay to the character', () => {
    const { text, transcription } = job(SCRAPS, again('1/t2c1'));
    expect(partOf(text, 'P2')).toBe(partOf(SCRAPS, 'P2'));
    expect(rhythm(transcription.score, 0)).toEqual(Array.from({ length: 12 }, () => 'quarter'));
    expect(schemaFaults(parseXml(text))).toEqual([]);
    const { score, mends } = readMusicXml(new TextEncoder().encode(text));
    expect(mends).toEqual([]);
    const [flute] = score.parts;
    expect(flute!.bars[0]!.marks).toMatchObject([{ kind: 'dynamic', dynamic: 'p', at: 0 }]);
    expect(flute!.spanners).toMatchObject([{ kind: 'slur' }]);
    expect(partOf(text, 'P1')!.match(/<text>la<\/text>/g)).toHaveLength(3);
    expect(transcription.undone).toEqual([]);
  });

  it('sounds as before: the notes are the same, by their names', () => {
    const ids = (of: ReturnType<typeof job>) =>
      of.desk.performance.strands.map(({ notes }) => notes.map(({ id, on, off, key }) => [id, on, off, key]));
    expect(ids(job(SCRAPS, again('1/t2c1')))).toEqual(ids(job(SCRAPS)));
    const starts = (of: ReturnType<typeof job>) =>
      [...standing(of.transcription.score)].map(([id, { start, key }]) => `${id} ${start} ${key}`);
    expect(starts(job(SCRAPS, again('1/t2c1')))).toEqual(starts(job(SCRAPS)));
  });

  it('heeds what is decided about rhythm, and goes back to the very bytes', () => {
    const long = job(SCRAPS, again('1/t2c1'), { kind: 'place', note: '1/t2c1/0', start: '0', end: '1/2' });
    expect(rhythm(long.transcription.score, 0).slice(0, 2)).toEqual(['eighth', 'reighth']);
    expect(job(SCRAPS, again('1/t2c1'), { kind: 'again', strand: '1/t2c1', again: false }).text).toBe(SCRAPS);
  });

  it('keeps bars that are shorter than their meter', () => {
    const odd = SCRAPS.replace(bars[1]!, measure(2, scrap('G')));
    const { transcription } = job(
      odd.replace(/<part id="P2">.*<\/part>/s, '<part id="P2"/>'),
      again('1/t2c1'),
    );
    expect(transcription.score.parts[0]!.anew).toBe(true);
    expect(transcription.score.bars.map(({ length }) => length / QUARTER)).toEqual([4, 1, 4]);
    expect(transcription.undone).toEqual([]);
  });

  it('comes to the same page where that is plain already', () => {
    const ferry = writeMusicXml(lanternFerry());
    const before = job(ferry);
    const { transcription } = job(ferry, again());
    const notes = (score: Score) =>
      [...standing(score)]
        .filter(([, { grace }]) => !grace)
        .map(([id, { start, end, key }]) => `${id} ${start / QUARTER} ${end / QUARTER} ${key}`);
    const was = new Set(notes(before.transcription.score));
    const same = notes(transcription.score).filter((each) => was.has(each)).length;
    expect(same / was.size).toBeGreaterThan(0.98);
  });
});
