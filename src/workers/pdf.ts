import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsInt,
  IsNumber,
  IsString,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import PDFDocument from 'pdfkit';
import { toBytes } from 'pdfkit/output';
import SVGtoPDF from 'svg-to-pdfkit';
import { checkMessage } from './check-message';
import { type Fonts, faceOf, piecesOf } from './print-faces';

/** Points of a pixel (CSS Values 3: 96 pixels to the inch; PDF: 72 points). */
const POINTS = 72 / 96;
const MOST_PAGES = 2000;
const MOST_SYSTEMS = 20_000;

/** A line of text on a page, in pixels from its top left; `y` is the top of the line. */
class PdfLine {
  @IsString() @MaxLength(1000) text!: string;
  @IsNumber() @Min(0) @Max(20_000) y!: number;
  @IsNumber() @Min(1) @Max(500) size!: number;
  @IsIn(['left', 'center', 'right']) align!: 'left' | 'center' | 'right';
}

/** A system on a page, by its place among the pictures. */
class PdfPicture {
  @IsInt() @Min(0) @Max(MOST_SYSTEMS) system!: number;
  @IsNumber() @Min(0) @Max(20_000) y!: number;
}

class PdfPage {
  @IsArray() @ArrayMaxSize(20) @ValidateNested({ each: true }) @Type(() => PdfLine) lines!: PdfLine[];
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => PdfPicture)
  pictures!: PdfPicture[];
}

/** Pages as they are shown: lengths in pixels, engraved systems as SVG. */
export class PdfRequest {
  @IsString() @MaxLength(1000) title!: string;
  @IsNumber() @Min(100) @Max(20_000) width!: number;
  @IsNumber() @Min(100) @Max(20_000) height!: number;
  @IsNumber() @Min(0) @Max(2000) margin!: number;
  @IsArray() @ArrayMaxSize(MOST_SYSTEMS) @IsString({ each: true }) systems!: string[];
  @IsArray() @ArrayMaxSize(MOST_PAGES) @ValidateNested({ each: true }) @Type(() => PdfPage) pages!: PdfPage[];
}

/**
 * Checks what was sent.
 * @throws TypeError naming the first thing that is wrong
 */
export function checkPdfRequest(data: unknown): PdfRequest {
  const request = checkMessage(PdfRequest, data);
  if (request.pages.some(({ pictures }) => pictures.some(({ system }) => !request.systems[system])))
    throw new TypeError('A page has a system that was not sent.');
  return request;
}

/** What the engraver says of lines and letters in its style sheet, which a PDF knows nothing of. */
const BOLD = /<g (?=[^>]*class="(?:ending|fing|reh|tempo)[ "])/g;
const ITALIC = /<g (?=[^>]*class="(?:dir|dynam|mNum)[ "])/g;
const PLAIN = /<g (?=[^>]*class="label[ "])/g;
const DRAWN = /<(ellipse|path|polygon|polyline|rect)(?=[\s>/])(?![^>]*\sstroke=)/g;

/** What a group says of what stands in it, or that it is a glyph to be used; one that says nothing of the kind is none. */
const SAYS =
  /\sid="E[0-9A-F]{3}|\s(?:color|fill|font-[a-z]+|opacity|stroke[a-z-]*|style|text-anchor|transform|visibility)=/;

/** A picture without groups that change nothing: each of them is asked for every attribute of all that is in it. */
function flat(svg: string): string {
  const kept: boolean[] = [];
  return svg.replace(/<g\b[^>]*>|<\/g>/g, (tag) => {
    if (tag === '</g>') return kept.pop() ? tag : '';
    const says = SAYS.test(tag);
    if (!tag.endsWith('/>')) kept.push(says);
    return says ? tag : '';
  });
}

/** A picture whose styles stand at its elements. */
export const plainSvg = (svg: string): string => flat(styled(svg));

const styled = (svg: string): string =>
  svg
    .replace(/<style[\s\S]*?<\/style>/g, '')
    .replace(DRAWN, '<$1 stroke="currentColor"')
    .replace(BOLD, '<g font-weight="bold" ')
    .replace(ITALIC, '<g font-style="italic" ')
    .replace(PLAIN, '<g font-weight="normal" ')
    // A space at the edge of a piece of text would be dropped.
    .replace(/<tspan([^>]*)>(?=\s[^\s<]|[^<]*[^\s<]\s<)/g, '<tspan$1 xml:space="preserve">')
    // What the text face lacks is said to be of another.
    .replace(/>([^<>]*[^\s -\u00ff<>][^<>]*)</g, (_, text: string) => `>${inFaces(text)}<`);

const inFaces = (text: string): string =>
  piecesOf(text)
    .map(({ piece, family }) => (family ? `<tspan font-family="${family}">${piece}</tspan>` : piece))
    .join('');

/** All texts of some pages: those beside the music, and those in its pictures. */
export function* textsOf({ systems, pages }: PdfRequest): Generator<string> {
  for (const { lines } of pages) for (const { text } of lines) yield text;
  for (const svg of systems)
    for (const [, text = ''] of svg.matchAll(/>([^<>]*[^\s -\u00ff<>][^<>]*)</g)) yield text;
}

/** A sign of the music font: where it stands in its picture, and the size of the font, in pixels. */
interface Glyph {
  code: number;
  x: number;
  y: number;
  size: number;
}

/** A sign as the engraver uses it: what it is, where, and how large against a font of a thousand units. */
const USED =
  /<use href="#E([0-9A-F]{3})-[^"]*" transform="translate\((-?[\d.]+), (-?[\d.]+)\) scale\((-?[\d.]+), \4\)" \/>/g;
const EM = 1000;

/**
 * A picture without its signs, and these: written as text of their font they are a few bytes each, and no outlines
 * to be read again. What is drawn in another way, or under a transformation of its own, stays as it is.
 */
export function withoutGlyphs(svg: string): { svg: string; glyphs: Glyph[] } {
  const [, width] = /<svg width="([\d.]+)px"/.exec(svg) ?? [];
  const [, across] = /viewBox="0 0 ([\d.]+) /.exec(svg) ?? [];
  const [, left, top] = /class="page-margin" transform="translate\(([\d.]+), ([\d.]+)\)"/.exec(svg) ?? [];
  const moved = svg.match(/<g\b[^>]*\stransform=/g)?.length ?? 0;
  if (!width || !across || !left || !top || moved > 1) return { svg, glyphs: [] };
  const scale = Number(width) / Number(across);
  const glyphs: Glyph[] = [];
  const rest = svg.replace(USED, (_, code: string, x: string, y: string, size: string) => {
    glyphs.push({
      code: Number.parseInt(`E${code}`, 16),
      x: (Number(left) + Number(x)) * scale,
      y: (Number(top) + Number(y)) * scale,
      size: EM * Number(size) * scale,
    });
    return '';
  });
  return { svg: rest, glyphs };
}

/** Nothing but what the engraver draws is drawn: a picture within a picture is none of it. */
const NO_IMAGE = () => '';

/** Pages as a PDF with its fonts in it: text stays text, notes stay lines. */
export async function pdfOf(
  { title, width, height, margin, systems, pages }: PdfRequest,
  fonts: Fonts,
): Promise<Uint8Array> {
  const doc = new PDFDocument({
    autoFirstPage: false,
    // None but those that are given.
    font: '',
    margin: 0,
    size: [width * POINTS, height * POINTS],
    info: { Title: title, Creator: 'Dragoman' },
  });
  const bytes = toBytes(doc);
  for (const [face, file] of fonts) doc.registerFont(face, file);
  for (const { lines, pictures } of pages) {
    doc.addPage();
    for (const line of lines) writeLine(doc, line, width, margin);
    for (const { system, y } of pictures) {
      const { svg, glyphs } = withoutGlyphs(systems[system] ?? '');
      for (const { code, x, y: top, size } of glyphs)
        doc
          .font('music')
          .fontSize(size * POINTS)
          .text(String.fromCodePoint(code), (margin + x) * POINTS, (y + top) * POINTS, {
            lineBreak: false,
            baseline: 'alphabetic',
          });
      SVGtoPDF(doc, plainSvg(svg), margin * POINTS, y * POINTS, {
        fontCallback: faceOf,
        imageCallback: NO_IMAGE,
      });
    }
  }
  doc.end();
  return bytes;
}

/** How far above its baseline the text face reaches, as a share of its size (its own metrics). */
const ASCENT = 0.891;

/** Writes a line of text, each letter in the face that has it. */
function writeLine(
  doc: PDFKit.PDFDocument,
  { text, y, size, align }: PdfLine,
  width: number,
  margin: number,
): void {
  const sized = piecesOf(text).map(({ piece, family }) => {
    const font = faceOf(family ?? '', false, false);
    doc.font(font).fontSize(size * POINTS);
    return { piece, font, wide: doc.widthOfString(piece) };
  });
  const all = sized.reduce((sum, { wide }) => sum + wide, 0);
  const room = width * POINTS - all;
  let x = { left: margin * POINTS, center: room / 2, right: room - margin * POINTS }[align];
  for (const { piece, font, wide } of sized) {
    doc
      .font(font)
      .fontSize(size * POINTS)
      .text(piece, x, (y + ASCENT * size) * POINTS, { lineBreak: false, baseline: 'alphabetic' });
    x += wide;
  }
}
