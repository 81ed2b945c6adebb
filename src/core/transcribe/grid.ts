import type { GridChoice } from '../brief/decisions';
import { beatsOf } from '../score/meter';
import { type Moment, QUARTER, type Span, typeSpan } from '../score/time';
import { type Frame, momentOf } from './frame';
import type { Attack } from './sketch';
import { nearestPlace, tickTolerance } from './tidiness';

/** A stretch of time that is divided in one way: a beat, or a quarter of a longer one. */
interface Window {
  start: Moment;
  length: Span;
}

/** One way to divide a window, with what it costs to assume it (in nats). */
interface Division {
  step: Span;
  prior: number;
  /** Steps that are no halves of the beat's own units. */
  triplet: boolean;
}

/** Two attacks drawn onto one place are a worse sign than a finer grid. */
const COLLISION = 6;
/** A change between duple and triplet division from one window to the next. */
const CHANGE = 1.2;
/** No single attack may decide a window alone. */
const WORST_DEVIATION = 16;

/**
 * Step 6 for a written part: an attack that lies on the grid to the tick stays
 * there, even where two voices divide one beat differently. Returns the
 * attacks that do not.
 */
export function keepExact(attacks: readonly Attack[], frame: Frame, choice: GridChoice): Attack[] {
  const tolerance = tickTolerance(frame.clock.ticksPerQuarter);
  const smallest = typeSpan(choice.smallest);
  const steps = [smallest, ...(choice.triplets ? [(smallest * 2) / 3] : [])];
  return attacks.filter((attack) => {
    const moment = momentOf(frame, attack.tick);
    const place = nearestPlace(moment, steps);
    if (Math.abs(place - moment) > tolerance) return true;
    attack.start = place;
    return false;
  });
}

/**
 * Step 6 for a played part: chooses for every beat how it divides (binary or triplet, as coarse
 * as the attacks allow) and puts each attack on its place.
 *
 * A Viterbi pass over the beats: an attack costs its squared deviation under
 * a normal jitter, a division costs its rarity, a change of kind costs a
 * little, so a lone late note does not make a triplet.
 *
 * @param sigma expected jitter of an attack in seconds
 * @param secondsPerUnit seconds for one unit of score time at a tick
 */
export function fitGrid(
  attacks: readonly Attack[],
  frame: Frame,
  choice: GridChoice,
  sigma: number,
  secondsPerUnit: (tick: number) => number,
): void {
  const played = attacks.map((attack) => momentOf(frame, attack.tick));
  let from = 0;
  let paths: { cost: number; triplet: boolean; used: Division | null; back: number }[][] = [];
  const spans: { window: Window; from: number; to: number; divisions: Division[] }[] = [];
  for (const window of windowsOf(frame)) {
    let to = from;
    while (to < attacks.length && played[to]! < window.start + window.length) to++;
    if (to > from) spans.push({ window, from, to, divisions: divisionsOf(window, choice) });
    from = to;
  }
  paths = spans.map(() => []);
  spans.forEach((span, index) => {
    const before = paths[index - 1];
    for (const division of span.divisions) {
      let best = 0;
      let back = -1;
      if (before) {
        best = Number.POSITIVE_INFINITY;
        before.forEach((state, at) => {
          const cost = state.cost + (state.triplet === division.triplet ? 0 : CHANGE);
          if (cost < best) {
            best = cost;
            back = at;
          }
        });
      }
      let cost = best + division.prior;
      let lastPlace = Number.NaN;
      for (let at = span.from; at < span.to; at++) {
        const place = placeOf(played[at]!, span.window, division.step);
        const deviation = ((played[at]! - place) * secondsPerUnit(attacks[at]!.tick)) / sigma;
        cost += Math.min((deviation * deviation) / 2, WORST_DEVIATION);
        if (place === lastPlace) cost += COLLISION;
        lastPlace = place;
      }
      paths[index]!.push({ cost, triplet: division.triplet, used: division, back });
    }
  });
  let state = bestIndex(paths.at(-1) ?? []);
  for (let index = spans.length - 1; index >= 0; index--) {
    const span = spans[index]!;
    const chosen = paths[index]![state]!;
    for (let at = span.from; at < span.to; at++)
      attacks[at]!.start = placeOf(played[at]!, span.window, chosen.used!.step);
    state = chosen.back;
  }
}

function bestIndex(states: readonly { cost: number }[]): number {
  let best = 0;
  states.forEach((state, index) => {
    if (state.cost < states[best]!.cost) best = index;
  });
  return best;
}

const placeOf = (moment: Moment, window: Window, step: Span): Moment =>
  window.start + Math.min(Math.round((moment - window.start) / step), window.length / step) * step;

/** All windows of the piece in order: beats, long beats cut into quarters, clipped to their bars. */
function windowsOf(frame: Frame): Window[] {
  const windows: Window[] = [];
  for (const bar of frame.bars) {
    const end = bar.start + bar.length;
    for (const beat of beatsOf(bar)) {
      const start = bar.start - bar.missing + beat.start;
      const size = beat.length > 1.5 * QUARTER || beat.length === 2 * QUARTER ? QUARTER : beat.length;
      for (let at = start; at < start + beat.length; at += size) {
        const low = Math.max(at, bar.start);
        const high = Math.min(at + size, end);
        if (high > low) windows.push({ start: low, length: high - low });
      }
    }
  }
  return windows;
}

function divisionsOf(window: Window, choice: GridChoice): Division[] {
  const { length } = window;
  const ternary = Number.isInteger(Math.log2(length / (1.5 * QUARTER)));
  const all: Division[] = ternary
    ? [
        { step: length, prior: 0, triplet: false },
        { step: length / 3, prior: 0.3, triplet: false },
        { step: length / 6, prior: 1.2, triplet: false },
        { step: length / 12, prior: 4, triplet: false },
        { step: length / 9, prior: 7, triplet: true },
      ]
    : [
        { step: length, prior: 0, triplet: false },
        { step: length / 2, prior: 0.3, triplet: false },
        { step: length / 4, prior: 1, triplet: false },
        { step: length / 8, prior: 4, triplet: false },
        { step: length / 3, prior: 2.5, triplet: true },
        { step: length / 6, prior: 5, triplet: true },
        { step: length / 12, prior: 9, triplet: true },
      ];
  const smallest = typeSpan(choice.smallest);
  const allowed = all.filter(
    (division) =>
      (choice.triplets || !division.triplet) &&
      (division.triplet ? division.step * 1.5 : division.step) >= smallest - 1e-6 &&
      Number.isInteger(division.step),
  );
  return allowed.length > 0 ? allowed : [all[0]!];
}
