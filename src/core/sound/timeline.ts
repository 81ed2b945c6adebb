import { lastAtOrBefore } from '../basics/search';
import type { PartPlan } from '../cast/route';
import { plansOf } from '../cast/written';
import { clean } from '../clean';
import type { Desk } from '../clean/desk';
import { soundingOf } from '../clean/sounding';
import { beatsOf, openingBar } from '../deliver/clock-track';
import {
  barOf,
  barsOfPiece,
  type Clock,
  DEFAULT_MICROS_PER_QUARTER,
  secondsAt,
  type TempoChange,
} from '../model/clock';
import type { StrandId } from '../model/ids';
import type { Performance, ShapingEvent, Strand } from '../model/performance';
import { PERCUSSION_CHANNEL } from '../model/performance';
import { barIndexOf, type Part, type Score } from '../model/score';
import { QUARTER } from '../model/time';
import { performScore, steadyTempos } from '../perform';
import { soundedNotes } from '../perform/play';
import { asWritten, type PerformSettings } from '../perform/settings';
import { messagesOf } from '../perform/shaping';
import { withBars } from '../sources/bars';
import { playedAgain, type ScoreReading } from '../sources/musicxml/source';
import {
  BEND,
  CONTROL,
  type Heard,
  inColumns,
  isOfScore,
  NOTE_OFF,
  NOTE_ON,
  PRESSURE,
  PROGRAM,
  type TimedEvent,
  type Timeline,
  type Voicing,
} from './events';
import { type Holds, holdsOf, type Stretch } from './holds';

/** Lays a job out in time for the synthesizer. */
export function timelineOf(desk: Desk, heard: Heard, score: Score | null): Timeline {
  const { source, performance, decisions } = desk;
  const plans = plansOf(performance, decisions, desk.written?.score.parts ?? null);
  const planOf = (strand: StrandId) => plans.find((plan) => plan.strands.includes(strand));
  const queue = new Queue();
  let holds: Holds | null = null;
  if (isOfScore(heard) && desk.written) {
    const plain = writtenPerformance(desk, desk.written);
    for (const strand of plain.strands) queueStrand(queue, strand, planOf(strand.id), plain.clock, heard);
  } else if (isOfScore(heard)) {
    const { perform } = decisions;
    if (score && heard === 'score-played') queuePlayed(queue, score, plans, performance);
    else if (score)
      holds = queuePerformed(
        queue,
        score,
        plans,
        performance.clock,
        heard === 'score' ? asWritten(perform) : perform,
      );
  } else {
    const played: Performance = heard === 'source' ? source : soundingOf(desk, performance);
    // Another tempo is a matter of how long the piece takes; its moments stay those of its own clock.
    const clock = heard === 'source' ? source.clock : performance.clock;
    for (const strand of played.strands) queueStrand(queue, strand, planOf(strand.id), clock, heard);
    if (played.clock !== clock) holds = holdsBetween(clock, played.clock);
  }
  const { clock, end } = heard === 'source' ? source : performance;
  return { ...queue.sorted(), beats: beatsIn(clock, end), opening: openingOf(clock), holds };
}

/** A performance by itself, as it asks to sound. */
export function timelineOfPerformance(performance: Performance): Timeline {
  const queue = new Queue();
  for (const strand of performance.strands)
    queueStrand(queue, strand, undefined, performance.clock, 'source');
  const { clock, end } = performance;
  return { ...queue.sorted(), beats: beatsIn(clock, end), opening: openingOf(clock), holds: null };
}

/** A score that was read, as it stands on the page, under the same decisions. */
function writtenPerformance({ decisions }: Desk, written: ScoreReading): Performance {
  const { played } = playedAgain(written, asWritten(decisions.perform));
  return clean(withBars(played, decisions.clock), decisions, null).performance;
}

class Queue {
  private readonly events: TimedEvent[] = [];
  readonly voicings: Voicing[] = [];

  /** Opens a channel. @returns its number */
  open(strand: StrandId, program: number, isDrum: boolean): number {
    const channel = this.voicings.length;
    this.voicings.push({ strand, channel, program, isDrum });
    return channel;
  }

  add(seconds: number, kind: number, channel: number, first: number, second: number): void {
    this.events.push({ seconds, kind, channel, first, second });
  }

  /** What shapes the sound of a channel. */
  shape(seconds: number, channel: number, event: ShapingEvent): void {
    switch (event.kind) {
      case 'control':
        // Banks would leave the bank that plays; channel modes are the player's own.
        if (event.controller !== 0 && event.controller !== 32 && event.controller < 120)
          this.add(seconds, CONTROL, channel, event.controller, event.value);
        break;
      case 'pitchBend':
        this.add(seconds, BEND, channel, event.value & 127, event.value >> 7);
        break;
      case 'channelPressure':
        this.add(seconds, PRESSURE, channel, event.pressure, 0);
        break;
    }
  }

  sorted(): Omit<Timeline, 'beats' | 'opening' | 'holds'> {
    const { events, voicings } = this;
    const columns = inColumns(events);
    return {
      ...columns,
      voicings,
      end: columns.seconds.at(-1) ?? 0,
    };
  }
}

function queueStrand(
  queue: Queue,
  strand: Strand,
  plan: PartPlan | undefined,
  clock: Clock,
  heard: Heard,
): void {
  const opening = strand.shaping.find(({ event }) => event.kind === 'program')?.event;
  const own = opening?.kind === 'program' ? opening.program : undefined;
  // A source sounds as it asks for itself; what is cleaned sounds as it is cast.
  const cast = plan?.program;
  const program = (heard === 'source' ? (own ?? cast) : (cast ?? own)) ?? 0;
  const isDrum =
    heard === 'source'
      ? strand.channel === PERCUSSION_CHANNEL
      : (plan?.instrument.unpitched ?? strand.channel === PERCUSSION_CHANNEL);
  const channel = queue.open(strand.id, program, isDrum);
  const at = (tick: number) => secondsAt(clock, tick);
  let isFirstProgram = true;
  for (const { event } of strand.shaping) {
    const seconds = at(event.tick);
    if (event.kind !== 'program') queue.shape(seconds, channel, event);
    else {
      if (!isFirstProgram && !isDrum && event.program !== program)
        queue.add(seconds, PROGRAM, channel, event.program, 0);
      isFirstProgram = false;
    }
  }
  for (const note of strand.notes) {
    queue.add(at(note.on), NOTE_ON, channel, note.key, note.velocity);
    queue.add(at(note.off), NOTE_OFF, channel, note.key, 0);
  }
}

/** Opens a channel for each part that is cast, with its place among the parts. */
function* openParts(
  queue: Queue,
  score: Score,
  plans: readonly PartPlan[],
): Generator<[Part, number, number]> {
  for (const [index, part] of score.parts.entries()) {
    const plan = plans[index];
    if (!plan) continue;
    const { strands, leader, instrument, program } = plan;
    yield [part, index, queue.open(strands[0] ?? leader, program, instrument.unpitched)];
  }
}

/** The notes of the score when and as loud as the notes were that they came from; what came from none is silent. */
function queuePlayed(
  queue: Queue,
  score: Score,
  plans: readonly PartPlan[],
  { clock, strands }: Performance,
): void {
  const sources = new Map(strands.flatMap((strand) => strand.notes.map((note) => [note.id, note])));
  for (const [part, , channel] of openParts(queue, score, plans))
    for (const note of soundedNotes(score, part)) {
      const struck = note.sources.flatMap((id) => sources.get(id) ?? []);
      const [first] = struck;
      if (!first) continue;
      const off = Math.max(...struck.map((each) => each.off));
      queue.add(secondsAt(clock, first.on), NOTE_ON, channel, note.key, first.velocity);
      queue.add(secondsAt(clock, off), NOTE_OFF, channel, note.key, 0);
    }
}

/**
 * The score as it is performed, bar by bar in the time of the source: repeats are written out in it.
 * @returns where it waits or hurries beyond that
 */
function queuePerformed(
  queue: Queue,
  score: Score,
  plans: readonly PartPlan[],
  clock: Clock,
  settings: PerformSettings,
): Holds | null {
  const once = { ...settings, repeats: false };
  const performed = performScore(score, once);
  const { parts, ticksPerQuarter } = performed;
  const at = (tick: number): number => {
    const moment = (tick * QUARTER) / ticksPerQuarter;
    const bar = score.bars[barIndexOf(score.bars, moment)]!;
    const offset = ((moment - bar.start) / QUARTER) * clock.ticksPerQuarter;
    return secondsAt(clock, barOf(clock, bar.index).start + offset);
  };
  for (const [, index, channel] of openParts(queue, score, plans)) {
    const { notes, shaping } = parts[index]!;
    for (const event of messagesOf(shaping, 0)) queue.shape(at(event.tick), channel, event);
    for (const { on, off, key, velocity } of notes) {
      queue.add(at(on), NOTE_ON, channel, key, velocity);
      queue.add(at(off), NOTE_OFF, channel, key, 0);
    }
  }
  const changes = clock.tempos.slice(1).map(({ tick }) => secondsAt(clock, tick));
  // Where the piece itself slows down or hurries, that is the rit. that is printed: it is not done twice.
  const isSteady = (run: readonly Stretch[]): boolean => {
    const [from, to] = [run[0]?.from ?? 0, run.at(-1)?.to ?? 0];
    return changes.every((seconds) => seconds < from - SAME_MOMENT || seconds > to - SAME_MOMENT);
  };
  return holdsOf(stretchesOf(performed.tempos, steadyTempos(score, once), at).filter(isSteady).flat());
}

/** Where a piece takes other time than its own clock says because another one holds. */
function holdsBetween(own: Clock, other: Clock): Holds {
  const ticks = [...new Set([...own.tempos, ...other.tempos].map(({ tick }) => tick))].sort((a, b) => a - b);
  // After the last change everything goes on evenly, at the other's pace.
  ticks.push((ticks.at(-1) ?? 0) + AFTER_LAST * own.ticksPerQuarter);
  return {
    piece: Float64Array.from(ticks, (tick) => secondsAt(own, tick)),
    heard: Float64Array.from(ticks, (tick) => secondsAt(other, tick)),
  };
}

/** Quarter notes beyond the last tempo change for which its pace is told: more than any piece goes on. */
const AFTER_LAST = 100_000;
const COMMON_TIME = { numerator: 4, denominator: 4 };
const MICROS = 1_000_000;

/** Moments nearer to each other are one; seconds. */
const SAME_MOMENT = 0.001;

/**
 * Where the tempos of a performance are others than those of its score: fermatas, rit. and accel., each with all of its steps.
 * @param at seconds of the piece at a tick of the performance
 */
function stretchesOf(
  tempos: readonly TempoChange[],
  steady: readonly TempoChange[],
  at: (tick: number) => number,
): Stretch[][] {
  const ticks = [...new Set([...tempos, ...steady].map(({ tick }) => tick))].sort((a, b) => a - b);
  const paceOf = (all: readonly TempoChange[], tick: number) =>
    all[lastAtOrBefore(all, tick, (each) => each.tick)]?.microsPerQuarter ?? DEFAULT_MICROS_PER_QUARTER;
  const runs: Stretch[][] = [];
  let run: Stretch[] = [];
  ticks.forEach((tick, index) => {
    const next = ticks[index + 1];
    const times = paceOf(tempos, tick) / paceOf(steady, tick);
    if (next === undefined || times === 1) run = [];
    else {
      if (run.length === 0) runs.push(run);
      run.push({ from: at(tick), to: at(next), times });
    }
  });
  return runs;
}

function openingOf(clock: Clock): Timeline['opening'] {
  const meter = clock.meters[0]?.meter ?? COMMON_TIME;
  const secondsOf = (ticks: number) =>
    (ticks * (clock.tempos[0]?.microsPerQuarter ?? DEFAULT_MICROS_PER_QUARTER)) /
    clock.ticksPerQuarter /
    MICROS;
  const bar = openingBar(clock);
  return {
    beats: Float64Array.from(beatsOf({ length: bar, meter }, clock), secondsOf),
    length: secondsOf(bar),
  };
}

function beatsIn(clock: Clock, end: number): Timeline['beats'] {
  const beats = barsOfPiece(clock, end).flatMap((bar) =>
    beatsOf(bar, clock).map((offset) => ({
      seconds: secondsAt(clock, bar.start + offset),
      down: offset === 0 && !bar.isUpbeat ? 1 : 0,
    })),
  );
  return {
    seconds: Float64Array.from(beats, (beat) => beat.seconds),
    down: Uint8Array.from(beats, (beat) => beat.down),
  };
}
