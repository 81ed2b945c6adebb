import { remembered } from '../basics/remember';
import type { PartId } from '../model/ids';
import { regrouped, type Score } from '../model/score';
import { multiBarRests } from '../notate/shorthand';
import { inPitch } from './pitch';

/** Sizes of paper in millimetres, upright (ISO 216; ANSI/ASME Y14.1 for Letter and Tabloid). */
export const PAPERS = {
  A4: [210, 297],
  A3: [297, 420],
  Letter: [215.9, 279.4],
  Tabloid: [279.4, 431.8],
} as const satisfies Record<string, readonly [width: number, height: number]>;
export type Paper = keyof typeof PAPERS;

/** How a page looks; lengths in millimetres. */
export interface PageFormat {
  paper: Paper;
  landscape: boolean;
  /** Height of a staff of five lines. */
  staff: number;
  margin: number;
}

/**
 * What is usual (common practice of publishers, from memory): parts about 7 mm, scores
 * as small as the number of staves asks for, but not under 3.5 mm.
 */
export const STAFF_SIZES = [3.5, 4, 4.5, 5, 5.5, 6, 6.5, 7, 7.5, 8] as const;
export const PART_STAFF = 7;
export const SCORE_STAFF = 5;

/** Width and height of a page, and of what its margins leave, in millimetres. */
export function pageSize({ paper, landscape, margin }: PageFormat) {
  const [short, long] = PAPERS[paper];
  const [width, height] = landscape ? [long, short] : [short, long];
  return { width, height, inner: { width: width - 2 * margin, height: height - 2 * margin } };
}

/** Systems of one page, by their index, and the room between them. */
export interface PagePlan {
  systems: number[];
  /** Between systems. */
  gap: number;
}

/**
 * Puts systems on pages, as many on each as fit with the least room between
 * them; then they spread over the page, but no wider than is read with ease.
 * The last page is not spread. A system higher than a page has one to itself.
 *
 * @param heights of the systems; all lengths in one unit
 * @param room the height that the first page has, and every other
 */
export function planPages(
  heights: readonly number[],
  room: { first: number; other: number },
  { least, most }: { least: number; most: number },
): PagePlan[] {
  const pages: PagePlan[] = [];
  let systems: number[] = [];
  let used = 0;
  const roomOf = (page: number) => (page === 0 ? room.first : room.other);
  const close = (isLast: boolean) => {
    if (systems.length === 0) return;
    const left = roomOf(pages.length) - used;
    const spread = systems.length > 1 ? left / (systems.length - 1) : 0;
    pages.push({ systems, gap: isLast ? least : Math.min(most, Math.max(least, least + spread)) });
    systems = [];
    used = 0;
  };
  heights.forEach((height, index) => {
    const more = systems.length > 0 ? least + height : height;
    if (systems.length > 0 && used + more > roomOf(pages.length)) {
      close(false);
      used = height;
    } else used += more;
    systems.push(index);
  });
  close(true);
  return pages;
}

/** Some parts of a score as they are on paper: what all of them rest through is one rest over several bars. */
export const onPaper = (score: Score, parts: ReadonlySet<PartId>, concert = false): Score =>
  remembered(score, 'on paper', [[...parts].join(' '), concert], () => {
    const whole = inPitch(score, concert);
    const own = whole.parts.filter(({ id }) => parts.has(id));
    // A player knows whose part lies before him: its name stands over the page.
    const shown = own.length === 1 ? own.map((part) => ({ ...part, name: '', abbreviation: '' })) : own;
    const chosen: Score = {
      ...whole,
      parts: shown,
      ...(whole.groups && { groups: regrouped(whole.groups, whole.parts, own) }),
    };
    const multiRests = multiBarRests(chosen);
    return multiRests.length > 0 ? { ...chosen, multiRests } : chosen;
  });
