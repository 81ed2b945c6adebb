import { routeStrands } from '../cast/route';
import type { Desk } from '../clean/desk';
import { soundingOf } from '../clean/sounding';
import { decidedFor } from '../decisions/decisions';
import type { Clock } from '../model/clock';
import { type EventId, eventId, indexOf, type StrandId, wholeStrand } from '../model/ids';
import { laneName, laneOf, laneValue } from '../model/lanes';
import type { Strand, TextAt } from '../model/performance';
import { PERCUSSION_CHANNEL } from '../model/performance';

/** One lane of shaping events: ticks and values, in order. */
export interface LaneData {
  lane: string;
  name: string;
  ticks: Uint32Array;
  values: Uint16Array;
  /** The largest value that the lane can have. */
  highest: number;
}

/** A strand as flat arrays, in order of onset: quick to pass, to draw and to play. Ticks and MIDI keys. */
export interface StrandBars {
  id: StrandId;
  name: string;
  piece: string;
  /** Name of its part, or of what it is when it is left out. */
  part: string;
  track: number;
  channel: number;
  unpitched: boolean;
  out: boolean;
  lowest: number;
  highest: number;
  on: Uint32Array;
  off: Uint32Array;
  key: Uint8Array;
  velocity: Uint8Array;
  /** Numbers of their events. */
  event: Uint32Array;
  /** Of a recording, how sure each note is, in hundredths; of what was added by hand, all of them. */
  sure: Uint8Array | null;
  lanes: LaneData[];
}

/** The id of a note of a strand, by its place in the arrays. */
export const noteOf = ({ id, event }: StrandBars, at: number): EventId =>
  eventId(wholeStrand(id), event[at]!);

export interface NoteBarsData {
  strands: StrandBars[];
  clock: Clock;
  markers: TextAt[];
  end: number;
  /** Whether any strand is varied. */
  varies: boolean;
}

/** The performance as drawn and heard: cleaned, and varied where asked for. */
export function noteBars(desk: Desk, varied: boolean): NoteBarsData {
  const { performance, decisions } = desk;
  const plans = routeStrands(performance, decisions);
  const after = soundingOf(desk, performance);
  const { strands, clock, markers, end } = varied ? after : performance;
  return {
    strands: strands.map((strand): StrandBars => {
      const plan = plans.find((each) => each.strands.includes(strand.id));
      const out = decidedFor(decisions, strand.id).out ?? false;
      return {
        id: strand.id,
        name: strand.name,
        piece: strand.piece ?? '',
        part: plan?.name ?? strand.name,
        track: strand.track + 1,
        channel: strand.channel + 1,
        unpitched: plan?.instrument.unpitched ?? strand.channel === PERCUSSION_CHANNEL,
        out,
        lowest: strand.lowest,
        highest: strand.highest,
        on: Uint32Array.from(strand.notes, (note) => note.on),
        off: Uint32Array.from(strand.notes, (note) => note.off),
        key: Uint8Array.from(strand.notes, (note) => note.key),
        velocity: Uint8Array.from(strand.notes, (note) => note.velocity),
        event: Uint32Array.from(strand.notes, (note) => indexOf(note.id)),
        sure: desk.can.hears ? sureOf(strand) : null,
        lanes: lanesOf(strand),
      };
    }),
    clock,
    markers,
    end,
    varies: after !== performance,
  };
}

const sureOf = ({ notes }: Strand): Uint8Array =>
  Uint8Array.from(notes, ({ confidence = 1 }) => Math.round(100 * confidence));

function lanesOf(strand: Strand): LaneData[] {
  const found = new Map<string, { ticks: number[]; values: number[] }>();
  for (const { event } of strand.shaping) {
    const lane = laneOf(event);
    if (lane === null) continue;
    const list = found.get(lane) ?? { ticks: [], values: [] };
    found.set(lane, list);
    list.ticks.push(event.tick);
    list.values.push(laneValue(event));
  }
  return [...found].map(([lane, { ticks, values }]) => ({
    lane,
    name: laneName(lane),
    ticks: Uint32Array.from(ticks),
    values: Uint16Array.from(values),
    highest: lane === 'pitch-bend' ? 16_383 : 127,
  }));
}

/** The buffers that go over with the data. */
export const transferable = (data: NoteBarsData): ArrayBufferLike[] =>
  data.strands.flatMap((strand) => [
    strand.on.buffer,
    strand.off.buffer,
    strand.key.buffer,
    strand.velocity.buffer,
    strand.event.buffer,
    ...(strand.sure ? [strand.sure.buffer] : []),
    ...strand.lanes.flatMap((lane) => [lane.ticks.buffer, lane.values.buffer]),
  ]);
