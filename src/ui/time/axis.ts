import { lastAtOrBefore } from '../../core/basics/search';
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
  const sorted = knots
    .toSorted((a, b) => a.moment - b.moment || a.x - b.x)
    .filter((knot, at, all) => knot.moment !== all[at - 1]?.moment)
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

/** Where the engraved notes and bar lines of one system stand, from the left edge of its box. */
export function knotsOf(
  box: HTMLElement,
  starts: ReadonlyMap<string, number>,
  barEnds: readonly number[],
): Knot[] {
  const left = box.getBoundingClientRect().left;
  const knots: Knot[] = [];
  for (const note of box.querySelectorAll('g.note')) {
    const moment = starts.get(note.id);
    const head = note.querySelector('.notehead');
    if (moment === undefined || !head || note.closest('.graceGrp')) continue;
    const rect = head.getBoundingClientRect();
    knots.push({ moment, x: rect.left + rect.width / 2 - left });
  }
  // Where a note follows at once, it tells the place; else the bar line does.
  const attacked = new Set(knots.map((knot) => knot.moment));
  const lines = [...box.querySelectorAll('g.measure > g.barLine')];
  lines.forEach((line, index) => {
    const end = barEnds[index];
    if (end === undefined || attacked.has(end)) return;
    const rect = line.getBoundingClientRect();
    knots.push({ moment: end, x: rect.left + rect.width / 2 - left });
  });
  return knots;
}
