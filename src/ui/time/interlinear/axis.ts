import { lastAtOrBefore } from '../../../core/basics/search';

/** A moment of the score and where it stands on the page, in pixels. */
export interface Knot {
  moment: number;
  x: number;
}

/**
 * The way from score time to pixels, from what is known of an engraved system:
 * where notes stand and where bars end. Between knots time runs evenly.
 */
export function axisOf(knots: readonly Knot[]): (moment: number) => number {
  const places = new Map<number, number[]>();
  for (const { moment, x } of knots) {
    const known = places.get(moment);
    if (known) known.push(x);
    else places.set(moment, [x]);
  }
  const sorted = [...places]
    .map(([moment, all]): Knot => ({ moment, x: middleOf(all) }))
    .toSorted((a, b) => a.moment - b.moment)
    // What was measured out of order, as a note pushed aside by a second, gives no knot.
    .reduce<Knot[]>((kept, knot) => {
      if (knot.x > (kept.at(-1)?.x ?? Number.NEGATIVE_INFINITY)) kept.push(knot);
      return kept;
    }, []);
  const [first, second] = sorted;
  if (!first) return () => 0;
  if (!second) return () => first.x;
  // Outside of what is known time runs as it does on average.
  const last = sorted.at(-1)!;
  const pace = (last.x - first.x) / (last.moment - first.moment);
  return (moment) => {
    if (moment <= first.moment) return first.x + (moment - first.moment) * pace;
    if (moment >= last.moment) return last.x + (moment - last.moment) * pace;
    const low = lastAtOrBefore(sorted, moment, (knot) => knot.moment);
    const [from, to] = [sorted[low]!, sorted[low + 1]!];
    return from.x + ((moment - from.moment) / (to.moment - from.moment)) * (to.x - from.x);
  };
}

/** Of several notes at one moment one or another is pushed aside by a second; most stand where the moment is. */
const middleOf = (places: readonly number[]): number =>
  places.toSorted((a, b) => a - b)[Math.floor((places.length - 1) / 2)]!;

/** Where the engraved notes and bar lines of some rows of one system stand, from the left edge of their boxes. */
export function knotsOf(
  boxes: readonly HTMLElement[],
  starts: ReadonlyMap<string, number>,
  barEnds: readonly number[],
): Knot[] {
  const knots: Knot[] = [];
  const lines: Knot[] = [];
  for (const box of boxes) {
    const left = box.getBoundingClientRect().left;
    const middle = (element: Element) => {
      const rect = element.getBoundingClientRect();
      return rect.left + rect.width / 2 - left;
    };
    for (const note of box.querySelectorAll('g.note')) {
      const moment = starts.get(note.id);
      const head = note.querySelector('.notehead');
      if (moment === undefined || !head || note.closest('.graceGrp')) continue;
      knots.push({ moment, x: middle(head) });
    }
    box.querySelectorAll('g.measure > g.barLine').forEach((line, index) => {
      const end = barEnds[index];
      if (end !== undefined) lines.push({ moment: end, x: middle(line) });
    });
  }
  // Where a note follows at once, it tells the place; else the bar line does.
  const attacked = new Set(knots.map((knot) => knot.moment));
  return [...knots, ...lines.filter(({ moment }) => !attacked.has(moment))];
}
