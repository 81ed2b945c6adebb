import type { TakenOver } from '../decisions/kinds/take';
import { barsOfPiece } from '../model/clock';
import type { EventId, StrandId } from '../model/ids';
import {
  makeStrand,
  type Performance,
  type Placed,
  type PlayedNote,
  type Strand,
} from '../model/performance';
import type { Carried } from '../reconcile/carry';

/**
 * The version before with some of a new one taken in: some strands, some bars,
 * in the place of what was there or beside it. Its clock stays; what stands in bars that it has
 * not has no place in it. Strands that nothing is taken of are the very same.
 *
 * @returns the performance, and how many notes have no place in it
 */
export function takeVersion(
  before: Performance,
  { performance: now, toOld }: Carried,
  { strands: wanted, fromBar = 0, toBar, adds = false }: TakenOver,
): { performance: Performance; homeless: number } {
  const bars = barsOfPiece(before.clock, Math.max(before.end, now.end));
  const from = bars[fromBar]?.start ?? Number.POSITIVE_INFINITY;
  const to =
    toBar === undefined ? Number.POSITIVE_INFINITY : (bars[toBar]?.start ?? Number.POSITIVE_INFINITY);
  const isWanted = (id: StrandId) => wanted === undefined || wanted.includes(id);
  const inside = (tick: number) => tick >= from && tick < to;
  let homeless = 0;
  const perTick = before.clock.ticksPerQuarter / now.clock.ticksPerQuarter;
  /** What is taken of a strand, in ticks of the version before. */
  const takenOf = ({ notes, shaping }: Strand): { notes: PlayedNote[]; shaping: Placed[] } => ({
    notes: notes.flatMap((note): PlayedNote[] => {
      const on = toOld(note.on);
      if (on === null) {
        homeless++;
        return [];
      }
      const length = Math.max(1, Math.round((note.off - note.on) * perTick));
      return inside(on) ? [{ ...note, on, off: on + length }] : [];
    }),
    shaping: shaping.flatMap((placed): Placed[] => {
      const tick = toOld(placed.event.tick);
      return tick !== null && inside(tick) ? [{ ...placed, event: { ...placed.event, tick } }] : [];
    }),
  });
  const news = new Map(now.strands.map((strand) => [strand.id, strand]));
  const strands = before.strands.flatMap((strand): Strand[] => {
    if (!isWanted(strand.id)) return [strand];
    const own = news.get(strand.id);
    const taken = own ? takenOf(own) : { notes: [], shaping: [] };
    const known = new Set<EventId>(strand.notes.map(({ id }) => id));
    const notes = adds
      ? [...strand.notes, ...taken.notes.filter(({ id }) => !known.has(id))]
      : [...strand.notes.filter(({ on }) => !inside(on)), ...taken.notes];
    const shaping = adds
      ? strand.shaping
      : [...strand.shaping.filter(({ event }) => !inside(event.tick)), ...taken.shaping].sort(
          (a, b) => a.event.tick - b.event.tick || a.order - b.order,
        );
    return notes.length === 0 ? [] : [makeStrand({ ...strand, notes, shaping }, before.clock)];
  });
  const known = new Set(before.strands.map(({ id }) => id));
  for (const strand of now.strands) {
    if (known.has(strand.id) || !isWanted(strand.id)) continue;
    const { notes, shaping } = takenOf(strand);
    if (notes.length > 0) strands.push(makeStrand({ ...strand, notes, shaping }, before.clock));
  }
  const end = strands.reduce(
    (last, { notes }) => notes.reduce((most, { off }) => Math.max(most, off), last),
    before.end,
  );
  return { performance: { ...before, strands, end }, homeless };
}
