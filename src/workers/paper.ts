import {
  type HastyTurn,
  hastyTurns,
  PART_STAFF,
  type PageFormat,
  type PagePlan,
  pageSize,
  planPages,
  SCORE_STAFF,
} from '../core/engrave/pages';
import type { SystemPlan } from '../core/engrave/systems';
import type { Score } from '../core/model/score';
import type { PdfRequest } from './pdf';
import { countSystems, type EngraveJob, LOOSER, LOOSEST, SPACE_AT_100 } from './system-options';

/** Pixels of a millimetre (CSS Values 3: 96 pixels to the inch). */
export const MM = 96 / 25.4;
/** Millimetres at the head of the first page, of every other, and at the foot. */
const FIRST_HEAD = 24;
const OTHER_HEAD = 9;
const FOOT = 7;
export const HEAD = { first: FIRST_HEAD * MM, other: OTHER_HEAD * MM };
/** Staff heights between systems. */
const GAP = { least: 0.6, most: 2.4 };
/** A staff has four spaces. */
const SPACES = 4;
/** A system that is too high for its page is drawn so much smaller that the page has air. */
const AIR = 0.97;
/** Nothing is drawn smaller than this share of what was asked for. */
const SMALLEST = 0.1;
/** Sizes of what is written on a page beside the music, in millimetres; those of the style sheet. */
const LETTERS = { title: 7, name: 5, running: 3.6, copyright: 2.8 };

const heightOf = (svg: string): number => Number(/<svg[^>]* height="([\d.]+)px"/.exec(svg)?.[1] ?? 0);

/** How a page looks where the height of a staff may be left to what is usual. */
export type ChosenFormat = Omit<PageFormat, 'staff'> & { staff: number | null };

export const USUAL_FORMAT: ChosenFormat = { paper: 'A4', landscape: false, staff: null, margin: 14 };

export const formatFor = (chosen: ChosenFormat, parts: number): PageFormat => ({
  ...chosen,
  staff: chosen.staff ?? (parts === 1 ? PART_STAFF : SCORE_STAFF),
});

/** What some parts look like on paper; lengths in pixels. */
export interface LaidPages {
  svgs: readonly string[];
  pages: readonly PagePlan[];
  /** The height of a staff in millimetres: less than asked for where the highest system would not fit a page. */
  staff: number;
  /** Pages that are turned while somebody plays. */
  hasty: readonly HastyTurn[];
  done: number;
  of: number;
}

export const NO_PAGES: LaidPages = { svgs: [], pages: [], staff: 0, hasty: [], done: 0, of: 0 };

/** What is put on paper: some parts of a score at one state. */
export interface Printed {
  /** A part by itself has rests to turn pages in. */
  isPart: boolean;
  format: PageFormat;
  /** How the bars from one on divide into systems of a width, in staff spaces. */
  systems: (width: number, from: number) => Promise<SystemPlan[]>;
  /** MusicXML of the bars from one to another. */
  window: (from: number, to: number) => Promise<string>;
  /** A document as one system, as SVG; null where the signal was given. */
  engrave: (job: EngraveJob, signal: AbortSignal) => Promise<string | null>;
}

/**
 * Engraves the systems of some parts one after another, and puts them on pages: looser
 * where two systems' worth would stand in one, smaller where one is higher than its page.
 *
 * @param onPages told after each system what there is
 * @returns null where the signal was given
 */
export async function engravePages(
  { isPart, format, systems: planSystems, window, engrave }: Printed,
  signal: AbortSignal,
  onPages: (pages: LaidPages) => void,
): Promise<LaidPages | null> {
  const { inner } = pageSize(format);
  const width = Math.floor(inner.width * MM);
  const heights = {
    first: inner.height * MM - HEAD.first - FOOT * MM,
    other: inner.height * MM - HEAD.other - FOOT * MM,
  };
  let smaller = 1;
  for (;;) {
    let fill = 1;
    const staff = format.staff * smaller;
    const space = (staff * MM) / SPACES;
    const scale = (100 * space) / SPACE_AT_100;
    const planned = (from: number) => planSystems(Math.max(12, (fill * width) / space), from);
    let systems = await planned(0);
    if (signal.aborted) return null;
    const gap = { least: GAP.least * staff * MM, most: GAP.most * staff * MM };
    const svgs: string[] = [];
    const laid = (): LaidPages => {
      // Who plays from a score turns when he has a hand free: a part is turned in rests.
      const rests = isPart ? systems.map(({ rest }) => rest) : undefined;
      const pages = planPages(svgs.map(heightOf), heights, gap, rests);
      const hasty = rests ? hastyTurns(pages, rests) : [];
      return { svgs: [...svgs], pages, staff, hasty, done: svgs.length, of: systems.length };
    };
    const engraved = async (index: number): Promise<string | null> => {
      const system = systems[index];
      if (!system) return null;
      const { from, to } = system;
      const document = await window(from, to);
      return signal.aborted ? null : engrave({ document, width, scale }, signal);
    };
    let isHigh = false;
    // The next one is under way while one is looked at.
    let next = engraved(0);
    while (svgs.length < systems.length) {
      const index = svgs.length;
      const { from, to } = systems[index]!;
      const now = next;
      next = engraved(index + 1);
      // What is thrown away may fail unheard.
      next.catch(() => {});
      const svg = await now;
      if (svg === null || signal.aborted) return null;
      const height = heightOf(svg);
      if (to - from > 1 && countSystems(svg) > 1 && fill > LOOSEST) {
        // Too much for one line: from here on there is less in each.
        fill = Math.max(LOOSEST, fill * LOOSER);
        systems = [...systems.slice(0, index), ...(await planned(from))];
        next = engraved(index);
        continue;
      }
      isHigh = height > heights.first && smaller > SMALLEST;
      if (isHigh) {
        smaller *= (AIR * Math.max(1, heights.first)) / height;
        break;
      }
      svgs.push(svg);
      onPages(laid());
    }
    if (isHigh) continue;
    return laid();
  }
}

/** What stands on pages beside the music. */
export interface Lettering {
  title: string;
  composer: string;
  copyright: string;
  /** Of the part, or what is said of a score. */
  name: string;
  pitch: string;
}

/**
 * What stands at the head of a score, or of a part by itself.
 * @param parts names of those that are on the page
 */
export function letteringOf(
  { title, composer = '', copyright = '' }: Pick<Score, 'title' | 'composer' | 'copyright'>,
  parts: readonly string[],
  concert: boolean,
): Lettering {
  const isPart = parts.length === 1;
  return {
    title,
    composer,
    copyright,
    name: isPart ? parts[0]! : '',
    pitch: concert && !isPart ? 'Score in concert pitch' : '',
  };
}

/** The pages as they are shown, for whoever makes a PDF of them. */
export function pdfRequest(
  { svgs, pages }: LaidPages,
  { title, composer, copyright, name, pitch }: Lettering,
  format: PageFormat,
): PdfRequest {
  const size = pageSize(format);
  const [width, height, margin] = [size.width * MM, size.height * MM, format.margin * MM];
  const first = [
    { text: name || pitch, y: margin + MM, size: LETTERS.name * MM, align: 'left' as const },
    { text: title, y: margin + 5 * MM, size: LETTERS.title * MM, align: 'center' as const },
    { text: composer, y: margin + 15 * MM, size: LETTERS.running * MM, align: 'right' as const },
    {
      text: copyright,
      y: height - (11 + LETTERS.copyright) * MM,
      size: LETTERS.copyright * MM,
      align: 'center' as const,
    },
  ];
  const running = {
    text: [title, name].filter(Boolean).join(', '),
    y: margin,
    size: LETTERS.running * MM,
    align: 'center' as const,
  };
  return {
    title,
    width,
    height,
    margin,
    systems: [...svgs],
    pages: pages.map(({ systems, gap }, index) => {
      let y = margin + (index === 0 ? HEAD.first : HEAD.other);
      const number = {
        text: String(index + 1),
        y: height - (6 + LETTERS.running) * MM,
        size: LETTERS.running * MM,
        align: 'center' as const,
      };
      return {
        lines: [...(index === 0 ? first : [running]), number].filter(({ text }) => text !== ''),
        pictures: systems.map((system) => {
          const picture = { system, y };
          y += heightOf(svgs[system]!) + gap;
          return picture;
        }),
      };
    }),
  };
}
