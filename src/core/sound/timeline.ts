import { beatsOf } from '../deliver/clock-track';
import type { Desk } from '../desk';
import { soundedNotes } from '../perform/play';
import { vary } from '../perform/vary';
import { barOf, barsOfPiece, type Clock, secondsAt } from '../performance/clock';
import type { Performance, Strand } from '../performance/performance';
import { type PartPlan, routeStrands } from '../roster/route';
import type { Score } from '../score/score';
import { swingInBar, swingPhase, warpBeat } from '../score/swing';
import { type Moment, QUARTER } from '../score/time';

export const NOTE_ON = 0;
export const NOTE_OFF = 1;
export const CONTROL = 2;
export const BEND = 3;
export const PROGRAM = 4;
export const PRESSURE = 5;

/** A strand's place in the synthesizer: channel, program 0–127, drums or not. */
export interface Voicing {
  strand: string;
  channel: number;
  program: number;
  isDrum: boolean;
}

/** Everything to be played, as parallel arrays in order of time; seconds from the start of the piece. */
export interface Timeline {
  seconds: Float64Array;
  kind: Uint8Array;
  channel: Uint16Array;
  first: Uint8Array;
  second: Uint8Array;
  voicings: Voicing[];
  /** Beats: seconds, and 1 for a downbeat. */
  beats: { seconds: Float64Array; down: Uint8Array };
  /** When the last note ends. */
  end: number;
}

/** What to hear: the source as it came, the cleaned (and varied) performance, or the score as written. */
export const HEARD = ['source', 'cleaned', 'score'] as const;
export type Heard = (typeof HEARD)[number];

/** Lays a job out in time for the synthesizer. */
export function timelineOf(desk: Desk, heard: Heard, score: Score | null): Timeline {
  const { source, performance, decisions } = desk;
  const plans = routeStrands(performance, decisions);
  const planOf = (strand: string) => plans.find((plan) => plan.strands.includes(strand));
  const queue = new Queue();
  if (heard === 'score' && score) queueScore(queue, score, plans, performance);
  else {
    const played: Performance = heard === 'source' ? source : vary(performance, decisions);
    for (const strand of played.strands) queueStrand(queue, strand, planOf(strand.id), played.clock, heard);
  }
  const { clock, end } = heard === 'source' ? source : performance;
  return { ...queue.sorted(), beats: beatsIn(clock, end) };
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
  open(strand: string, program: number, isDrum: boolean): number {
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
    heard === 'source' ? strand.channel === 9 : (plan?.instrument.unpitched ?? strand.channel === 9);
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

function queueScore(queue: Queue, score: Score, plans: readonly PartPlan[], { clock }: Performance): void {
  const at = (moment: Moment): number => {
    let low = 0;
    let high = score.bars.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (score.bars[middle]!.start <= moment) low = middle;
      else high = middle - 1;
    }
    const bar = score.bars[low]!;
    const swing = swingInBar(score.swings, low);
    const sounding = swing
      ? warpBeat(moment, bar.start - bar.missing, (phase) => swingPhase(phase, swing.ratio))
      : moment;
    const offset = ((sounding - bar.start) / QUARTER) * clock.ticksPerQuarter;
    return secondsAt(clock, barOf(clock, low).start + offset);
  };
  score.parts.forEach((part, index) => {
    const plan = plans[index];
    if (!plan) return;
    const channel = queue.open(plan.strands[0]!, plan.instrument.program, plan.instrument.unpitched);
    for (const note of soundedNotes(score, part)) {
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
