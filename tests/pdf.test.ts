import fc from 'fast-check';
import { getDocument, OPS } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { beforeAll, describe, expect, it } from 'vitest';
import { lanternFerry } from '@/core/demo/lantern-ferry';
import { sliceScore } from '@/core/engrave/slice';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { checkPdfRequest, type PdfRequest, pdfOf, plainSvg } from '@/workers/pdf';
import { facesFor, piecesOf } from '@/workers/print-faces';
import { systemOptions } from '@/workers/system-options';
import { printFonts } from './helpers/print-fonts';
import { engraver } from './helpers/verovio';

/** A second reader's view of a PDF: the texts of each page, and the names of its fonts. */
async function readPdf(bytes: Uint8Array) {
  const document = await getDocument({ data: new Uint8Array(bytes), verbosity: 0 }).promise;
  const pages = [];
  for (let number = 1; number <= document.numPages; number++) {
    const page = await document.getPage(number);
    const { items } = await page.getTextContent();
    const { fnArray } = await page.getOperatorList();
    pages.push({
      size: page.view.slice(2),
      texts: items.flatMap((item) => ('str' in item && item.str.trim() ? [item.str.trim()] : [])),
      paths: fnArray.filter((each) => each === OPS.constructPath).length,
    });
  }
  return { pages, info: (await document.getMetadata()).info as { Title?: string } };
}

let systems: string[] = [];
beforeAll(async () => {
  const score = lanternFerry();
  const toolkit = await engraver();
  systems = [0, 4].map((from) => {
    toolkit.setOptions(systemOptions({ width: 690, scale: 30 }));
    toolkit.loadData(
      writeMusicXml(sliceScore(score, new Set(score.parts.slice(0, 8).map(({ id }) => id)), from, from + 4)),
    );
    return toolkit.renderToSVG(1);
  });
});

const request = (): PdfRequest => ({
  title: 'Lantern Ferry',
  width: 794,
  height: 1123,
  margin: 53,
  systems,
  pages: [
    {
      lines: [
        { text: 'B♭ Clarinet', y: 57, size: 19, align: 'left' },
        { text: 'Lantern Ferry', y: 72, size: 26, align: 'center' },
      ],
      pictures: [{ system: 0, y: 144 }],
    },
    { lines: [{ text: '2', y: 1090, size: 14, align: 'center' }], pictures: [{ system: 1, y: 87 }] },
  ],
});

describe('letters of a PDF', () => {
  const names = 'Dvořák, Σκαλκώτας, Шостакович';

  it('are those of all scripts that it has faces for, beside the music and in it', async () => {
    const pages = [
      {
        lines: [{ text: names, y: 57, size: 19, align: 'left' as const }],
        pictures: [{ system: 0, y: 144 }],
      },
    ];
    const [, first = ''] = /<tspan[^>]*>([A-Z][a-z]{3,}[^<]*)</.exec(systems[0]!) ?? [];
    const named = systems[0]!.replace(`>${first}<`, '>Příčná flétna<');
    expect(named.includes('Příčná flétna')).toBe(true);
    const made = await readPdf(await pdfOf({ ...request(), systems: [named], pages }, printFonts()));
    const text = made.pages[0]!.texts.join(' ').replaceAll(' ', '');
    expect(text).toContain(names.replaceAll(' ', ''));
    expect(text).toContain('Příčnáflétna');
  });

  it('ask for no more faces than they need, and are told where none has them', () => {
    expect(facesFor(['Lantern Ferry', 'B♭ – “1”', '\ue0a4']).faces).toHaveLength(6);
    expect(facesFor(['ř']).faces).toHaveLength(10);
    expect(facesFor([names, names.normalize('NFD')]).missing).toEqual([]);
    expect(facesFor(['日本 quartet', '日']).missing).toEqual(['日', '本']);
  });

  it('are cut into pieces of one face each, and none is lost', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (text) => {
        expect(
          piecesOf(text)
            .map(({ piece }) => piece)
            .join(''),
        ).toBe(text.normalize('NFC'));
      }),
    );
    expect(piecesOf('B♭ ř').map(({ family }) => family)).toEqual([null, 'signs', null, 'latin-ext']);
  });
});

describe('a PDF of engraved pages', () => {
  it('has every text of the pictures as text, and every line drawn', async () => {
    const { pages, info } = await readPdf(await pdfOf(request(), printFonts()));
    expect(info.Title).toBe('Lantern Ferry');
    // A4 in points (ISO 216).
    expect(pages.map(({ size }) => size.map(Math.round))).toEqual([
      [596, 842],
      [596, 842],
    ]);
    for (const [index, { texts, paths }] of pages.entries()) {
      const svg = systems[index]!;
      const letters = (text: string) => text.replace(/\s/g, '');
      const own = [...svg.matchAll(/<tspan[^>]*>([^<]+)</g)]
        .map(([, text]) => letters(text!))
        .filter(Boolean);
      const found = letters(texts.join(''));
      for (const text of own.filter((each) => /^[\w=♭♯.]+$/u.test(each))) expect(found).toContain(text);
      const drawn = [...plainSvg(svg).matchAll(/<(path|polygon|polyline|rect|ellipse|use)[ >]/g)].length;
      expect(paths).toBeGreaterThan(0.5 * drawn);
    }
    expect(pages[0]!.texts.join(' ')).toContain('♭');
    expect(pages[0]!.texts.join(' ')).toContain('Lantern Ferry');
  });

  it('has its fonts in it, the music font too', async () => {
    const text = Buffer.from(await pdfOf(request(), printFonts())).toString('latin1');
    const fonts = new Set([...text.matchAll(/\/FontName \/[A-Z]{6}\+([\w-]+)/g)].map(([, name]) => name));
    expect(fonts).toContain('Leipzig');
    expect(fonts).toContain('Tinos-Regular');
    expect([...text.matchAll(/\/FontFile2/g)].length).toBe(fonts.size);
  });

  it('writes styles at their elements', () => {
    const plain = plainSvg(systems[0]!);
    expect(plain).not.toContain('<style');
    expect(plain).toMatch(/<g font-weight="bold" [^>]*class="tempo/);
    expect(plain).toContain('<tspan font-family="signs">♭</tspan>');
  });

  it('takes no picture from elsewhere into it, and asks for none', async () => {
    const link = '/print-fonts/music';
    const foreign = systems[0]!.replace(
      '</svg>',
      `<image width="9" height="9" xlink:href="${link}"/><image href="data:image/png;base64,AAAA"/></svg>`,
    );
    const bytes = await pdfOf({ ...request(), systems: [foreign, systems[1]!] }, printFonts());
    const text = Buffer.from(bytes).toString('latin1');
    expect(text).not.toContain('/Subtype /Image');
    expect((await readPdf(bytes)).pages.map(({ paths }) => paths > 0)).toEqual([true, true]);
  });

  it('refuses what is no such request in one sentence', () => {
    expect(() => checkPdfRequest(null)).toThrow('The message is empty.');
    expect(() => checkPdfRequest({ ...request(), width: -1 })).toThrow(/width/);
    expect(() => checkPdfRequest({ ...request(), systems: [] })).toThrow(
      'A page has a system that was not sent.',
    );
  });
});
