import type { Steps } from '../../basics/steps';
import { type Frame, frameEnd } from '../../model/frame';
import { beatsOf } from '../../model/meter';
import { barIndexOf, type SwingMark } from '../../model/score';
import type { Attack, SketchNote } from '../../model/sketch';
import { pairOf, within } from '../../model/swing';
import { type Moment, QUARTER, type Span } from '../../model/time';
import { FINE_STEPS, nearestPlace, type Tidiness, tickTolerance } from '../attacks/tidiness';
import { areGated, endGated, gatesByShare, gatesOf, staccatoShare } from './gates';
import { writeGraces } from './graces';
import { piecesOf } from './pieces';
import { isPlace, type Places, placesOf } from './places';
import { endAsScored } from './scored';
import { shortPassages } from './touch';

const SHORTEST = QUARTER / 8;
/** Ends that are worth weighing, as shares of how long the note was held. */
const EARLIEST_END = 0.7;
const LATEST_END = 2.6;
/** Later attacks at which a note that sounds on could end. */
const MOST_ENDS = 16;
/** Spread of a release that was meant to be exact, in seconds. */
const RELEASE_SPREAD = 0.022;
/** A release may come this share of the value early and still be a loose hold of it. */
const LOOSEST = 0.5;
const LOOSE_EDGE = 0.1;
/** No part is held more evenly than this, and fewer notes than this tell nothing of it. */
const TIGHTEST = 0.75;
const ENOUGH = 12;
/** The same for a sound that dies away by itself. */
const DYING = 0.15;
/** Legato runs into the next note by up to this long, in seconds. */
const OVERLAP = 0.07;
/** Densities are over the share of the value that is held; these are the odds against each way of holding. */
const SHORT_HOLD = 5;
const LONG_HOLD = 3.2;
/** Costs in nats: a rest, each further symbol, a note that sounds on under a later attack. */
const REST = 3;
const SYMBOL = 0.9;
const UNDER = 2.2;
/** Where a rest may begin: on the beat, on its half, on a finer place. */
const ENDS = [0, 0.7, 2, 4];
/** A note shorter than an eighth with a rest after it: a copyist writes a longer one, staccato. */
const SPECK = 3;
/** … all the more where it is alone in its beat. */
const LONE_SPECK = 2.5;
/** A rest shorter than this is how a note is let go, not silence that is counted, in seconds (common practice). */
const COUNTED = 0.11;
const UNCOUNTED = 3;
/** In swing nothing ends within the first or the second of a pair, but what is short. */
const WITHIN_SWUNG = 6;
/** The notes of a chord are let go together: each tells less by this power of their number. */
const ALIKE = 0.5;
/** The notes of a chord end together unless this much speaks against it. */
const APART = 7;

export interface LengthOptions {
  tidiness: Tidiness;
  /** The instrument plays one note at a time. */
  singleLine: boolean;
  /** A struck sound dies away by itself: when it is let go says little. */
  dies: boolean;
  secondsPerUnit: (tick: number) => number;
  /** Odds of closing gaps: 0 keeps every gap that was played, 1 as heard, above closes more. */
  closing: (bar: number) => number;
  /** The swing that holds in a bar (index), if one does. */
  swingAt: (bar: number) => SwingMark | undefined;
}

/** So many attacks are weighed between two pauses. */
const PAUSE = 400;

/**
 * Decides how long each note is written. In a written part a release on the
 * grid stands as it is. In a played one every place where the note could end
 * is weighed: how the release fits (exact, loose, short), what the value and
 * the rest after it cost in symbols, and whether the rest begins at a good place.
 *
 * How loosely the part is held is learned from the part itself first.
 */
export function* fitLengths(attacks: readonly Attack[], frame: Frame, options: LengthOptions): Steps<void> {
  const main = attacks.filter((attack) => !attack.grace);
  writeGraces(attacks);
  const onPaper = (index: number, end: Moment) => {
    const { start, tick } = main[index]!;
    let next = index + 1;
    while (main[next] && main[next]!.start <= start) next++;
    const until = main[next]?.start ?? frameEnd(frame);
    return writtenCost(frame, start, end, until, options.secondsPerUnit(tick), options, main);
  };
  const { tidiness, secondsPerUnit } = options;
  if (!options.dies && endAsScored(main, frame, tidiness, secondsPerUnit, onPaper)) return;
  const held = learnHold(main, options);
  const gates = gatesOf(main, options.tidiness);
  const made = placesOf(main, frame);
  const places = { ...made, areGated: areGated(main, made, frame, options.tidiness) };
  const byShare = gatesByShare(main, frame);
  const end = frameEnd(frame);
  const mayBeShort = !options.dies && hasShortNotes(main);
  const open: Open[] = [];
  for (const [index, attack] of main.entries()) {
    if (index % PAUSE === PAUSE - 1) yield;
    const next = main[index + 1];
    const latest = options.singleLine ? (next?.start ?? end) : end;
    const swing = options.swingAt(barIndexOf(frame.bars, attack.start));
    const gated = new Map(
      byShare.flatMap((gate) => [...endGated(attack, gate, latest, places, frame, swing)]).reverse(),
    );
    const loose = endExactly(attack, gates, latest, places, frame, options).filter(
      (note) => !gated.has(note),
    );
    for (const [note, end] of gated) note.end = end;
    if (loose.length === 0) continue;
    const candidates = candidatesOf(main, index, loose, frame, options, held, mayBeShort);
    const best = chooseTogether(candidates);
    open.push({ attack, next, loose, candidates, best, context: contextOf(main, index, frame) });
  }
  yield;
  keepHabits(open, HABIT * held.loose);
  if (mayBeShort) playShort(open);
  for (const each of open) {
    each.best = chooseTogether(each.candidates);
    endLoosely(each, end, options);
  }
  if (options.dies) return;
  const notes = main.flatMap((attack) => attack.notes);
  const shareOf = ({ start, end, at, until }: SketchNote) => (until - at) / (end - start);
  const staccato = staccatoShare(notes.map(shareOf));
  for (const note of notes) if (shareOf(note) < staccato) note.staccato = true;
}

/** An attack whose ends are to be weighed. */
interface Open {
  attack: Attack;
  next: Attack | undefined;
  loose: SketchNote[];
  candidates: Candidates;
  /** Index of the end that costs least. */
  best: number;
  /** Equal for attacks at the same place of the same rhythm. */
  context: string;
}

/** Whether an end lies within the long or the short of a swung pair: nothing finer is a value of its own. */
function isWithinSwung({ start, literal, even }: Attack, end: Moment, frame: Frame, options: LengthOptions) {
  if (literal === undefined || even) return false;
  const bar = frame.bars[barIndexOf(frame.bars, start)]!;
  const swing = options.swingAt(bar.index);
  return swing !== undefined && within(end, bar.start - bar.missing, pairOf(swing) / 2) !== 0;
}

/**
 * Ends what was written to the tick where it ends, but for what sounds on
 * later than it can be held, and what only a gate ends there.
 *
 * @returns the other notes of the attack
 */
function endExactly(
  attack: Attack,
  gates: ReadonlySet<Span>,
  latest: Moment,
  places: Places,
  frame: Frame,
  options: LengthOptions,
): SketchNote[] {
  const { tidiness } = options;
  const tolerance = tickTolerance(frame.clock.ticksPerQuarter);
  // A swung eighth that is let go early was written as an eighth, whatever the tick.
  return attack.notes.filter((note) => {
    note.start = attack.start;
    const place = nearestPlace(note.until, FINE_STEPS);
    const exact =
      tidiness.attacks &&
      tidiness.releases &&
      Math.abs(place - note.until) <= tolerance &&
      place > attack.start &&
      place <= latest &&
      !gates.has(place - attack.start) &&
      isPlace(place, places, frame) &&
      !isWithinSwung(attack, place, frame, options);
    if (exact) note.end = place;
    return !exact;
  });
}

function endLoosely(
  { attack, next, loose, candidates, best }: Open,
  end: Moment,
  options: LengthOptions,
): void {
  const together = candidates.ends[best]!;
  loose.forEach((note, at) => {
    const own = candidates.costs[at]!;
    const alone = candidates.alone[at]!;
    let choice = best;
    own.forEach((cost, each) => {
      // What sounds on when the others are let go is let go by itself: its release tells all that it can.
      const gain = candidates.ends[each]! > together ? alone[best]! - alone[each]! : own[best]! - cost;
      if (gain > APART && cost < own[choice]!) choice = each;
    });
    // In quintuplets of an eighth the next attack may come sooner than the shortest value.
    const shortest = Math.min(attack.start + SHORTEST, next?.start ?? end);
    note.end = Math.min(Math.max(candidates.ends[choice]!, shortest), end);
    if (note.end <= note.start) note.end = Math.min(note.start + SHORTEST, end);
    if (options.singleLine && next?.start === note.end && note.until > next.at) note.legato = true;
  });
}

/** Fewer attacks are no passage. */
const SHORTEST_PASSAGE = 3;

/** Whether enough of a body is let go early that some of it may be played short. */
function hasShortNotes(attacks: readonly Attack[]): boolean {
  let count = 0;
  attacks.forEach(({ notes, at, start }, index) => {
    const next = attacks[index + 1];
    const room = STACCATO[1] * ((next?.start ?? 0) - start);
    if (next && notes.every(({ until }) => until - at < room)) count++;
  });
  return count >= SHORTEST_PASSAGE;
}

/** Costs of beginning and ending a passage that is played short (tuned on the tuned half of `bench:lengths`). */
const PASSAGE = { begin: 5, end: 2 };

/** Takes what is let go early for staccato where all about it is. */
function playShort(open: readonly Open[]): void {
  const least = (costs: readonly number[][], spared: readonly number[]) => {
    const sums =
      costs[0]?.map((_, end) => costs.reduce((sum, own) => sum + own[end]!, -(spared[end] ?? 0))) ?? [];
    return Math.min(...sums);
  };
  const rests = new Map<string, { count: number; of: number }>();
  for (const { candidates, best, next, context } of open) {
    const known = rests.get(context) ?? { count: 0, of: 0 };
    rests.set(context, known);
    known.of++;
    if (next && candidates.ends[best]! < next.start) known.count++;
  }
  const passages = shortPassages(
    open.map(({ candidates: { ends, costs, short, exact }, next, context }) => {
      const { count, of } = rests.get(context)!;
      const usual = (RESTS_BY_HABIT * count) / of;
      const spared = ends.map((end, at) => (next && end < next.start ? Math.max(usual, exact[at]!) : 0));
      return { usual: least(costs, spared), short: least(short, []) };
    }),
    PASSAGE,
  );
  for (const [at, each] of open.entries())
    if (passages[at]) {
      each.candidates.costs = each.candidates.short;
      each.best = chooseTogether(each.candidates);
    }
}

/** What a part does in one context counts against so many attacks of no habit; the more loosely it is held, the more it weighs. */
const NO_HABIT = 6;
const HABIT = 2.5;

/** Where in its quarter an attack stands, and how far from those before and after it. */
function contextOf(attacks: readonly Attack[], index: number, frame: Frame): string {
  const { start } = attacks[index]!;
  const bar = frame.bars[barIndexOf(frame.bars, start)]!;
  const before = start - (attacks[index - 1]?.start ?? start);
  const after = (attacks[index + 1]?.start ?? start) - start;
  return `${(start - bar.start + bar.missing) % QUARTER} ${before} ${after}`;
}

/**
 * A pattern that comes again is written the same again: an end is cheaper the
 * more of the part's other attacks in the same context end so.
 *
 * @param weight of what the others do, from 0
 */
function keepHabits(open: readonly Open[], weight: number): void {
  const habits = new Map<string, Map<Span, number>>();
  for (const { attack, candidates, best, context } of open) {
    const ends = habits.get(context) ?? new Map<Span, number>();
    habits.set(context, ends);
    const length = candidates.ends[best]! - attack.start;
    ends.set(length, (ends.get(length) ?? 0) + 1);
  }
  for (const { attack, candidates, best, context } of open) {
    const ends = habits.get(context)!;
    const others = [...ends.values()].reduce((sum, count) => sum + count, -1);
    if (others === 0) continue;
    candidates.ends.forEach((end, at) => {
      const alike = (ends.get(end - attack.start) ?? 0) - (at === best ? 1 : 0);
      const even = NO_HABIT / candidates.ends.length;
      const bonus = weight * Math.log(((alike + even) * NO_HABIT) / ((others + NO_HABIT) * even));
      for (const own of candidates.costs) own[at]! -= bonus / candidates.costs.length;
    });
  }
}

/** How a part is held: the odds that a release is exact, and that it is loose; the least share that is held then. */
interface Hold {
  exact: number;
  loose: number;
  loosest: number;
}

/**
 * Learns from the notes that are followed at once by another whether releases
 * are exact or loose: an exact player's ends crowd around the next attack.
 */
function learnHold(attacks: readonly Attack[], options: LengthOptions): Hold {
  let near = 1;
  let far = 1;
  const shares: number[] = [];
  attacks.forEach((attack, index) => {
    const next = attacks[index + 1];
    if (!next || next.start - attack.start > 4 * QUARTER) return;
    const seconds = options.secondsPerUnit(attack.tick);
    for (const note of attack.notes) {
      const gap = (next.at - note.until) * seconds;
      const share = (note.until - note.at) / Math.max(1, next.at - note.at);
      if (share < 0.45) continue;
      if (share < 1.02) shares.push(share);
      if (share < 0.5) continue;
      if (gap < 2 * RELEASE_SPREAD) near++;
      else if (share < 0.95) far++;
    }
  });
  return { exact: near / (near + far), loose: far / (near + far), loosest: leastShare(shares, options.dies) };
}

/**
 * Loose holds lie evenly between some least share and the whole; a fifth of
 * them below their 20th percentile. A few rests among them change little.
 */
function leastShare(shares: number[], dies: boolean): number {
  if (dies) return DYING;
  if (shares.length < ENOUGH) return LOOSEST;
  shares.sort((a, b) => a - b);
  const fifth = shares[Math.floor(shares.length / 5)]!;
  return Math.min(TIGHTEST, Math.max(LOOSEST, (fifth - 0.2) / 0.8 - LOOSE_EDGE));
}

interface Candidates {
  ends: Moment[];
  /** For each loose note what each end costs, among those of its chord. */
  costs: number[][];
  /** The same where a note is let go by itself; habits are of chords and count nothing. */
  alone: number[][];
  /** As `costs`, in a passage that is played short. */
  short: number[][];
  /** What of the cost on paper of each end is told by the release. */
  exact: number[];
}

function candidatesOf(
  attacks: readonly Attack[],
  index: number,
  notes: readonly SketchNote[],
  frame: Frame,
  options: LengthOptions,
  held: Hold,
  mayBeShort: boolean,
): Candidates {
  const attack = attacks[index]!;
  const { start } = attack;
  const seconds = options.secondsPerUnit(attack.tick);
  const limit = frameEnd(frame);
  const longest = notes.reduce((most, note) => Math.max(most, note.until - note.at), 0);
  const following: Moment[] = [];
  for (let next = index + 1; next < attacks.length; next++) {
    const at = attacks[next]!.start;
    if (at > start && at !== following.at(-1)) following.push(at);
    if (following.length >= MOST_ENDS) break;
    // A key struck again ends its note in any case.
    const again = attacks[next]!.notes.some((note) => notes.some((own) => own.key === note.key));
    if (at > start && (options.singleLine || again || at - start > 1.9 * longest)) break;
  }
  const next = following[0] ?? limit;
  const ends: Moment[] = [];
  const offer = (end: Moment) => {
    if (end > start && end <= limit && !ends.includes(end)) ends.push(end);
  };
  following.forEach(offer);
  if (following.length === 0 || (!options.singleLine && limit <= start + LATEST_END * longest)) offer(limit);
  restPlaces(frame, start, start, next, longest, attack.division, offer);
  if (!options.singleLine && following.length > 0)
    restPlaces(frame, start, next, Math.min(limit, start + 2 * longest), longest, 1, offer);
  if (ends.length === 0) ends.push(Math.min(limit, start + SHORTEST));
  const common = ends.map(
    (end) =>
      writtenCost(frame, start, end, next, seconds, options, attacks) +
      (end < next && isWithinSwung(attack, end, frame, options) ? WITHIN_SWUNG : 0),
  );
  const holds = notes.map((note) =>
    ends.map((end) => holdCost(note, start, end, next, seconds, held, options)),
  );
  const ofChord = (held: readonly number[][]) =>
    held.map((own) => own.map((cost, at) => common[at]! / notes.length + cost / notes.length ** ALIKE));
  // What sounds on when the next note comes is not played short.
  const soonest = following[0] === undefined ? Number.POSITIVE_INFINITY : soundsAt(attacks, index);
  const shortly = !mayBeShort
    ? []
    : notes.map((note, at) =>
        note.until >= soonest ? holds[at]! : ends.map((end) => shortCost(note, start, end, seconds)),
      );
  return {
    ends,
    costs: ofChord(holds),
    short: ofChord(shortly),
    exact: (mayBeShort ? ends : []).map((end, at) =>
      notes.reduce(
        (least, note, own) =>
          Math.min(
            least,
            exactness(note, start, end, seconds, held) * Math.exp(holds[own]![at]!) * common[at]!,
          ),
        Number.POSITIVE_INFINITY,
      ),
    ),
    alone: holds.map((own) => own.map((cost, at) => common[at]! / notes.length + cost)),
  };
}

/**
 * Offers the places where a rest could begin after an attack, given how long it was held:
 * the meter's own, the finer the shorter the note, bar lines, and the slots of
 * the beat's division.
 */
function restPlaces(
  frame: Frame,
  start: Moment,
  from: Moment,
  to: Moment,
  longest: Span,
  division: number,
  take: (place: Moment) => void,
): void {
  const low = Math.max(from, start + EARLIEST_END * longest);
  const high = Math.min(to, start + LATEST_END * longest + SHORTEST);
  const bar = frame.bars[barIndexOf(frame.bars, start)]!;
  const offer = (zero: Moment, step: Span) => {
    for (let at = zero + Math.ceil((low - zero) / step) * step; at < high; at += step)
      if (at > from) take(at);
  };
  offer(bar.start, longest > 2.5 * QUARTER ? QUARTER : longest > 0.6 * QUARTER ? QUARTER / 2 : QUARTER / 4);
  if (longest < QUARTER / 4 && division >= 8) offer(bar.start, QUARTER / 8);
  if (division > 2 && Number.isInteger(QUARTER / division)) offer(start, QUARTER / division);
  const end = bar.start + bar.length;
  if (end > from && end < to) take(end);
}

/** What an end costs on paper: symbols of the note and of the rest after it, and where the rest begins. */
function writtenCost(
  frame: Frame,
  start: Moment,
  end: Moment,
  next: Moment,
  seconds: number,
  options: LengthOptions,
  attacks: readonly Attack[],
): number {
  let cost = SYMBOL * (piecesOf(frame, start, end) - 1);
  if (end < next && attacks.length > 0) {
    const closing = options.closing(barIndexOf(frame.bars, start));
    cost +=
      REST * closing + SYMBOL * (Math.min(3, piecesOf(frame, end, Math.min(next, end + 4 * QUARTER))) - 1);
    cost += ENDS[depthOf(frame, end)]!;
    if ((next - end) * seconds < COUNTED) cost += UNCOUNTED * closing;
    if (end - start < QUARTER / 2) cost += next - end >= QUARTER / 2 ? SPECK + LONE_SPECK : SPECK;
  }
  if (end > next) cost += UNDER;
  return cost;
}

/** Where all of the part's attacks in a context have a rest, this much of its cost is no reason to think that they are played short. */
const RESTS_BY_HABIT = 4;

/** The density of a release that is meant to be exact. */
function exactness(
  { at, until }: SketchNote,
  start: Moment,
  end: Moment,
  seconds: number,
  held: Hold,
): number {
  // The attack was moved to its place; a release keeps its own.
  const late = Math.min(Math.abs(until - end), Math.abs(until - at - (end - start)));
  const z = (late * seconds) / RELEASE_SPREAD;
  return (held.exact * Math.exp((-z * z) / 2)) / (RELEASE_SPREAD * 2.5);
}

/** How well a release fits an end: minus the log of a mixture of exact, loose, short and overlapping holds. */
function holdCost(
  note: SketchNote,
  start: Moment,
  end: Moment,
  next: Moment,
  seconds: number,
  held: Hold,
  options: LengthOptions,
): number {
  const value = (end - start) * seconds;
  const played = (note.until - note.at) * seconds;
  const share = played / value;
  const exact = exactness(note, start, end, seconds, held);
  const { loosest } = held;
  const ramp = Math.min(1, (share - loosest) / LOOSE_EDGE);
  const loose = ramp > 0 && share <= 1.03 ? (held.loose * ramp) / ((1.03 - loosest) * value) : 0;
  const short = share < loosest ? Math.exp(-SHORT_HOLD * (1 + (loosest - share))) / (loosest * value) : 0;
  const over = played - value;
  const joined = end === next || options.singleLine;
  const overlap = joined && over > 0 && over < OVERLAP ? (0.5 * held.exact + 0.1) / OVERLAP : 0;
  const long =
    over > 0 ? Math.exp(-LONG_HOLD - (options.singleLine ? 0 : over / (0.3 * value))) / (value + OVERLAP) : 0;
  return -Math.log(exact + loose + short + overlap + long + 1e-9);
}

/** When the first of the attacks after one is heard that is written later. */
function soundsAt(attacks: readonly Attack[], index: number): Moment {
  const { start } = attacks[index]!;
  for (let at = index + 1; at < attacks.length; at++) if (attacks[at]!.start > start) return attacks[at]!.at;
  return Number.POSITIVE_INFINITY;
}

/** The shares of a value that are held in staccato, and how steep the odds fall beside them. */
const STACCATO = [0.25, 0.72] as const;
const STEEP = 20;
/** Of so many notes in a short passage one is held as it likes, for up to twice its value. */
const STRAY = 0.05;

/** How well a release fits an end in a passage that is played short; as `holdCost`. */
function shortCost(note: SketchNote, start: Moment, end: Moment, seconds: number): number {
  const value = (end - start) * seconds;
  const share = ((note.until - note.at) * seconds) / value;
  const beside = Math.max(STACCATO[0] - share, share - STACCATO[1], 0);
  const even = (1 - STRAY) / (STACCATO[1] - STACCATO[0]);
  const density = even * Math.exp(-STEEP * beside) + (share < 2 ? STRAY / 2 : 0);
  return -Math.log(density / value + 1e-9);
}

function chooseTogether({ ends, costs }: Candidates): number {
  let best = 0;
  let least = Number.POSITIVE_INFINITY;
  ends.forEach((_, at) => {
    const total = costs.reduce((sum, own) => sum + own[at]!, 0);
    if (total < least) {
      least = total;
      best = at;
    }
  });
  return best;
}

/** 0 on a beat, 1 on its half or third, 2 on a quarter or sixth, 3 anywhere else. */
function depthOf(frame: Frame, moment: Moment): number {
  const bar = frame.bars[barIndexOf(frame.bars, moment)]!;
  const zero = bar.start - bar.missing;
  const beat = beatsOf(bar).findLast((each) => zero + each.start <= moment);
  if (!beat) return 0;
  const inBeat = moment - zero - beat.start;
  const size = beat.length;
  if (inBeat === 0) return 0;
  const fits = (count: number) => Number.isInteger((inBeat * count) / size);
  return fits(2) || fits(3) ? 1 : fits(4) || fits(6) ? 2 : 3;
}
