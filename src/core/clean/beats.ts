import type { BeatsChoice } from '../brief/decisions';
import { makeClock, secondsAt, type TempoChange } from '../performance/clock';
import { makeStrand, type Performance, type Strand } from '../performance/performance';

/** A first beat shorter than this share of the next is taken into it. */
const LEAST_BEAT = 0.3;

/**
 * Lays the file's time out along beats that were found or tapped: the n-th
 * beat stands at n quarter notes, and the tempo map follows, so that every
 * event stays where it sounds (to half a tick). The file's own tempos and
 * meters go.
 *
 * @param beats ticks of successive beats in the source, ascending
 */
export function followBeats(performance: Performance, { ticks, perBar, first }: BeatsChoice): Performance {
  const { ticksPerQuarter, firstBar } = performance.clock;
  const at = (tick: number) => secondsAt(performance.clock, tick);
  // Before the first beat and after the last, time goes on at the pace of the beats next to it.
  const lead = ticks[1]! - ticks[0]!;
  const early: number[] = [];
  for (let tick = ticks[0]! - lead; tick > LEAST_BEAT * lead; tick -= lead) early.unshift(tick);
  // The file begins with a beat, a shorter or longer one: nothing can sound before it.
  if (ticks[0]! > 0) early.unshift(0);
  const before = early.length;
  const knots = [...early, ...ticks];
  const pace = ticks.at(-1)! - ticks.at(-2)!;
  while (knots.at(-1)! < performance.end) knots.push(knots.at(-1)! + pace);
  const moved = (tick: number): number => {
    let low = 0;
    let high = knots.length - 2;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (knots[middle]! <= tick) low = middle;
      else high = middle - 1;
    }
    const share = (tick - knots[low]!) / (knots[low + 1]! - knots[low]!);
    return Math.max(0, Math.round((low + share) * ticksPerQuarter));
  };
  const tempos: TempoChange[] = knots.slice(0, -1).map((knot, index) => {
    const micros = 1e6 * (at(knots[index + 1]!) - at(knot));
    return { tick: index * ticksPerQuarter, microsPerQuarter: Math.max(1, Math.round(micros)) };
  });
  const meters = [{ tick: 0, numerator: perBar, denominator: 4 }];
  const upbeat = ((before + first) % perBar) * ticksPerQuarter;
  const clock = makeClock({ ticksPerQuarter, tempos, meters, upbeat, firstBar });
  const shift = <T extends { tick: number }>(all: readonly T[]): T[] =>
    all.map((each) => ({ ...each, tick: moved(each.tick) }));
  const strands = performance.strands.map((strand): Strand => {
    const notes = strand.notes.map((note) => {
      const on = moved(note.on);
      return { ...note, on, off: Math.max(on + 1, moved(note.off)) };
    });
    const shaping = strand.shaping.map(({ order, event }) => ({
      order,
      event: { ...event, tick: moved(event.tick) },
    }));
    return { ...strand, ...makeStrand({ ...strand, notes, shaping }, clock) };
  });
  return {
    ...performance,
    clock,
    strands,
    tempos,
    meters,
    keys: shift(performance.keys),
    markers: shift(performance.markers),
    lyrics: shift(performance.lyrics),
    loose: performance.loose.map((each) => ({
      ...each,
      event: { ...each.event, tick: moved(each.event.tick) },
    })),
    end: moved(performance.end),
  };
}
