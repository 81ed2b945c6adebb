import type { ShapingEvent } from '../model/performance';
import type { Part, Score } from '../model/score';
import { type Moment, QUARTER } from '../model/time';
import type { Course } from './course';
import { dynamicsOf } from './dynamics';
import { BEND_RANGE } from './glides';
import { placesOf } from './places';
import type { PerformSettings } from './settings';

/** What a strand is told besides its notes: a controller's value, or a bend in semitones. Ticks of the playing. */
export type PlayedShaping =
  | { tick: number; controller: number; value: number }
  | { tick: number; bend: number };

const SUSTAIN = 64;
/** A pedal that is changed goes down again this much later, when the new chord has sounded (common practice). */
const CATCH = QUARTER / 16;
/** A curve is said anew at most this often. */
const STEP = QUARTER / 8;

/** The pedal of a part as controller 64 (MIDI 1.0: 0–63 up, 64–127 down); let go where the music jumps, and at the end. */
export function pedalOf(score: Score, part: Part, { order, starts, end, tickOf }: Course): PlayedShaping[] {
  const { momentOf } = placesOf(score, part);
  const held = (part.spanners ?? [])
    .filter(({ kind }) => kind === 'pedal')
    .map(({ from, to }) => ({ from: momentOf(from), to: momentOf(to) }))
    .filter((each): each is { from: Moment; to: Moment } => each.from !== undefined && each.to !== undefined)
    .sort((a, b) => a.from - b.from);
  if (held.length === 0) return [];
  const events: PlayedShaping[] = [];
  let isDown = false;
  let before = -2;
  const put = (at: Moment, down: boolean) => {
    if (down === isDown) return;
    isDown = down;
    events.push({ tick: tickOf(at), controller: SUSTAIN, value: down ? 127 : 0 });
  };
  order.forEach(({ bar, from, to }, index) => {
    const zero = score.bars[bar]!.start;
    const start = starts[index]!;
    if (bar !== before + 1) put(start, false);
    before = bar;
    const inside = (moment: Moment) => moment >= zero + from && moment < zero + to;
    const moments = held
      .flatMap((each) => [
        { at: each.to, down: false },
        { at: each.from, down: true },
      ])
      .filter(({ at }) => inside(at))
      .sort((a, b) => a.at - b.at || Number(a.down) - Number(b.down));
    for (const { at, down } of moments) {
      const last = events.at(-1);
      const played = start + at - zero - from;
      const isChange = down && last?.tick === tickOf(played);
      put(isChange ? played + CATCH : played, down);
    }
  });
  put(end, false);
  return events;
}

/** The dynamics of a part as a controller curve: a value where they change, and steps along hairpins. */
export function curveOf(
  score: Score,
  part: Part,
  { order, starts, tickOf }: Course,
  { controllers, low, high }: PerformSettings['curve'],
): PlayedShaping[] {
  const dynamics = dynamicsOf(score, part);
  const events: PlayedShaping[] = [];
  let before = -1;
  order.forEach(({ bar, from, to }, index) => {
    const zero = score.bars[bar]!.start;
    const moments = new Set<Moment>();
    for (let at = from; at < to; at += STEP) moments.add(at);
    for (const mark of part.bars[bar]?.marks ?? [])
      if (mark.kind === 'dynamic' && mark.at >= from && mark.at < to) moments.add(mark.at);
    for (const at of [...moments].sort((a, b) => a - b)) {
      const share = Math.min(1, Math.max(0, (dynamics.at(zero + at) - 1) / 126));
      const value = Math.round(low + share * (high - low));
      if (value === before) continue;
      before = value;
      const tick = tickOf(starts[index]! + at - from);
      for (const controller of controllers) events.push({ tick, controller, value });
    }
  });
  return events;
}

/** Steps of a slide: fine enough to be heard as one. */
const SLIDE_STEPS = 16;

/** Slides as bends, taken back where the next note begins. */
export function bendsOf(
  slides: readonly { from: Moment; to: Moment; by: number }[],
  { tickOf }: Course,
): PlayedShaping[] {
  return slides.flatMap(({ from, to, by }): PlayedShaping[] => [
    ...Array.from({ length: SLIDE_STEPS }, (_, index) => ({
      tick: tickOf(from + ((to - from) * index) / SLIDE_STEPS),
      bend: (by * index) / SLIDE_STEPS,
    })),
    { tick: tickOf(to), bend: 0 },
  ]);
}

/** RPN 0, the range of pitch bends (MIDI 1.0): its number, then its value in semitones. */
const BEND_RANGE_SET: readonly (readonly [controller: number, value: number])[] = [
  [101, 0],
  [100, 0],
  [6, BEND_RANGE],
];
const MIDDLE = 8192;

/** What a strand is told besides its notes, as messages to a channel (0–15). */
export function messagesOf(shaping: readonly PlayedShaping[], channel: number): ShapingEvent[] {
  const isBent = shaping.some((each) => 'bend' in each);
  const range = isBent
    ? BEND_RANGE_SET.map(
        ([controller, value]): ShapingEvent => ({ kind: 'control', tick: 0, channel, controller, value }),
      )
    : [];
  return [
    ...range,
    ...shaping.map((each): ShapingEvent => {
      const { tick } = each;
      if ('controller' in each)
        return { kind: 'control', tick, channel, controller: each.controller, value: each.value };
      const value = Math.round(MIDDLE + (each.bend / BEND_RANGE) * MIDDLE);
      return { kind: 'pitchBend', tick, channel, value: Math.max(0, Math.min(2 * MIDDLE - 1, value)) };
    }),
  ];
}
