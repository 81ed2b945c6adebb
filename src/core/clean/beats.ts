import { lastAtOrBefore } from '../basics/search';
import { type BeatsChoice, type BeatUnit, MOST_BEATS } from '../decisions/kinds/beats';
import { bendsOf } from '../infer/beats/steady';
import {
  type Meter,
  type MeterChange,
  makeClock,
  SLOWEST_MICROS_PER_QUARTER,
  secondsAt,
  type TempoChange,
} from '../model/clock';
import { makeStrand, type Performance, type Strand } from '../model/performance';

/** A first beat shorter than this share of the next is taken into it. */
const LEAST_BEAT = 0.3;

/** A tempo holds while beats keep to it this well, in seconds. */
const EXACT = 0.0005;

/** The meter of a bar of so many beats, by what a beat is written as. */
const METERS: Record<BeatUnit, (beats: number) => Meter> = {
  0.5: (beats) => ({ numerator: beats, denominator: 8 }),
  1: (beats) => ({ numerator: beats, denominator: 4 }),
  1.5: (beats) => ({ numerator: 3 * beats, denominator: 8 }),
  2: (beats) => ({ numerator: beats, denominator: 2 }),
};

/**
 * Meters where bars change their length, and the upbeat before the first
 * whole bar; ticks. Bars before the first one that is known, and after the
 * last, are of the usual length.
 *
 * @param bars beats that begin bars, ascending
 */
function layBars(
  bars: readonly number[],
  perBar: number,
  meterOf: (beats: number) => Meter,
  beatTicks: number,
) {
  const known = bars.length > 0 ? bars : [0];
  const upbeat = known[0]! % perBar;
  const meters: MeterChange[] = [{ tick: 0, ...meterOf(perBar) }];
  let current = perBar;
  known.forEach((bar, index) => {
    const count = index + 1 < known.length ? known[index + 1]! - bar : perBar;
    if (count === current) return;
    meters.push({ tick: Math.round(bar * beatTicks), ...meterOf(count) });
    current = count;
  });
  return { meters, upbeat: Math.round(upbeat * beatTicks) };
}

/**
 * Lays the file's time out along beats that were found or tapped: the n-th
 * beat stands at n quarter notes (or whatever a beat is written as), and the tempo map follows, so that every
 * event stays where it sounds (to half a tick and half a millisecond), unless beats are farther apart
 * than the slowest tempo. The file's own tempos and meters go.
 *
 * @param beats ticks of successive beats in the source, ascending
 * @returns null for beats that cannot be carried on to the ends of the piece
 */
export function followBeats(performance: Performance, beats: BeatsChoice): Performance | null {
  const { ticks, perBar, first, unit = 1 } = beats;
  const { ticksPerQuarter, firstBar } = performance.clock;
  const beatTicks = unit * ticksPerQuarter;
  const at = (tick: number) => secondsAt(performance.clock, tick);
  // Before the first beat and after the last, time goes on at the pace of the beats next to it.
  const lead = ticks[1]! - ticks[0]!;
  const pace = ticks.at(-1)! - ticks.at(-2)!;
  // Beats set so close that going on at their pace to the ends of the piece would take for ever.
  if (ticks[0]! / lead + (performance.end - ticks.at(-1)!) / pace > MOST_BEATS) return null;
  const early: number[] = [];
  for (let tick = ticks[0]! - lead; tick > LEAST_BEAT * lead; tick -= lead) early.unshift(tick);
  // The file begins with a beat, a shorter or longer one: nothing can sound before it.
  if (ticks[0]! > LEAST_BEAT * lead) early.unshift(0);
  const before = early.length;
  const knots = before > 0 ? [...early, ...ticks] : [0, ...ticks.slice(1)];
  while (knots.at(-1)! < performance.end) knots.push(knots.at(-1)! + pace);
  const moved = (tick: number): number => {
    const low = Math.min(
      lastAtOrBefore(knots, tick, (knot) => knot),
      knots.length - 2,
    );
    const share = (tick - knots[low]!) / (knots[low + 1]! - knots[low]!);
    return Math.max(0, Math.round((low + share) * beatTicks));
  };
  const seconds = knots.map(at);
  const bends = bendsOf(seconds, EXACT);
  const tempos = bends.slice(0, -1).map((from, index): TempoChange => {
    const to = bends[index + 1]!;
    const micros = (1e6 * (seconds[to]! - seconds[from]!)) / (to - from) / unit;
    const microsPerQuarter = Math.min(SLOWEST_MICROS_PER_QUARTER, Math.max(1, Math.round(micros)));
    return { tick: Math.round(from * beatTicks), microsPerQuarter };
  });
  const { meters, upbeat } = layBars(
    beats.bars?.map((bar) => bar + before) ?? [before + first],
    perBar,
    METERS[unit],
    beatTicks,
  );
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
    loose: shift(performance.loose),
    end: moved(performance.end),
  };
}
