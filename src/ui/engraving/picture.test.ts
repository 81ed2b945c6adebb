// @vitest-environment jsdom
import { describe, expect, it } from 'vitest';
import { engraver } from '../../../tests/helpers/verovio';
import { systemOptions } from '../../workers/system-options';
import { cutByParts, pictureOf } from './picture';

const note = (id: string, more = '', staff = 1) =>
  `<note id="${id}"><pitch><step>E</step><octave>${staff === 1 ? 5 : 3}</octave></pitch><duration>2</duration>` +
  `<voice>${staff}</voice><type>half</type><staff>${staff}</staff>${more}</note>`;
const direction = (type: string, staff = 1) =>
  `<direction placement="above"><direction-type>${type}</direction-type><staff>${staff}</staff></direction>`;
const slur = (type: string) => `<notations><slur type="${type}" number="1"/></notations>`;
const ornament = '<notations><ornaments><trill-mark/></ornaments><fermata/></notations>';
const backup = '<backup><duration>4</duration></backup>';
const attributes = (staves: number) =>
  '<attributes><divisions>1</divisions><key><fifths>2</fifths></key><time><beats>4</beats>' +
  `<beat-type>4</beat-type></time><staves>${staves}</staves></attributes>`;
const forward =
  '<barline location="left"><bar-style>heavy-light</bar-style><repeat direction="forward"/></barline>';

/** A flute, a harp on two staves and a cello, with what hangs on a bar spread over them. */
const SYSTEM = `<?xml version="1.0"?><score-partwise version="4.0"><part-list>
${['P1', 'P2', 'P3'].map((id) => `<score-part id="${id}"><part-name></part-name></score-part>`).join('')}</part-list>
<part id="P1"><measure number="1">${attributes(1)}
${direction('<metronome><beat-unit>quarter</beat-unit><per-minute>96</per-minute></metronome>')}
${direction('<rehearsal>A</rehearsal>')}${note('f1', slur('start'))}${note('f2', slur('stop'))}</measure>
<measure number="2">${forward}${note('f3')}${note('f4', ornament)}</measure></part>
<part id="P2"><measure number="1">${attributes(2)}${direction('<dynamics><mf/></dynamics>')}
${note('h1', slur('start'))}${note('h2')}${backup}${note('h3', '', 2)}${note('h4', '', 2)}</measure>
<measure number="2">${forward}${note('h5', slur('stop'))}${note('h6')}${backup}
${direction('<wedge type="crescendo"/>', 2)}${note('h7', '', 2)}${note('h8', '', 2)}${direction('<wedge type="stop"/>', 2)}</measure></part>
<part id="P3"><measure number="1">${attributes(1)}${direction('<words>pizz.</words>')}
${note('c1', '<tie type="start"/><notations><tied type="start"/></notations>')}${note('c2', '<tie type="stop"/><notations><tied type="stop"/></notations>')}</measure>
<measure number="2">${forward}${direction('<octave-shift type="down" size="8"/>')}${note('c3')}${note('c4', ornament)}
${direction('<octave-shift type="stop" size="8"/>')}</measure></part></score-partwise>`;

const STAVES = [1, 2, 1];

async function engraved(): Promise<string> {
  const toolkit = await engraver();
  toolkit.setOptions(systemOptions({ width: 800, scale: 40, even: true }));
  toolkit.loadData(SYSTEM);
  return toolkit.renderToSVG(1);
}

const within = (picture: Element, selector: string) => picture.querySelectorAll(selector).length;
const idsOf = (picture: Element) => [...picture.querySelectorAll('g.note')].map(({ id }) => id);

describe('a system cut by parts', () => {
  it('gives each part its notes, its bar lines, and what hangs on its bars', async () => {
    const pictures = cutByParts(pictureOf(await engraved())!, STAVES);
    const [flute, harp, cello] = pictures as [SVGSVGElement, SVGSVGElement, SVGSVGElement];
    expect(idsOf(flute)).toEqual(['f1', 'f2', 'f3', 'f4']);
    expect(idsOf(harp).toSorted()).toEqual(['h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'h7', 'h8']);
    expect(idsOf(cello)).toEqual(['c1', 'c2', 'c3', 'c4']);
    const marks = ['tempo', 'reh', 'slur', 'trill', 'fermata', 'dynam', 'hairpin', 'dir', 'tie', 'octave'];
    const counts = (picture: Element) => marks.map((mark) => within(picture, `g.${mark}`));
    expect(counts(flute)).toEqual([1, 1, 1, 1, 1, 0, 0, 0, 0, 0]);
    // The slur over the bar line is drawn with the bar that it begins in.
    expect(counts(harp)).toEqual([0, 0, 1, 0, 0, 1, 1, 0, 0, 0]);
    expect(counts(cello)).toEqual([0, 0, 0, 1, 1, 0, 0, 1, 1, 1]);
    for (const picture of pictures) expect(within(picture, 'g.measure > g.barLine > *')).toBeGreaterThan(0);
    expect(pictures.map((picture) => within(picture, 'g.grpSym'))).toEqual([0, 1, 0]);
  });

  it('loses nothing but what joins two parts, the bar number, and moves nothing', async () => {
    const text = await engraved();
    const whole = pictureOf(text)!;
    const pictures = cutByParts(pictureOf(text)!, STAVES);
    const drawn = (from: readonly Element[]) =>
      from
        .flatMap((picture) => [
          ...picture.querySelectorAll(
            'g.measure > g:not(.barLine):not(.mNum) use, g.measure > g:not(.barLine):not(.mNum) path',
          ),
        ])
        .map((each) => each.outerHTML)
        .toSorted();
    expect(drawn(pictures)).toEqual(drawn([whole]));
    expect(pictures.map((each) => each.querySelector('svg')!.getAttribute('viewBox'))).toEqual(
      STAVES.map(() => whole.querySelector('svg')!.getAttribute('viewBox')),
    );
  });

  it('may stand twice on a page, with its own ids and its own style', async () => {
    const text = await engraved();
    const again = pictureOf(text, 'own-')!;
    expect(idsOf(again)[0]).toBe('own-f1');
    expect(again.querySelector('style')!.textContent).toContain(`#${again.id} `);
    for (const use of again.querySelectorAll('use'))
      expect(again.querySelector(`[id="${use.getAttribute('href')!.slice(1)}"]`)).not.toBeNull();
    expect(cutByParts(again, STAVES).map((each) => within(each, 'g.slur'))).toEqual([1, 1, 0]);
  });

  it('lets nothing in that could run', () => {
    const svg = (inner: string) => `<svg xmlns="http://www.w3.org/2000/svg">${inner}</svg>`;
    expect(pictureOf(svg('<g/>'))).not.toBeNull();
    expect(pictureOf(svg('<script>alert(1)</script>'))).toBeNull();
    expect(pictureOf(svg('<foreignObject/>'))).toBeNull();
    expect(pictureOf('<p>no picture</p>')).toBeNull();
    expect(pictureOf('not even XML')).toBeNull();
  });
});
