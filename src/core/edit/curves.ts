import type { Clock } from '../model/clock';
import { barAt } from '../model/clock';
import type { PlayedNote } from '../model/performance';

/** A breakpoint of a drawn curve: a tick, and a value of its lane. */
export interface CurvePoint {
  tick: number;
  value: number;
}

/** A line that is drawn by hand strays by this many values at most from the points that are kept of it. */
const STRAY = 2;

const inOrder = (points: readonly CurvePoint[]): CurvePoint[] => points.toSorted((a, b) => a.tick - b.tick);

/** A curve with a point at a tick; one that is there moves. */
export const withPoint = (points: readonly CurvePoint[], added: CurvePoint): CurvePoint[] =>
  inOrder([...points.filter(({ tick }) => tick !== added.tick), added]);

export const withoutPoint = (points: readonly CurvePoint[], tick: number): CurvePoint[] =>
  points.filter((point) => point.tick !== tick);

/** A curve with a point put elsewhere; what it lands on goes. */
export const withMoved = (points: readonly CurvePoint[], from: number, to: CurvePoint): CurvePoint[] =>
  withPoint(withoutPoint(points, from), to);

/** A curve with a line that was drawn or recorded by hand in place of what was in its span. */
export function withLine(points: readonly CurvePoint[], line: readonly CurvePoint[]): CurvePoint[] {
  const kept = simplified(inOrder(line).filter(({ tick }, index, all) => tick !== all[index + 1]?.tick));
  const [first, last] = [kept[0], kept.at(-1)];
  if (!first || !last) return [...points];
  return inOrder([...points.filter(({ tick }) => tick < first.tick || tick > last.tick), ...kept]);
}

/** The points of a line that its shape needs (Ramer 1972, Douglas and Peucker 1973, by the distance in value). */
export function simplified(line: readonly CurvePoint[], stray = STRAY): CurvePoint[] {
  if (line.length < 3) return [...line];
  const keep = new Set([0, line.length - 1]);
  const spans: [number, number][] = [[0, line.length - 1]];
  for (let span = spans.pop(); span; span = spans.pop()) {
    const [from, to] = span;
    let farthest = -1;
    let most = stray;
    for (let at = from + 1; at < to; at++) {
      const off = Math.abs(line[at]!.value - valueBetween(line[from]!, line[to]!, line[at]!.tick));
      if (off > most) [farthest, most] = [at, off];
    }
    if (farthest < 0) continue;
    keep.add(farthest);
    spans.push([from, farthest], [farthest, to]);
  }
  return [...keep].sort((a, b) => a - b).map((at) => line[at]!);
}

/** The value at a tick on the straight line between two points. */
const valueBetween = (from: CurvePoint, to: CurvePoint, tick: number): number =>
  to.tick === from.tick
    ? to.value
    : from.value + ((to.value - from.value) * (tick - from.tick)) / (to.tick - from.tick);

/** The value of a curve at a tick; what is before or after it holds its end. Undefined for no curve. */
export function valueAt(points: readonly CurvePoint[], tick: number): number | undefined {
  const next = points.findIndex((point) => point.tick > tick);
  if (next === 0) return points[0]!.value;
  const before = next < 0 ? points.at(-1) : points[next - 1];
  return next < 0 || !before ? before?.value : valueBetween(before, points[next]!, tick);
}

/** A curve with its values by per cent about nothing, and then more or less; within its lane. */
export const scaled = (
  points: readonly CurvePoint[],
  percent: number,
  more: number,
  highest: number,
): CurvePoint[] =>
  points.map(({ tick, value }) => ({
    tick,
    value: Math.max(0, Math.min(highest, Math.round((value * percent) / 100 + more))),
  }));

/** The nearest bar line or marker, where one is near enough. */
export function snapped(
  clock: Clock,
  markers: readonly { tick: number }[],
  tick: number,
  reach: number,
): number {
  const bar = barAt(clock, Math.max(0, tick));
  const near = [bar.start, bar.start + bar.length, ...markers.map((marker) => marker.tick)]
    .map((at) => ({ at, off: Math.abs(at - tick) }))
    .sort((a, b) => a.off - b.off)[0]!;
  return Math.round(near.off <= reach ? near.at : tick);
}

/** A curve to begin with: how loud the notes of each bar are struck (mean velocity), where it changes. */
export function fromVelocities(
  notes: readonly Pick<PlayedNote, 'on' | 'velocity'>[],
  clock: Clock,
): CurvePoint[] {
  const bars = new Map<number, number[]>();
  for (const { on, velocity } of notes) {
    const { start } = barAt(clock, on);
    bars.set(start, [...(bars.get(start) ?? []), velocity]);
  }
  const means = [...bars].map(([start, velocities]) => ({
    tick: Math.round(start),
    value: Math.round(velocities.reduce((sum, each) => sum + each, 0) / velocities.length),
  }));
  return simplified(inOrder(means));
}
