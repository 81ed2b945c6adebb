import { describe, expect, it } from 'vitest';
import { engraver } from '../../../tests/helpers/verovio';
import { EMPTY_BRIEF } from '../decisions/brief';
import { untidyFile } from '../demo/untidy';
import { writeMusicXml } from '../sources/musicxml/write';
import { readPerformance } from '../sources/smf/performance';
import { readSmf } from '../sources/smf/read';
import { transcribeNow } from '../transcribe';
import { laterSignatures, withSignatures } from './signatures';
import { sliceScore } from './slice';

/** Signs of each staff in each measure, as they are engraved. */
async function engravedSigns(document: string, isMended: boolean): Promise<string[]> {
  const toolkit = await engraver();
  toolkit.setOptions({ breaks: 'none', adjustPageWidth: true });
  toolkit.loadData(document);
  if (isMended) toolkit.loadData(withSignatures(toolkit.getMEI(), laterSignatures(document)));
  return toolkit
    .renderToSVG(1)
    .split('class="measure"')
    .slice(1)
    .map((measure) =>
      measure
        .split('class="staff"')
        .slice(1)
        .map((staff) => staff.match(/keyAccid/g)?.length ?? 0)
        .join(' '),
    );
}

describe('signatures that change within a system', () => {
  const { score } = transcribeNow(readPerformance(readSmf(untidyFile())), EMPTY_BRIEF);
  const change = score.keys[1]!.bar;
  const parts = new Set(score.parts.slice(0, 3).map(({ id }) => id));
  const document = writeMusicXml(sliceScore(score, parts, change - 1, change + 2));

  it('are those that each transposing part reads', async () => {
    // D major to G major: flute 2 and 1 sharps, B♭ clarinet 4 and 3, alto saxophone 5 and 4.
    expect(laterSignatures(document)).toEqual([{ measure: 1, fifths: [1, 3, 4] }]);
    expect((await engravedSigns(document, true)).slice(0, 2)).toEqual(['2 4 5', '1 3 4']);
  });

  it('need the engraver’s own document, as long as it takes the first part’s for all', async () => {
    expect((await engravedSigns(document, false))[1]).toBe('1 1 1');
  });

  it('are left alone where all staves read the same', () => {
    const flute = new Set([score.parts[0]!.id]);
    expect(laterSignatures(writeMusicXml(sliceScore(score, flute, change - 1, change + 2)))).toEqual([]);
  });

  it('keep the notes and what they are called', async () => {
    const toolkit = await engraver();
    toolkit.setOptions({ breaks: 'none', adjustPageWidth: true });
    const ids = (svg: string) =>
      [...svg.matchAll(/class="note"[^>]*>|id="(t\d+c\d+-[^"]*)"/g)].flatMap(([, id]) => id ?? []);
    toolkit.loadData(document);
    const before = ids(toolkit.renderToSVG(1));
    toolkit.loadData(withSignatures(toolkit.getMEI(), laterSignatures(document)));
    expect(before.length).toBeGreaterThan(0);
    expect(ids(toolkit.renderToSVG(1))).toEqual(before);
  });

  it('begin in one part alone where its player changes instruments', () => {
    const two =
      '<part id="P1"><measure number="1"><fifths>0</fifths></measure><measure number="2"></measure></part>';
    const other = two
      .replace('P1', 'P2')
      .replace('<measure number="2">', '<measure number="2"><fifths>-5</fifths>');
    expect(laterSignatures(two + other)).toEqual([{ measure: 1, fifths: [null, -5] }]);
    const mei = '<score><measure n="1"></measure><measure n="2"></measure></score>';
    expect(withSignatures(mei, laterSignatures(two + other))).toBe(
      '<score><measure n="1"></measure><scoreDef><staffGrp><staffDef n="2"><keySig sig="5f"/></staffDef></staffGrp></scoreDef><measure n="2"></measure></score>',
    );
  });
});
