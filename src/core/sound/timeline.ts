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
import { barIndexOf, type Score } from '../model/score';
import { type Moment, QUARTER } from '../model/time';
import { soundedNotes } from '../perform/play';
import { asWritten } from '../perform/settings';
import { swungMoments } from '../perform/swing';
import { playedAgain, type ScoreReading } from '../sources/musicxml/source';
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
    if (score) queueScore(queue, score, plans, performance, heard === 'score-played');
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
    switch (event.kind) {
      case 'control':
        // Banks would leave the bank that plays; channel modes are the player's own.
        if (event.controller !== 0 && event.controller !== 32 && event.controller < 120)
          queue.add(seconds, CONTROL, channel, event.controller, event.value);
        break;
      case 'pitchBend':
        queue.add(seconds, BEND, channel, event.value & 127, event.value >> 7);
        break;
      case 'channelPressure':
        queue.add(seconds, PRESSURE, channel, event.pressure, 0);
        break;
      case 'program':
        if (!isFirstProgram && !isDrum && event.program !== program)
          queue.add(seconds, PROGRAM, channel, event.program, 0);
        isFirstProgram = false;
        break;
    }
  }
  for (const note of strand.notes) {
    queue.add(at(note.on), NOTE_ON, channel, note.key, note.velocity);
    queue.add(at(note.off), NOTE_OFF, channel, note.key, 0);
  }
}

const WRITTEN_VELOCITY = 80;
const ACCENT = 16;

/** The score's notes at their written times, or, played, at those and the velocities of the notes that they came from. */
function queueScore(
  queue: Queue,
  score: Score,
  plans: readonly PartPlan[],
  { clock, strands }: Performance,
  played: boolean,
): void {
  const sources = new Map(strands.flatMap((strand) => strand.notes.map((note) => [note.id, note])));
  const barAt = (moment: Moment) => score.bars[barIndexOf(score.bars, moment)]!;
  score.parts.forEach((part, index) => {
    const plan = plans[index];
    if (!plan) return;
    const channel = queue.open(
      plan.strands[0] ?? plan.leader,
      plan.instrument.program,
      plan.instrument.unpitched,
    );
    const notes = soundedNotes(score, part);
    const swung = swungMoments(score, notes, barAt);
    const at = (moment: Moment): number => {
      const bar = barAt(moment);
      const offset = ((swung(moment) - bar.start) / QUARTER) * clock.ticksPerQuarter;
      return secondsAt(clock, barOf(clock, bar.index).start + offset);
    };
    for (const note of notes) {
      const struck = played ? note.sources.flatMap((id) => sources.get(id) ?? []) : [];
      if (struck.length > 0) {
        const off = Math.max(...struck.map((each) => each.off));
        queue.add(secondsAt(clock, struck[0]!.on), NOTE_ON, channel, note.key, struck[0]!.velocity);
        queue.add(secondsAt(clock, off), NOTE_OFF, channel, note.key, 0);
        continue;
      }
      queue.add(at(note.start), NOTE_ON, channel, note.key, WRITTEN_VELOCITY + (note.accent ? ACCENT : 0));
      queue.add(at(note.end), NOTE_OFF, channel, note.key, 0);
    }
  });
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
