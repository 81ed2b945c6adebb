import type { SwingMark } from '../score/score';
import { straighten } from '../score/swing';
import { QUARTER } from '../score/time';
import type { Beat } from './beats';
import { divisionsOf } from './divisions';
import { CERTAIN, type Played, type Reading, readSpan } from './fit-span';

/** Ratios that are tried, and between which swing is believed. */
const RATIOS = [0.57, 0.6, 0.635, 0.667, 0.695];
const LIGHTEST = 0.545;
const HARDEST = 0.72;
/** What it costs to begin a swung passage, in nats; a short one is rather a few triplets. */
const BEGIN = 16;
/** Fewer bars than this are no passage: their triplets are written as such. */
const SHORTEST = 4;
/** Only beats with an attack about here tell swing from straight. */
const ZONE_FROM = 0.42;
const ZONE_TO = 0.78;
/** Offbeats this late on average raise the question for the bars around. */
const SUSPECT = 0.53;
const AROUND = 2;
/** A triplet where there are others nearby; the straight reading is charged no more. */
const STAY_FOREIGN = 0.6;
const HOLLOW = 1.2;
const CHOICE = { smallest: '16th', triplets: true } as const;
/** Fewer offbeats than this do not make a passage. */
const ENOUGH = 6;

/** Swung passages and how much better they explain the attacks than straight playing, in nats. */
export interface FoundSwing {
  swings: SwingMark[];
  gain: number;
}

/**
 * Where the piece is swung and how much. For each bar two readings compete:
 * straight (binary or triplets) and swung (the same beat warped so that the
 * ratio falls on the half, binary only); a two-state search over the bars
 * finds the passages, and the ratio is then the median of their offbeats.
 *
 * @param parts the attacks of each part in order, leads taken out
 */
export function findSwing(
  parts: readonly (readonly Played[])[],
  beats: readonly Beat[],
  bars: number,
): FoundSwing {
  let best: { swings: SwingMark[]; gain: number } = { swings: [], gain: 0 };
  const heard = parts.map((played) => tellingBeats(played, beats));
  const suspect = suspectBars(heard.flat(), bars);
  const telling = heard.map((list) => list.filter(({ beat }) => suspect[beat.bar]));
  if (telling.every((each) => each.length < ENOUGH)) return { swings: [], gain: 0 };
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
    if (found.gain > best.gain)
      best = { swings: found.swings.map((each) => ({ ...each, ratio })), gain: found.gain };
  }
  const swings = best.swings.flatMap((swing) => {
    if (swing.to - swing.from < SHORTEST) return [];
    const refined = medianRatio(telling.flat(), swing);
    return refined ? [{ ...swing, ratio: refined }] : [];
  });
  return { swings, gain: swings.length > 0 ? best.gain : 0 };
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

/** Bars near some whose offbeats come late on average; swing elsewhere is out of the question. */
function suspectBars(telling: readonly Telling[], bars: number): Uint8Array {
  const sums = new Float64Array(bars);
  const counts = new Uint32Array(bars);
  for (const { beat, played, low, high } of telling)
    for (let at = low; at < high; at++) {
      const phase = (played[at]!.at - beat.start) / beat.length;
      if (phase <= ZONE_FROM || phase >= ZONE_TO) continue;
      sums[beat.bar]! += phase;
      counts[beat.bar]!++;
    }
  const out = new Uint8Array(bars);
  for (let bar = 0; bar < bars; bar++)
    if (counts[bar]! > 0 && sums[bar]! / counts[bar]! > SUSPECT)
      out.fill(1, Math.max(0, bar - AROUND), bar + AROUND + 1);
  return out;
}

function straightCost(played: readonly Played[], beat: Beat, low: number, high: number): number {
  let best = Number.POSITIVE_INFINITY;
  for (const reading of readSpan(played, low, high, beat.start, singles(beat), [], CERTAIN))
    best = Math.min(best, reading.cost + (reading.foreign ? STAY_FOREIGN + hollow(reading) : 0));
  return best;
}

/** Triplets that never touch their middle note are rather swung eighths. */
function hollow({ offsets, count }: Reading): number {
  return count === 3 && !offsets.includes(QUARTER / 3) ? HOLLOW : 0;
}

function swungCost(played: readonly Played[], beat: Beat, low: number, high: number, ratio: number): number {
  const warped = played.slice(low, high).map((each) => ({
    ...each,
    at: beat.start + straighten((each.at - beat.start) / beat.length, ratio) * beat.length,
  }));
  let best = Number.POSITIVE_INFINITY;
  for (const reading of readSpan(warped, 0, warped.length, beat.start, singles(beat), [], CERTAIN))
    if (!reading.foreign) best = Math.min(best, reading.cost);
  return best;
}

const singles = (beat: Beat) => divisionsOf(beat, CHOICE)[1];

/** Best two-state path over the bars: gain of the swung passages less what each costs. */
function passages(gains: Float64Array): { swings: Omit<SwingMark, 'ratio'>[]; gain: number } {
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
  const swings: Omit<SwingMark, 'ratio'>[] = [];
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

function medianRatio(telling: readonly Telling[], swing: SwingMark): number | null {
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
