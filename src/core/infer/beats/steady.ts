import { NEAR, type Onset } from './onsets';

/**
 * So many beats in a row are steady where each is this near to an even pace,
 * in seconds: many of players who follow a click, fewer of a machine.
 */
const STEADY: readonly [beats: number, tolerance: number][] = [
  [24, 0.04],
  [12, 0.012],
];
/** Two paces are one where they differ by less than this share. */
const SAME_PACE = 0.01;
/** How well onsets must keep to a grid, 0 to 1. */
const KEPT = 0.8;
/** A step of pace moves the far end of a grid by this part of a slot; so many onsets are asked at most. */
const FINE = 8;
const MOST_ONSETS = 2000;
/** A beat this share of a beat over an edge is on it. */
const EDGE = 0.1;

/**
 * Indices of the times that a line through them bends at: between one and the
 * next every time lies within the tolerance of the straight line. As few as
 * can be found going forward (a cone of slopes narrows with each time).
 *
 * @param times ascending
 * @param tolerance in the unit of the times
 */
export function bendsOf(times: readonly number[], tolerance: number): number[] {
  const bends = times.length > 0 ? [0] : [];
  for (let from = 0; from < times.length - 1; ) {
    let [low, high] = [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY];
    let to = from + 1;
    for (let at = from + 1; at < times.length && low <= high; at++) {
      const [rise, run] = [times[at]! - times[from]!, at - from];
      if (rise / run >= low && rise / run <= high) to = at;
      low = Math.max(low, (rise - tolerance) / run);
      high = Math.min(high, (rise + tolerance) / run);
    }
    bends.push(to);
    from = to;
  }
  return bends;
}

/** A stretch of beats at an even pace, or several of one pace in a row: indices, and seconds a beat. */
interface Run {
  from: number;
  to: number;
  pace: number;
}

function runsOf(beats: readonly number[]): Run[] {
  for (const [least, tolerance] of STEADY) {
    const runs = runsWithin(beats, least, tolerance);
    if (runs.length > 0) return runs;
  }
  return [];
}

function runsWithin(beats: readonly number[], least: number, tolerance: number): Run[] {
  const bends = bendsOf(beats, tolerance);
  const runs: Run[] = [];
  bends.forEach((to, index) => {
    const from = bends[index - 1];
    if (from === undefined || to - from < least) return;
    const pace = (beats[to]! - beats[from]!) / (to - from);
    const last = runs.at(-1);
    if (last && Math.abs(pace / last.pace - 1) < SAME_PACE) last.to = to;
    else runs.push({ from, to, pace });
  });
  return runs;
}

interface Grid {
  pace: number;
  /** A moment at which a beat stands. */
  phase: number;
}

/**
 * The even beats near a pace on whose halves, quarters, triplets … the onsets
 * stand; null where they do not. The pace is the one under which they agree best:
 * the largest resultant of their phases, over fine steps.
 */
function gridOf(pace: number, all: readonly Onset[], beats: readonly number[]): Grid | null {
  const stride = Math.ceil(all.length / MOST_ONSETS);
  const onsets = all.filter((_, index) => index % stride === 0);
  const first = onsets[0]?.seconds ?? 0;
  const length = Math.max(pace, (onsets.at(-1)?.seconds ?? 0) - first);
  let best = { strength: KEPT * onsets.length, pace, phase: 0, count: 0 };
  for (const count of [4, 3, 2, 1, 8, 6]) {
    const step = pace ** 2 / (FINE * count * length);
    for (let tried = pace * (1 - SAME_PACE); tried < pace * (1 + SAME_PACE); tried += step) {
      let [x, y] = [0, 0];
      for (const { seconds } of onsets) {
        const angle = (2 * Math.PI * count * (seconds - first)) / tried;
        x += Math.cos(angle);
        y += Math.sin(angle);
      }
      const strength = Math.hypot(x, y);
      if (strength <= best.strength) continue;
      best = {
        strength,
        pace: tried,
        phase: first + (Math.atan2(y, x) * tried) / (2 * Math.PI * count),
        count,
      };
    }
  }
  if (best.count === 0) return null;
  // Of the slots those are beats which most of the beats that were found stand on.
  const slot = best.pace / best.count;
  const votes = new Array<number>(best.count).fill(0);
  for (const beat of beats) votes[mod(Math.round((beat - best.phase) / slot), best.count)]!++;
  return { pace: best.pace, phase: best.phase + votes.indexOf(Math.max(...votes)) * slot };
}

const mod = (value: number, by: number): number => ((value % by) + by) % by;

/**
 * Beats that keep a machine's pace, laid out evenly, over odd bars and
 * syncopations that bend beats which are looked for one by one. Beats of free
 * playing stay as they are.
 *
 * @param beats in seconds, ascending
 */
export function steadied(beats: readonly number[], onsets: readonly Onset[]): number[] {
  const out: number[] = [];
  /** Goes on with beats, the first of them no nearer to the last one than half a beat. */
  const goOn = (more: readonly number[], pace: number) => {
    const after = (out.at(-1) ?? Number.NEGATIVE_INFINITY) + pace / 2;
    out.push(...more.filter((beat) => beat > after));
  };
  const runs = runsOf(beats);
  let at = 0;
  let before = 0;
  runs.forEach((run, index) => {
    const from = index === 0 ? 0 : beats[run.from]!;
    const to = index === runs.length - 1 ? Number.POSITIVE_INFINITY : beats[run.to]!;
    const within = onsets.filter(({ seconds }) => seconds >= from - NEAR && seconds <= to + NEAR);
    const grid = gridOf(run.pace, within, beats.slice(run.from, run.to + 1));
    if (!grid) return;
    const { pace, phase } = grid;
    const begin = Math.ceil((from - phase) / pace - EDGE);
    const end = Math.floor((Math.min(to, beats.at(-1)! + pace / 2) - phase) / pace + EDGE);
    const found = beats.filter((beat) => beat >= at && beat < from);
    goOn(found, before);
    const even = Array.from(
      { length: Math.max(0, end - begin + 1) },
      (_, step) => phase + (begin + step) * pace,
    );
    goOn(
      even.filter((beat) => beat >= 0),
      pace,
    );
    at = to;
    before = pace;
  });
  goOn(
    beats.filter((beat) => beat >= at),
    before,
  );
  return out;
}
