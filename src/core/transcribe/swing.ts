import { type Moment, QUARTER } from '../score/time';
import type { Beat } from './beats';
import { divisionsOf } from './divisions';
import { type Played, readSpan } from './fit-span';

/** Bars (indices, `to` exclusive) whose eighths are swung. */
export interface Swing {
  from: number;
  to: number;
  /** Where in the beat the second eighth sounds: 1/2 straight, 2/3 as in triplets. */
  ratio: number;
}

/** Ratios that are tried, and between which swing is believed. */
const RATIOS = [0.57, 0.6, 0.635, 0.667, 0.695];
const LIGHTEST = 0.545;
const HARDEST = 0.72;
/** What it costs to begin a swung passage, in nats; a short one is rather a few triplets. */
const BEGIN = 18;
/** Only beats with an attack about here tell swing from straight. */
const ZONE_FROM = 0.42;
const ZONE_TO = 0.78;
/** A triplet where there are others nearby; the straight reading is charged no more. */
const STAY_FOREIGN = 0.6;
const CHOICE = { smallest: '16th', triplets: true } as const;
/** Fewer offbeats than this do not make a passage. */
const ENOUGH = 6;

/**
 * Where the piece is swung and how much. For each bar two readings compete:
 * straight (binary or triplets) and swung (the same beat warped so that the
 * ratio falls on the half, binary only); a two-state search over the bars
 * finds the passages, and the ratio is then the median of their offbeats.
 *
 * @param parts the attacks of each part in order, leads taken out
 */
export function findSwing(parts: readonly (readonly Played[])[], beats: readonly Beat[], bars: number): Swing[] {
  let best: { swings: Swing[]; gain: number } = { swings: [], gain: 0 };
  const telling = parts.map((played) => tellingBeats(played, beats));
  if (telling.every((each) => each.length < ENOUGH)) return [];
  const straightOf = telling.map((list) =>
    list.map(({ beat, low, high, played }) => straightCost(played, beat, low, high)),
  );
  for (const ratio of RATIOS) {
    const gains = new Float64Array(bars);
    telling.forEach((list, body) => {
      list.forEach(({ beat, low, high, played }, index) => {
        const cost = swungCost(played, beat, low, high, ratio);
        gains[beat.bar]! += straightOf[body]![index]! - cost;
      });
    });
    const found = passages(gains);
    if (found.gain > best.gain) best = { swings: found.swings.map((each) => ({ ...each, ratio })), gain: found.gain };
  }
  return best.swings.flatMap((swing) => {
    const refined = medianRatio(telling.flat(), swing);
    return refined ? [{ ...swing, ratio: refined }] : [];
  });
}

interface Telling {
  beat: Beat;
  played: readonly Played[];
  low: number;
  high: number;
}

/** Beats with an attack where straight and swung differ. */
function tellingBeats(played: readonly Played[], beats: readonly Beat[]): Telling[] {
  const out: Telling[] = [];
  let at = 0;
  for (const beat of beats) {
    const early = beat.start - 0.12 * beat.length;
    const late = beat.start + 0.88 * beat.length;
    while (at < played.length && played[at]!.at < early) at++;
    let high = at;
    while (high < played.length && played[high]!.at < late) high++;
    if (beat.ternary || beat.length !== QUARTER || high === at) continue;
    const phases = played.slice(at, high).map((each) => (each.at - beat.start) / beat.length);
    if (phases.some((phase) => phase > ZONE_FROM && phase < ZONE_TO))
      out.push({ beat, played, low: at, high });
  }
  return out;
}

function straightCost(played: readonly Played[], beat: Beat, low: number, high: number): number {
  let best = Number.POSITIVE_INFINITY;
  for (const reading of readSpan(played, low, high, beat.start, beat.length, singles(beat), null))
    best = Math.min(best, reading.cost + (reading.foreign ? STAY_FOREIGN : 0));
  return best;
}

function swungCost(played: readonly Played[], beat: Beat, low: number, high: number, ratio: number): number {
  const warped = played.slice(low, high).map((each) => ({
    ...each,
    at: beat.start + straighten((each.at - beat.start) / beat.length, ratio) * beat.length,
  }));
  let best = Number.POSITIVE_INFINITY;
  for (const reading of readSpan(warped, 0, warped.length, beat.start, beat.length, singles(beat), null))
    if (!reading.foreign) best = Math.min(best, reading.cost);
  return best;
}

const singles = (beat: Beat) => divisionsOf(beat, CHOICE).filter((division) => division.beats === 1);

/** Best two-state path over the bars: gain of the swung passages less what each costs. */
function passages(gains: Float64Array): { swings: Omit<Swing, 'ratio'>[]; gain: number } {
  const bars = gains.length;
  const straight = new Float64Array(bars + 1);
  const swung = new Float64Array(bars + 1).fill(Number.NEGATIVE_INFINITY);
  const began = new Uint8Array(bars);
  const ended = new Uint8Array(bars);
  for (let bar = 0; bar < bars; bar++) {
    ended[bar] = swung[bar]! > straight[bar]! ? 1 : 0;
    straight[bar + 1] = Math.max(straight[bar]!, swung[bar]!);
    began[bar] = straight[bar]! - BEGIN > swung[bar]! ? 1 : 0;
    swung[bar + 1] = Math.max(straight[bar]! - BEGIN, swung[bar]!) + gains[bar]!;
  }
  const swings: Omit<Swing, 'ratio'>[] = [];
  let inside = swung[bars]! > straight[bars]!;
  let to = bars;
  for (let bar = bars - 1; bar >= 0; bar--) {
    if (inside && began[bar]) {
      swings.unshift({ from: bar, to });
      inside = false;
    } else if (!inside && ended[bar]) {
      inside = true;
      to = bar;
    }
  }
  return { swings, gain: Math.max(straight[bars]!, swung[bars]!) };
}

function medianRatio(telling: readonly Telling[], swing: Swing): number | null {
  const phases: number[] = [];
  for (const { beat, played, low, high } of telling) {
    if (beat.bar < swing.from || beat.bar >= swing.to) continue;
    const inZone = played
      .slice(low, high)
      .map((each) => (each.at - beat.start) / beat.length)
      .filter((phase) => phase > ZONE_FROM && phase < ZONE_TO + 0.05);
    if (inZone.length === 1) phases.push(inZone[0]!);
  }
  if (phases.length < ENOUGH) return null;
  phases.sort((a, b) => a - b);
  const median = phases[phases.length >> 1]!;
  return median > LIGHTEST && median < HARDEST ? median : null;
}

/** A phase of a swung beat (0 … 1) as it would be straight. */
export function straighten(phase: number, ratio: number): number {
  if (phase < 0 || phase > 1) return phase;
  return phase < ratio ? phase / (2 * ratio) : 0.5 + (phase - ratio) / (2 * (1 - ratio));
}

/** A phase of a straight beat as it sounds swung; the inverse of `straighten`. */
export function swingPhase(phase: number, ratio: number): number {
  if (phase < 0 || phase > 1) return phase;
  return phase < 0.5 ? phase * 2 * ratio : ratio + (phase - 0.5) * 2 * (1 - ratio);
}

/** A moment with swing taken out; `zero` is a beat of the bar that it lies in. */
export function unswung(moment: Moment, zero: Moment, ratio: number): Moment {
  const phase = (((moment - zero) % QUARTER) + QUARTER) % QUARTER;
  return moment - phase + straighten(phase / QUARTER, ratio) * QUARTER;
}
