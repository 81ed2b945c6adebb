import { type Clock, secondsAt } from '../model/clock';
import { controllerOf, laneOf } from '../model/lanes';
import type { Placed } from '../model/performance';

/**
 * Controllers whose every message counts: banks, data entry and parameter
 * numbers, pedals and other switches, channel modes (MIDI 1.0).
 */
const WHOLE = (controller: number): boolean =>
  controller === 0 ||
  controller === 6 ||
  controller === 32 ||
  controller === 38 ||
  (controller >= 64 && controller <= 69) ||
  controller >= 96;

/** Shaping with at most one event a lane in so many milliseconds: of each stretch the last one, at its start. */
export function thinned(shaping: readonly Placed[], clock: Clock, milliseconds: number): Placed[] {
  if (milliseconds <= 0) return [...shaping];
  const kept: Placed[] = [];
  const last = new Map<string, { seconds: number; index: number }>();
  for (const placed of shaping) {
    const lane = laneOf(placed.event);
    const controller = lane === null ? null : controllerOf(lane);
    const isWhole = lane === null || lane === 'key-pressure' || (controller !== null && WHOLE(controller));
    const seconds = secondsAt(clock, placed.event.tick);
    const before = lane === null ? undefined : last.get(lane);
    if (isWhole || !before || 1000 * (seconds - before.seconds) >= milliseconds) {
      if (lane !== null) last.set(lane, { seconds, index: kept.length });
      kept.push(placed);
      continue;
    }
    // The newer value counts, so that a curve ends where it was to end.
    const { order, event } = kept[before.index]!;
    kept[before.index] = { order, event: { ...placed.event, tick: event.tick } };
  }
  return kept;
}
