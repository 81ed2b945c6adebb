import type { Curves } from '../decisions/kinds/curve';
import { controllerOf, laneName, laneOf } from '../model/lanes';
import type { Placed, ShapingEvent } from '../model/performance';
import type { CleanStep } from './step';

/** Along a line a value is said this often to a quarter, where it changes. */
const STEPS = 24;
/** Drawn events come before the notes of their tick. */
const FIRST = -1;

/** Puts drawn curves in place of what their lanes had between their first and last points. */
export const drawCurves: CleanStep = (strand, { curves }, { ticksPerQuarter }, report) => {
  const drawn = Object.entries(curves ?? {}).filter(([, points]) => points.length > 0);
  if (drawn.length === 0) return strand;
  let { shaping } = strand;
  for (const [lane, points] of drawn) {
    const [first, last] = [points[0]!.tick, points.at(-1)!.tick];
    const isReplaced = ({ event }: Placed) =>
      laneOf(event) === lane && event.tick >= first && event.tick <= last;
    const kept = shaping.filter((placed) => !isReplaced(placed));
    const events = eventsAlong(lane, points, strand.channel, ticksPerQuarter / STEPS);
    report(laneName(lane), shaping.length - kept.length, events.length);
    shaping = [...kept, ...events].sort((a, b) => a.event.tick - b.event.tick || a.order - b.order);
  }
  return { ...strand, shaping };
};

function eventsAlong(lane: string, points: Curves[string], channel: number, step: number): Placed[] {
  const events: Placed[] = [];
  let before: number | undefined;
  const put = (tick: number, value: number) => {
    if (value === before) return;
    before = value;
    events.push({ order: FIRST, event: eventOf(lane, Math.round(tick), channel, value) });
  };
  points.forEach((point, index) => {
    put(point.tick, point.value);
    const next = points[index + 1];
    if (!next || next.value === point.value) return;
    for (let tick = point.tick + step; tick < next.tick; tick += step) {
      const share = (tick - point.tick) / (next.tick - point.tick);
      put(tick, Math.round(point.value + share * (next.value - point.value)));
    }
  });
  return events;
}

function eventOf(lane: string, tick: number, channel: number, value: number): ShapingEvent {
  const controller = controllerOf(lane);
  if (controller !== null) return { kind: 'control', tick, channel, controller, value };
  return lane === 'pitch-bend'
    ? { kind: 'pitchBend', tick, channel, value }
    : { kind: 'channelPressure', tick, channel, pressure: value };
}
