import type { PartPlan } from '../cast/route';
import { plansOf } from '../cast/written';
import { clean } from '../clean';
import type { Desk } from '../clean/desk';
import { vary } from '../clean/vary';
import { beatsOf } from '../deliver/clock-track';
import { barOf, barsOfPiece, type Clock, secondsAt } from '../model/clock';
import type { StrandId } from '../model/ids';
import type { Performance, Strand } from '../model/performance';
import { PERCUSSION_CHANNEL } from '../model/performance';
import { barIndexOf, type Part, type Score } from '../model/score';
import { QUARTER } from '../model/time';
import { performScore } from '../perform';
import { soundedNotes } from '../perform/play';
import { asWritten, type PerformSettings } from '../perform/settings';
import { shapingEvents } from '../sources/musicxml/as-file';
import { playedAgain, type ScoreReading } from '../sources/musicxml/source';
import type { SmfEvent } from '../sources/smf/events';
import { readPerformance } from '../sources/smf/performance';
import {
  BEND,
  CONTROL,
  type Heard,
  isOfScore,
  NOTE_OFF,
  NOTE_ON,
  PRESSURE,
  PROGRAM,
  type Timeline,
  type Voicing,
} from './events';

/** Lays a job out in time for the synthesizer. */
export function timelineOf(desk: Desk, heard: Heard, score: Score | null): Timeline {
  const { source, performance, decisions } = desk;
  const plans = plansOf(performance, decisions, desk.written?.score.parts ?? null);
  const planOf = (strand: StrandId) => plans.find((plan) => plan.strands.includes(strand));
  const queue = new Queue();
  if (isOfScore(heard) && desk.written) {
    const plain = writtenPerformance(desk, desk.written);
    for (const strand of plain.strands) queueStrand(queue, strand, planOf(strand.id), plain.clock, heard);
  } else if (isOfScore(heard)) {
    const { perform } = decisions;
    if (score && heard === 'score-played') queuePlayed(queue, score, plans, performance);
    else if (score)
      queuePerformed(
        queue,
        score,
        plans,
        performance.clock,
        heard === 'score' ? asWritten(perform) : perform,
      );
  } else {
    const played: Performance = heard === 'source' ? source : vary(performance, decisions);
    for (const strand of played.strands) queueStrand(queue, strand, planOf(strand.id), played.clock, heard);
  }
  const { clock, end } = heard === 'source' ? source : performance;
  return { ...queue.sorted(), beats: beatsIn(clock, end) };
}

/** A performance by itself, as it asks to sound. */
export function timelineOfPerformance(performance: Performance): Timeline {
  const queue = new Queue();
  for (const strand of performance.strands)
    queueStrand(queue, strand, undefined, performance.clock, 'source');
  return { ...queue.sorted(), beats: beatsIn(performance.clock, performance.end) };
}

/** A score that was read, as it stands on the page, under the same decisions. */
function writtenPerformance({ source, decisions }: Desk, written: ScoreReading): Performance {
  const { file } = playedAgain(written, asWritten(decisions.perform));
  return clean(readPerformance(file, decisions.clock, source.source), decisions, null).performance;
}

class Queue {
  private readonly events: {
    seconds: number;
    kind: number;
    channel: number;
    first: number;
    second: number;
  }[] = [];
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
  shape(seconds: number, channel: number, event: SmfEvent): void {
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

  sorted(): Omit<Timeline, 'beats'> {
    const { events, voicings } = this;
    // At one moment notes end, then the channel is set, then notes begin.
    const rank = (kind: number) => (kind === NOTE_OFF ? 0 : kind === NOTE_ON ? 2 : 1);
    events.sort((a, b) => a.seconds - b.seconds || rank(a.kind) - rank(b.kind));
    return {
      seconds: Float64Array.from(events, (event) => event.seconds),
      kind: Uint8Array.from(events, (event) => event.kind),
      channel: Uint16Array.from(events, (event) => event.channel),
      first: Uint8Array.from(events, (event) => event.first),
      second: Uint8Array.from(events, (event) => event.second),
      voicings,
      end: events.at(-1)?.seconds ?? 0,
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
  const cast = plan?.instrument.program;
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
    const { strands, leader, instrument } = plan;
    yield [part, index, queue.open(strands[0] ?? leader, instrument.program, instrument.unpitched)];
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

/** The score as it is performed, bar by bar in the time of the source: repeats are written out in it. */
function queuePerformed(
  queue: Queue,
  score: Score,
  plans: readonly PartPlan[],
  clock: Clock,
  settings: PerformSettings,
): void {
  const { parts, ticksPerQuarter } = performScore(score, { ...settings, repeats: false });
  const at = (tick: number): number => {
    const moment = (tick * QUARTER) / ticksPerQuarter;
    const bar = score.bars[barIndexOf(score.bars, moment)]!;
    const offset = ((moment - bar.start) / QUARTER) * clock.ticksPerQuarter;
    return secondsAt(clock, barOf(clock, bar.index).start + offset);
  };
  for (const [, index, channel] of openParts(queue, score, plans)) {
    const { notes, shaping } = parts[index]!;
    for (const event of shapingEvents(shaping, 0)) queue.shape(at(event.tick), channel, event);
    for (const { on, off, key, velocity } of notes) {
      queue.add(at(on), NOTE_ON, channel, key, velocity);
      queue.add(at(off), NOTE_OFF, channel, key, 0);
    }
  }
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
