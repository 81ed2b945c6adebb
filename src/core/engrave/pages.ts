import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import type { PartId } from '../model/ids';
import { regrouped, type Score } from '../model/score';
import { withCues } from '../notate/cues';
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

/** Time that a turn wants, in seconds (common practice: a bar at a walking pace and no less). */
export const TURN = 2;
/** What a page costs against a turn that leaves no time, and against one that is half empty. */
const COST = { page: 3, turn: 4, empty: 1.5 };

/** A page that is turned while somebody plays: its number from 1, and the seconds of rest that there are. */
export interface HastyTurn {
  page: number;
  rest: number;
}

/** Pages lie side by side from the second on, so that every odd one is turned. */
export const hastyTurns = (pages: readonly PagePlan[], rests: readonly number[]): HastyTurn[] =>
  // Two pages lie open side by side.
  pages.slice(0, pages.length > 2 ? -1 : 0).flatMap(({ systems }, index) => {
    const rest = rests[systems.at(-1)!] ?? 0;
    return index % 2 === 0 && rest < TURN ? [{ page: index + 1, rest }] : [];
  });

/**
 * Puts systems on pages. Pages are as full as can be, but one that is turned ends
 * in a rest where that can be had for a page that is not half empty; of all ways
 * that one is taken that costs least (Knuth and Plass's way with paragraphs, 1981,
 * from memory). Then systems spread over the page, but no wider than is read with ease; the
 * last page is not spread. A system higher than a page has one to itself.
 *
 * @param heights of the systems; all lengths in one unit
 * @param room the height that the first page has, and every other
 * @param rests seconds of rest at the end of each system; absent where nobody turns
 */
export function planPages(
  heights: readonly number[],
  room: Room,
  { least, most }: { least: number; most: number },
  rests?: readonly number[],
): PagePlan[] {
  const full = cheapestPages(heights, room, least);
  const cut = rests && full.length > 2 ? cheapestPages(heights, room, least, rests) : full;
  return cut.map(([from, to], page) => {
    const systems = Array.from({ length: to - from }, (_, index) => from + index);
    const left = roomOf(room, page) - usedBy(heights, from, to, least);
    const spread = systems.length > 1 ? least + left / (systems.length - 1) : least;
    const isLast = page === cut.length - 1;
    return { systems, gap: isLast ? least : Math.min(most, Math.max(least, spread)) };
  });
}

interface Room {
  first: number;
  other: number;
}

const roomOf = ({ first, other }: Room, page: number): number => (page === 0 ? first : other);

const usedBy = (heights: readonly number[], from: number, to: number, least: number): number =>
  heights.slice(from, to).reduce((sum, height) => sum + height, 0) + least * (to - from - 1);

/** Systems from one up to but not including another, page by page, where all costs least; without rests, each page full. */
function cheapestPages(
  heights: readonly number[],
  room: Room,
  least: number,
  rests?: readonly number[],
): [from: number, to: number][] {
  const count = heights.length;
  /** The cheapest way to have put the systems before one on so many pages: its cost, and where its last page begins. */
  const ways = Array.from({ length: count + 1 }, () => new Map<number, { cost: number; from: number }>());
  ways[0]!.set(0, { cost: 0, from: 0 });
  for (let from = 0; from < count; from++)
    for (const [page, { cost }] of ways[from]!) {
      const height = roomOf(room, page);
      for (let to = from + 1; to <= count; to++) {
        const used = usedBy(heights, from, to, least);
        if (used > height && to - 1 > from) break;
        const isFull = to === count || used + least + heights[to]! > height;
        if (!rests && !isFull) continue;
        const empty = to === count ? 0 : Math.max(0, 1 - used / height);
        const isTurned = rests !== undefined && to < count && page % 2 === 0;
        const hasty = isTurned ? 1 - Math.min(1, rests[to - 1]! / TURN) : 0;
        const next = cost + COST.page + COST.empty * empty ** 2 + COST.turn * hasty;
        const known = ways[to]!.get(page + 1);
        if (!known || next < known.cost) ways[to]!.set(page + 1, { cost: next, from });
      }
    }
  const [best] = [...ways[count]!].sort(([, a], [, b]) => a.cost - b.cost);
  const pages: [number, number][] = [];
  let to = count;
  for (let page = best?.[0] ?? 0; page > 0; page--) {
    const { from } = ways[to]!.get(page)!;
    pages.unshift([from, to]);
    to = from;
  }
  return pages;
}

/** How some parts are put on paper. */
export interface PaperChoice {
  concert?: boolean;
  /** Small notes of others before entries after long rests, where a part is by itself. */
  cues?: boolean;
}

/** Some parts of a score as they are on paper: what all of them rest through is one rest over several bars. */
export const onPaper = (
  score: Score,
  parts: ReadonlySet<PartId>,
  { concert = false, cues = false }: PaperChoice = {},
): Score => remembered(score, ON_PAPER, { score, parts, concert, cues });

const ON_PAPER = node(
  'on paper',
  ({ score, parts, concert, cues }: { score: Score; parts: ReadonlySet<PartId> } & Required<PaperChoice>) => {
    const whole = inPitch(score, concert);
    const own = whole.parts.filter(({ id }) => parts.has(id));
    // A player knows whose part lies before him: its name stands over the page.
    const shown =
      own.length === 1
        ? own.map((part) => ({ ...(cues ? withCues(whole, part) : part), name: '', abbreviation: '' }))
        : own;
    const chosen: Score = {
      ...whole,
      parts: shown,
      ...(whole.groups && { groups: regrouped(whole.groups, whole.parts, own) }),
    };
    const multiRests = multiBarRests(chosen);
    return multiRests.length > 0 ? { ...chosen, multiRests } : chosen;
  },
);
