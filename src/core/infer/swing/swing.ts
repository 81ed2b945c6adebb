import { append } from '../../basics/append';
import { medianOf } from '../../basics/average';
import { eachInSteps, type Steps } from '../../basics/steps';
import type { Beat } from '../../model/beats';
import type { SwingMark, SwungValue } from '../../model/score';
import { pairOf, within } from '../../model/swing';
import { type Moment, QUARTER, type Span } from '../../model/time';
import { divisionsOf } from '../rhythm/divisions';
import { againstSwing, CERTAIN, type FittedSpan, isHollow, type Played, readSpan } from '../rhythm/fit-span';

/** Ratios that are tried, and between which swing is believed. */
const RATIOS = [0.57, 0.6, 0.635, 0.667, 0.695];
const LIGHTEST = 0.55;
const HARDEST = 0.72;
/** What a swung passage costs, in nats; a short one is rather a few triplets. Each change within the piece costs more. */
const PASSAGE = 10;
const CHANGE = 15;
/** Fewer bars than this are no passage: their triplets are written as such. */
const SHORTEST = { eighth: 4, '16th': 8 };
/** Only pairs with an attack about here tell swing from straight. */
const ZONE_FROM = 0.42;
const ZONE_TO = 0.78;
/** What comes this share of a pair before a beat belongs to it. */
const BEFORE = 0.12;
/** Offbeats this late on average raise the question for the bars around. */
const SUSPECT = 0.53;
const AROUND = 2;
/** A triplet where there are others nearby; the straight reading is charged no more. One within swing. */
const STAY_FOREIGN = 0.6;
const HOLLOW = 1.2;
const WITHIN_SWING = 1.6;
const CHOICE = { smallest: '16th', triplets: true } as const;
/** Fewer offbeats than this do not make a passage. */
const ENOUGH = 6;
/**
 * Eighths are divided further in many ways. 16ths are most often either long and short or something
 * else throughout: one pair a bar at least, and this share of all that are divided.
 */
const CLEAN = 0.62;
/**
 * Where so many pairs, for each that is only long and short, have a middle one as
 * well, and few are divided in any other way, threes are what divides the beat:
 * they are written, long and short among them.
 */
const THREES = 0.4;
const NOTHING_ELSE = 0.8;
const MIDDLE_FROM = 0.25;
/** Programmed swing is most often that of triplets; within this share of a pair it is. */
const TRIPLETS = 2 / 3;
const TO_THE_TICK = 0.004;
/** Attacks where pairs begin, for each offbeat, at least: fewer lie on no grid at all. */
const BEGUN = 0.45;
/** What lies beyond this share of a pair divides it. */
const INNER_FROM = 0.15;

/** Swung passages and how much better they explain the attacks than straight playing, in nats. */
export interface FoundSwing {
  swings: SwingMark[];
  gain: number;
}

/**
 * Where the piece is swung and how much, in eighths or in 16ths. For each bar
 * two readings compete: straight, and swung (the second of each pair stands
 * where the ratio says); a two-state search over the bars finds the passages,
 * and the ratio is then the median of their offbeats.
 *
 * @param parts the attacks of each part in order, leads taken out
 */
export function* findSwing(
  value: SwungValue,
  parts: readonly (readonly Played[])[],
  beats: readonly Beat[],
  bars: number,
): Steps<FoundSwing> {
  const pair = pairOf({ value });
  const heard = yield* eachInSteps(parts, (played) => tellingBeats(played, beats, pair));
  const suspect = suspectBars(heard.flat(), bars, pair);
  const telling = heard.map((list) => list.filter(({ beat }) => suspect[beat.bar]));
  if (telling.every((each) => each.length < ENOUGH)) return { swings: [], gain: 0 };
  const straightOf: number[][] = [];
  for (const list of telling) straightOf.push(yield* eachInSteps(list, (each) => straightCost(each, pair)));
  let best: FoundSwing = { swings: [], gain: 0 };
  for (const ratio of RATIOS) {
    const swing = { from: 0, to: bars, value, ratio };
    const gains = new Float64Array(bars);
    for (const [body, list] of telling.entries()) {
      for (const [index, each] of list.entries()) {
        gains[each.beat.bar]! += straightOf[body]![index]! - swungCost(each, swing);
        yield;
      }
    }
    const found = passages(gains);
    if (found.gain > best.gain)
      best = { swings: found.passages.map((each) => ({ ...swing, ...each })), gain: found.gain };
  }
  const swings = best.swings.flatMap((swing) => {
    if (swing.to - swing.from < SHORTEST[value]) return [];
    const refined = ratioOf(telling, swing);
    return refined ? [{ ...swing, ratio: refined }] : [];
  });
  return { swings, gain: swings.length > 0 ? best.gain : 0 };
}

/** A beat with an attack where straight and swung differ. */
interface Telling {
  beat: Beat;
  played: readonly Played[];
  low: number;
  high: number;
}

function tellingBeats(played: readonly Played[], beats: readonly Beat[], pair: Span): Telling[] {
  const out: Telling[] = [];
  let at = 0;
  for (const beat of beats) {
    const early = beat.start - BEFORE * pair;
    const late = beat.start + beat.length - BEFORE * pair;
    while (at < played.length && played[at]!.at < early) at++;
    let high = at;
    while (high < played.length && played[high]!.at < late) high++;
    if (beat.ternary || beat.length !== QUARTER || high === at) continue;
    const telling = { beat, played, low: at, high };
    if (offbeatsOf(telling, pair).length > 0) out.push(telling);
  }
  return out;
}

/** Where in its pair each offbeat lies, 0 … 1: the attacks that tell straight from swung. */
function offbeatsOf({ beat, played, low, high }: Telling, pair: Span): number[] {
  return played
    .slice(low, high)
    .map(({ at }) => within(at, beat.start, pair) / pair)
    .filter((phase) => phase > ZONE_FROM && phase < ZONE_TO);
}

/** Bars near some whose offbeats come late on average; swing elsewhere is out of the question. */
function suspectBars(telling: readonly Telling[], bars: number, pair: Span): Uint8Array {
  const sums = new Float64Array(bars);
  const counts = new Uint32Array(bars);
  for (const each of telling)
    for (const phase of offbeatsOf(each, pair)) {
      sums[each.beat.bar]! += phase;
      counts[each.beat.bar]!++;
    }
  const out = new Uint8Array(bars);
  for (let bar = 0; bar < bars; bar++)
    if (counts[bar]! > 0 && sums[bar]! / counts[bar]! > SUSPECT)
      out.fill(1, Math.max(0, bar - AROUND), bar + AROUND + 1);
  return out;
}

function straightCost({ beat, played, low, high }: Telling, pair: Span): number {
  let best = Number.POSITIVE_INFINITY;
  for (const reading of readSpan(played, low, high, alone(beat, undefined), CERTAIN))
    best = Math.min(
      best,
      reading.cost + (reading.foreign ? STAY_FOREIGN : 0) + (isHollow(reading, pair) ? HOLLOW : 0),
    );
  return best;
}

function swungCost({ beat, played, low, high }: Telling, swing: SwingMark): number {
  const pair = pairOf(swing);
  let best = Number.POSITIVE_INFINITY;
  for (const reading of readSpan(played, low, high, alone(beat, swing), CERTAIN)) {
    // Even pairs speak against swing, however they may be written within it.
    const isEven = reading.literal && !reading.foreign && beat.length / reading.count === pair / 2;
    if (!isEven)
      best = Math.min(
        best,
        reading.cost + againstSwing(reading, beat.length, pair) + (reading.foreign ? WITHIN_SWING : 0),
      );
  }
  return best;
}

/** A beat by itself, of which nothing else is known. */
const alone = (beat: Beat, swing: SwingMark | undefined): FittedSpan => ({
  start: beat.start,
  length: beat.length,
  divisions: divisionsOf(beat, CHOICE, swing)[1],
  pinned: [],
  supports: [],
});

/** Best two-state path over the bars: gain of the swung passages less what each costs. */
function passages(gains: Float64Array): { passages: { from: number; to: number }[]; gain: number } {
  const bars = gains.length;
  const straight = new Float64Array(bars + 1);
  const swung = new Float64Array(bars + 1).fill(Number.NEGATIVE_INFINITY);
  const began = new Uint8Array(bars);
  const ended = new Uint8Array(bars);
  for (let bar = 0; bar < bars; bar++) {
    ended[bar] = swung[bar]! - CHANGE > straight[bar]! ? 1 : 0;
    straight[bar + 1] = Math.max(straight[bar]!, swung[bar]! - CHANGE);
    const begun = straight[bar]! - PASSAGE - (bar === 0 ? 0 : CHANGE);
    began[bar] = begun > swung[bar]! ? 1 : 0;
    swung[bar + 1] = Math.max(begun, swung[bar]!) + gains[bar]!;
  }
  const out: { from: number; to: number }[] = [];
  let inside = swung[bars]! > straight[bars]!;
  let to = bars;
  for (let bar = bars - 1; bar >= 0; bar--) {
    if (inside && began[bar]) {
      out.unshift({ from: bar, to });
      inside = false;
    } else if (!inside && ended[bar]) {
      inside = true;
      to = bar;
    }
  }
  return { passages: out, gain: Math.max(straight[bars]!, swung[bars]!) };
}

/** The ratio of a passage's pairs; null where too few of them tell. */
function ratioOf(bodies: readonly (readonly Telling[])[], swing: SwingMark): number | null {
  const pairs = bodies.map((telling) => pairsOf(telling, swing));
  const sumOf = (count: (own: Pairs) => number) => pairs.reduce((sum, own) => sum + count(own), 0);
  const offbeats = sumOf((own) => own.offbeats.length);
  const [divided, clean] = [sumOf((own) => own.divided), sumOf((own) => own.clean)];
  const middle = sumOf((own) => own.middle);
  if (offbeats < ENOUGH || sumOf((own) => own.starts.length) < BEGUN * offbeats) return null;
  if (middle > THREES * clean && middle + clean > NOTHING_ELSE * divided) return null;
  if (swing.value === '16th' && clean < Math.max(CLEAN * divided, swing.to - swing.from)) return null;
  // What stands on triplets to the tick was put there, wherever its pairs begin.
  const asItIs = medianOf(pairs.flatMap((own) => own.offbeats));
  if (Math.abs(asItIs - TRIPLETS) < TO_THE_TICK) return TRIPLETS;
  // From where the pairs of each part begin, since it may be late as a whole, or part of the lateness taken for a lead.
  const ratio = medianOf(
    pairs.flatMap((own) => {
      const begins = own.starts.length < ENOUGH ? 0 : medianOf(own.starts);
      return own.offbeats.map((phase) => phase - begins);
    }),
  );
  return ratio > LIGHTEST && ratio < HARDEST ? ratio : null;
}

/** The pairs of a part: where in them it strikes first and about the offbeat, and how many are divided how. */
interface Pairs {
  offbeats: number[];
  starts: number[];
  /** Divided at all; in long and short alone; in long and short with a middle one. */
  divided: number;
  clean: number;
  middle: number;
}

function pairsOf(telling: readonly Telling[], swing: SwingMark): Pairs {
  const pair = pairOf(swing);
  const offbeats: number[] = [];
  const starts: number[] = [];
  let [divided, clean, middle] = [0, 0, 0];
  for (const { beat, played, low, high } of telling) {
    if (beat.bar < swing.from || beat.bar >= swing.to) continue;
    for (let start: Moment = beat.start; start < beat.start + beat.length; start += pair) {
      const phases = played
        .slice(low, high)
        .map((each) => (each.at - start) / pair)
        .filter((phase) => phase > -BEFORE && phase < 1 - BEFORE);
      const inner = phases.filter((phase) => phase > INNER_FROM);
      const inZone = inner.filter((phase) => phase > ZONE_FROM && phase < ZONE_TO + 0.05);
      append(
        starts,
        phases.filter((phase) => phase <= INNER_FROM),
      );
      if (inZone.length === 1) offbeats.push(inZone[0]!);
      if (inner.length > 0) divided++;
      if (inner.length === 1 && inZone.length === 1) clean++;
      // Swung 16ths have one more, after the offbeat.
      if (inner.length === 2 && inner[0]! > MIDDLE_FROM && inner[0]! <= ZONE_FROM && inZone.length === 1)
        middle++;
    }
  }
  return { offbeats, starts, divided, clean, middle };
}
