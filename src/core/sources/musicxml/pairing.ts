import type { Anchor, Spanner } from '../../model/marks';
import type { PlacedEnd } from './part-reader';

/** No slur with others of its number under it goes over more bars: its end was forgotten (common practice). */
const LONGEST_SLUR = 12;

/**
 * Pairs the ends of all that stretches in a part: each stop goes with the last
 * start of its kind and number before it in time, the one of its voice and staff first.
 *
 * @param endOfBar the moment at which a bar ends, for what is never ended
 * @param onLoose told of each end without another: of a slur that is left out, of a line what was made of it
 */
export function pairEnds(
  ends: readonly PlacedEnd[],
  endOfBar: (bar: number) => number,
  onLoose: (end: PlacedEnd, done: string) => void,
): Spanner[] {
  const inTime = ends
    .map((end, order) => ({ end, order }))
    // What ends at a moment is over before what begins there, unless it is the same note.
    .sort(
      (a, b) =>
        a.end.bar - b.end.bar ||
        a.end.at - b.end.at ||
        Number(b.end.isGrace ?? false) - Number(a.end.isGrace ?? false) ||
        rank(a.end) - rank(b.end) ||
        a.order - b.order,
    );
  const open = new Map<string, PlacedEnd[]>();
  const lastBegun = new Map<string, PlacedEnd>();
  const spanners: Spanner[] = [];
  const pair = (start: PlacedEnd, to: Anchor) => {
    const { kind, is, placement } = start;
    spanners.push({
      id: `${kind}-${spanners.length + 1}`,
      kind,
      ...is,
      from: anchorOf(start),
      to,
      ...(placement && { placement }),
    } as Spanner);
  };
  for (const { end } of inTime) {
    const name = `${end.kind} ${end.number}`;
    const list = open.get(name) ?? [];
    open.set(name, list);
    if (end.type === 'start') {
      list.push(end);
      lastBegun.set(name, end);
      continue;
    }
    const ofVoice = list.findLastIndex((each) => each.staff === end.staff && each.voice === end.voice);
    const own = ofVoice >= 0 ? ofVoice : list.findLastIndex((each) => each.staff === end.staff);
    const [start] = list.splice(own >= 0 ? own : list.length - 1, list.length > 0 ? 1 : 0);
    if (!start) {
      onLoose(end, 'It is left out.');
      continue;
    }
    if (isForgotten(start, end, lastBegun.get(name) ?? start)) {
      onLoose(start, 'It is left out.');
      onLoose(end, 'It is left out.');
      continue;
    }
    // A niente may be said at either end.
    if (end.is.niente) start.is.niente = true;
    pair(start, anchorOf(end));
  }
  for (const start of [...open.values()].flat()) {
    if (start.note !== undefined) {
      onLoose(start, 'It is left out.');
      continue;
    }
    onLoose(start, 'It goes to the end of its bar.');
    pair(start, { bar: start.bar, at: endOfBar(start.bar), staff: start.staff });
  }
  return spanners;
}

/** Whether the end of a slur belongs to another, since more of its number have begun after it than can be under it. */
const isForgotten = (start: PlacedEnd, end: PlacedEnd, last: PlacedEnd): boolean =>
  start.kind === 'slur' && last !== start && end.bar - start.bar > LONGEST_SLUR;

const rank = ({ type, note }: PlacedEnd): number => (type === 'stop' ? (note === undefined ? 0 : 1) : 2);

const anchorOf = ({ note, bar, at, staff }: PlacedEnd): Anchor =>
  note === undefined ? { bar, at, staff } : { note };
