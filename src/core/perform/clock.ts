import { lastAtOrBefore } from '../basics/search';
import type { MeterChange, TempoChange } from '../model/clock';
import { SLOWEST_MICROS_PER_QUARTER } from '../model/clock';
import { fullLength } from '../model/meter';
import type { KeyChange } from '../model/performance';
import { keyInBar, type Score } from '../model/score';
import { type Moment, type Span, WHOLE } from '../model/time';
import type { Course } from './course';
import type { PerformSettings } from './settings';
import { temposOf } from './tempo';

/** Quarters a minute until the score says otherwise (SMF 1.0). */
export const USUAL_PACE = 120;
/** A fermata makes its note so many times as long (common practice: about twice). */
const FERMATA = 2;

/** Tempos where they are played; after each jump the one that holds there, and slower under fermatas. */
export function tempoChanges(
  score: Score,
  settings: Pick<PerformSettings, 'gradual'>,
  { order, starts, tickOf }: Course,
  fermatas: readonly { from: Moment; to: Moment }[],
): TempoChange[] {
  const written = temposOf(score, settings.gradual);
  const paces = new Map<number, number>();
  let before = -2;
  order.forEach(({ bar, from, to }, index) => {
    const zero = score.bars[bar]!.start;
    let next = written.length === 0 ? 0 : lastAtOrBefore(written, zero + from, ({ at }) => at);
    const holding = written[next];
    if (holding && bar !== before + 1 && holding.at <= zero + from)
      paces.set(tickOf(starts[index]!), holding.quartersPerMinute);
    for (; next < written.length && written[next]!.at < zero + to; next++) {
      const { at, quartersPerMinute } = written[next]!;
      if (at < zero + from) continue;
      paces.set(tickOf(starts[index]! + at - zero - from), quartersPerMinute);
    }
    before = bar;
  });
  if (!paces.has(0)) paces.set(0, USUAL_PACE);
  const ticks = [...paces.keys()].sort((a, b) => a - b);
  const paceAt = (tick: number) =>
    paces.get(ticks[lastAtOrBefore(ticks, tick, (each) => each)] ?? 0) ?? USUAL_PACE;
  const setPace = (tick: number, pace: number) => {
    if (!paces.has(tick)) ticks.splice(lastAtOrBefore(ticks, tick, (each) => each) + 1, 0, tick);
    paces.set(tick, pace);
  };
  // Several parts hold one fermata: it is slow once, as long as the first of them says.
  const held = new Map<number, number>();
  for (const { from, to } of fermatas) if (!held.has(tickOf(from))) held.set(tickOf(from), tickOf(to));
  for (const [on, off] of [...held].sort((a, b) => a[0] - b[0])) {
    if (!paces.has(off)) setPace(off, paceAt(off));
    setPace(on, paceAt(on));
    // A tempo that changes by degrees goes on changing under the fermata.
    for (const tick of ticks) if (tick >= on && tick < off) paces.set(tick, paceAt(tick) / FERMATA);
  }
  const steps = ticks
    .map((tick): [number, number] => [tick, paces.get(tick)!])
    .filter(([, pace], index, all) => pace !== all[index - 1]?.[1]);
  return steps.map(([tick, pace]) => ({
    tick,
    microsPerQuarter: Math.min(SLOWEST_MICROS_PER_QUARTER, Math.max(1, Math.round(6e7 / pace))),
  }));
}

/** Meters where they are played; a bar that is cut short or long has one of its own length. */
export function meterChanges({ bars }: Score, { order, starts, tickOf }: Course): MeterChange[] {
  const changes: MeterChange[] = [];
  order.forEach(({ bar, from, to }, index) => {
    const { meter } = bars[bar]!;
    const length = to - from;
    const full = fullLength(meter);
    const own = length === full ? meter : meterOf(length, meter.denominator);
    const last = changes.at(-1);
    if (last && last.numerator === own.numerator && last.denominator === own.denominator) return;
    changes.push({ tick: tickOf(starts[index]!), ...own });
  });
  return changes;
}

/** The meter of a bar of such a length, in the given unit or the largest finer one in which it is whole. */
function meterOf(length: Span, denominator: number): { numerator: number; denominator: number } {
  for (let unit = denominator; unit <= 64; unit *= 2)
    if (Number.isInteger((length * unit) / WHOLE))
      return { numerator: (length * unit) / WHOLE, denominator: unit };
  return { numerator: Math.max(1, Math.round((length * 64) / WHOLE)), denominator: 64 };
}

/** Concert keys where they are played. */
export function keyChanges(score: Score, { order, starts, tickOf }: Course): KeyChange[] {
  const changes: KeyChange[] = [];
  order.forEach(({ bar }, index) => {
    const { fifths, minor } = keyInBar(score, bar);
    const last = changes.at(-1);
    if (!last || last.fifths !== fifths || last.minor !== minor)
      changes.push({ tick: tickOf(starts[index]!), fifths, minor });
  });
  return changes;
}

/** Rehearsal marks where they are played first. */
export function markersOf(score: Score, { order, starts, tickOf }: Course) {
  const markers = new Map<string, { tick: number; text: string }>();
  order.forEach(({ bar, from, pass }, index) => {
    if (pass > 0) return;
    const put = (at: Moment, text: string) => {
      // What is moved ahead of its bar on the page stands with it when it is played.
      const tick = tickOf(starts[index]! + Math.max(0, at - from));
      markers.set(`${tick} ${text}`, { tick, text });
    };
    for (const mark of score.rehearsals) if (mark.bar === bar) put(0, mark.text);
    for (const part of score.parts)
      for (const mark of part.bars[bar]?.marks ?? []) if (mark.kind === 'rehearsal') put(mark.at, mark.text);
  });
  return [...markers.values()].sort((a, b) => a.tick - b.tick);
}
