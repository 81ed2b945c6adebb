import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import type { PlainDirective } from '@/core/decisions/kinds';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readPerformance } from '@/core/sources/smf/performance';
import { transcribeNow } from '@/core/transcribe';
import { proofOf } from '@/core/workbench/proof';
import { Workbench, type Written } from '@/core/workbench/workbench';
import { briefOf } from './helpers/made-file';
import { tidyScores, tidySmf } from './helpers/tidy-score';

function opened(text: string, ...directives: PlainDirective[]): Written {
  const bytes = new TextEncoder().encode(text);
  const bench = new Workbench([{ id: '1', version: 1, name: 'a.musicxml', bytes }]);
  bench.layOut(1, briefOf(...directives));
  return finished(bench.write(1));
}
const needless = (written: Written) =>
  finished(proofOf(written)).findings.filter(({ check }) => check === 'needless');

const TYPES: Record<number, string> = { 1: '16th', 2: 'eighth', 4: 'quarter', 8: 'half' };
/** A note or a rest of so many 16ths; ties by their ends. */
const item = (length: number, step: string | null, ...ties: ('start' | 'stop')[]) =>
  `<note>${step ? `<pitch><step>${step}</step><octave>5</octave></pitch>` : '<rest/>'}<duration>${length}</duration>${ties
    .map((type) => `<tie type="${type}"/>`)
    .join('')}<voice>1</voice><type>${TYPES[length]}</type>${
    ties.length > 0 ? `<notations>${ties.map((type) => `<tied type="${type}"/>`).join('')}</notations>` : ''
  }</note>`;
const score = (meter: [number, number], ...bars: string[]) =>
  `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Flute</part-name></score-part></part-list><part id="P1">${bars
    .map(
      (bar, at) =>
        `<measure number="${at + 1}">${at === 0 ? `<attributes><divisions>4</divisions><time><beats>${meter[0]}</beats><beat-type>${meter[1]}</beat-type></time></attributes>` : ''}${bar}</measure>`,
    )
    .join('')}</part></score-partwise>`;

const PLAIN = item(8, 'C') + item(8, 'D');
/** An eighth tied to an eighth on one beat, then a quarter in 16th rests. */
const SCRAPS =
  item(2, 'E', 'start') + item(2, 'E', 'stop') + item(1, null) + item(1, null) + item(2, null) + item(8, 'F');

describe('needless ties and rests of a score that was read', () => {
  it('are counted for each part, with where they begin, and go when the part is written again', () => {
    const text = score([4, 4], PLAIN, SCRAPS, SCRAPS);
    const [found, ...more] = needless(opened(text));
    expect(more).toEqual([]);
    expect(found).toMatchObject({
      bar: 1,
      weight: 'remark',
      what: '2 ties that a longer note would spare, 4 rests that a longer rest would spare, first here.',
    });
    expect(found!.notes).toHaveLength(2);
    const mended = opened(text, ...found!.mends[0]!.directives);
    expect(needless(mended)).toEqual([]);
    const lengths = mended.transcription.score.parts[0]!.bars[1]!.voices[0]!.items.map(
      ({ value }) => value.type,
    );
    expect(lengths).toEqual(['quarter', 'quarter', 'half']);
  });

  it('are none where ties show the middle of the bar, or rests the beat of three (common practice)', () => {
    // Gardner Read and Elaine Gould, on the middle of 4/4 and on compound rests; from memory.
    const middle = item(4, 'C') + item(4, 'D', 'start') + item(4, 'D', 'stop') + item(4, 'E');
    expect(needless(opened(score([4, 4], middle)))).toEqual([]);
    const compound = item(4, null) + item(2, null) + item(4, 'C') + item(2, 'D');
    expect(needless(opened(score([6, 8], compound)))).toEqual([]);
  });

  it('are none in what is written here, whatever it is (property)', () => {
    fc.assert(
      fc.property(tidyScores, (tidy) => {
        const { score: made } = transcribeNow(readPerformance(tidySmf(tidy)), EMPTY_BRIEF);
        expect(needless(opened(writeMusicXml(made)))).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });
});
