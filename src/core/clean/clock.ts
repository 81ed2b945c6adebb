import { append } from '../basics/append';
import { counted } from '../basics/words';
import type { Decisions } from '../decisions/decisions';
import { movedEarlier } from '../infer/lead/offset';
import {
  barAt,
  barOf,
  type Clock,
  type MeterChange,
  MOST_BARS,
  makeClock,
  type TempoChange,
} from '../model/clock';
import { makeStrand, type Performance, type Strand } from '../model/performance';
import { followBeats } from './beats';
import type { Change, Refusal } from './step';

/** What the decisions about the clock come to. */
export interface CleanedClock {
  performance: Performance;
  changes: Change[];
  refusals: Refusal[];
}

/**
 * Takes another source's clock, lays bars along beats, sets one meter, moves or
 * drops single changes, takes off empty bars at the start: as far as the piece
 * keeps to a number of bars that can be worked with.
 */
export function cleanClock(
  performance: Performance,
  decisions: Decisions,
  timekeeper: Performance | null,
): CleanedClock {
  const changes: Change[] = [];
  const refusals: Refusal[] = [];
  let result = performance;
  const attempt = (step: string, what: string, make: (changes: Change[]) => Performance | null) => {
    const made: Change[] = [];
    const next = make(made);
    const bars = next && barAt(next.clock, next.end).index + 1;
    if (!next || bars! > MOST_BARS) {
      const many = bars ? counted(bars, 'bar') : `over ${counted(MOST_BARS, 'bar')}`;
      refusals.push({
        step,
        why: `${what} would make ${many} of this piece; ${MOST_BARS.toLocaleString('en')} are the most.`,
      });
      return;
    }
    result = next;
    append(changes, made);
  };
  const { beats, meter } = decisions;
  if (timekeeper)
    attempt('clock-from', `The clock of source ${timekeeper.source}`, (made) =>
      takeClock(result, timekeeper, made),
    );
  if (beats)
    attempt('beats', 'Following these beats', (made) => {
      made.push({
        strand: null,
        step: 'beats',
        what: 'beats to follow',
        before: 0,
        after: beats.ticks.length,
      });
      return followBeats(result, beats);
    });
  if (meter)
    attempt('meter', `A meter of ${meter.numerator}/${meter.denominator}`, (made) =>
      setMeter(result, meter, made),
    );
  if (decisions.clockMends.length > 0)
    attempt('clock-event', 'Moving these changes', (made) => mendChanges(result, decisions, made));
  if (decisions.offset) result = takeOffset(result, decisions.offset, changes);
  if (decisions.trimSilence) result = trimSilence(result, changes);
  return { performance: result, changes, refusals };
}

/** What was late as a whole, or early, stands on the beat. */
function takeOffset(performance: Performance, ticks: number, changes: Change[]): Performance {
  changes.push({ strand: null, step: 'offset', what: 'ticks behind the beat', before: ticks, after: 0 });
  return movedEarlier(performance, ticks);
}

/** The clock of another source, at the same places counted in quarter notes. */
function takeClock(performance: Performance, from: Performance, changes: Change[]): Performance {
  const scale = performance.clock.ticksPerQuarter / from.clock.ticksPerQuarter;
  const scaled = <T extends { tick: number }>(all: readonly T[]): T[] =>
    all.map((each) => ({ ...each, tick: Math.round(each.tick * scale) }));
  const count = ({ tempos, meters }: Performance) => tempos.length + meters.length;
  changes.push({
    strand: null,
    step: 'clock-from',
    what: 'tempos and meters',
    before: count(performance),
    after: count(from),
  });
  const upbeat = Math.round(from.clock.upbeat * scale);
  const clocked = withClock(performance, scaled(from.tempos), scaled(from.meters), upbeat);
  return { ...clocked, keys: scaled(from.keys), markers: scaled(from.markers) };
}

/** One meter for the whole piece, whatever the file says. */
function setMeter(
  performance: Performance,
  { numerator, denominator, upbeatQuarters }: NonNullable<Decisions['meter']>,
  changes: Change[],
): Performance {
  const upbeat = Math.round(upbeatQuarters * performance.clock.ticksPerQuarter);
  const what = `meter ${numerator}/${denominator}`;
  changes.push({ strand: null, step: 'meter', what, before: performance.meters.length, after: 1 });
  return withClock(performance, performance.tempos, [{ tick: 0, numerator, denominator }], upbeat);
}

/** The performance with another clock; bars of strands are counted anew. */
function withClock(
  performance: Performance,
  tempos: TempoChange[],
  meters: MeterChange[],
  upbeat: number,
): Performance {
  const { ticksPerQuarter, firstBar } = performance.clock;
  const clock = makeClock({ ticksPerQuarter, tempos, meters, upbeat, firstBar });
  return { ...performance, clock, tempos, meters, strands: recounted(performance.strands, clock) };
}

const recounted = (strands: readonly Strand[], clock: Clock): Strand[] =>
  strands.map((strand) => ({ ...strand, ...makeStrand(strand, clock) }));

function mendChanges(performance: Performance, decisions: Decisions, changes: Change[]): Performance {
  const mendFor = (what: 'tempo' | 'meter', tick: number) =>
    decisions.clockMends.find((mend) => mend.what === what && mend.tick === tick);
  const { clock } = performance;
  const sound = makeClock({
    ticksPerQuarter: clock.ticksPerQuarter,
    meters: performance.meters.filter((meter) => !mendFor('meter', meter.tick)),
    upbeat: clock.upbeat,
  });
  const nearest = (tick: number) => {
    const bar = barAt(sound, tick);
    return tick - bar.start < bar.length / 2 ? bar.start : bar.start + bar.length;
  };
  const mended = <T extends { tick: number }>(what: 'tempo' | 'meter', all: readonly T[]): T[] => {
    const kept = all.flatMap((change) => {
      const mend = mendFor(what, change.tick);
      if (!mend) return [change];
      changes.push({
        strand: null,
        step: 'clock-event',
        what: `${what} change off the bar line`,
        before: 1,
        after: 0,
      });
      return mend.mend === 'drop' ? [] : [{ ...change, tick: nearest(change.tick) }];
    });
    return kept.sort((a, b) => a.tick - b.tick);
  };
  return withClock(
    performance,
    mended('tempo', performance.tempos),
    mended('meter', performance.meters),
    clock.upbeat,
  );
}

/** Whole bars before the bar of the first note. */
export function emptyBars(performance: Performance): number {
  const { clock, strands } = performance;
  const first = Math.min(...strands.map((strand) => strand.notes[0]!.on));
  return strands.length === 0 ? 0 : barAt(clock, first).index;
}

function trimSilence(performance: Performance, changes: Change[]): Performance {
  const bars = emptyBars(performance);
  if (bars === 0) return performance;
  changes.push({ strand: null, step: 'silence', what: 'empty bars at the start', before: bars, after: 0 });
  const by = barOf(performance.clock, bars).start;
  const back = <T extends { tick: number }>(all: readonly T[]): T[] =>
    all.map((each) => ({ ...each, tick: Math.max(0, each.tick - by) }));
  const strands = performance.strands.map((strand) => ({
    ...strand,
    notes: strand.notes.map((note) => ({ ...note, on: note.on - by, off: note.off - by })),
    shaping: strand.shaping.map(({ order, event }) => ({
      order,
      event: { ...event, tick: Math.max(0, event.tick - by) },
    })),
  }));
  const upbeat = 0;
  const meters = back(performance.meters);
  const shifted: Performance = {
    ...performance,
    strands,
    keys: back(performance.keys),
    markers: back(performance.markers),
    lyrics: back(performance.lyrics),
    loose: back(performance.loose),
    end: Math.max(0, performance.end - by),
  };
  return withClock(shifted, back(performance.tempos), meters, upbeat);
}
