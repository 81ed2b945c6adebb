import type { Steps } from '../../basics/steps';
import { drumSound } from '../../instruments/kit';
import { type Frame, frameEnd } from '../../model/frame';
import { beatsOf } from '../../model/meter';
import { type Bar, barIndexOf } from '../../model/score';
import type { Attack, SketchNote } from '../../model/sketch';
import { within } from '../../model/swing';
import { type Moment, QUARTER, type Span } from '../../model/time';
import { writeBar } from '../../notate/rhythm';
import { FINE_STEPS, nearestPlace, type Tidiness, tickTolerance } from '../attacks/tidiness';

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
/** Held for less than this share of its value, a note is staccato. */
const SHORT = 0.45;
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
/** In swing nothing ends within the first or the second of a pair, but what is short. */
const WITHIN_SWUNG = 6;
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
  /** How long a swung pair is in a bar; 0 where nothing is swung. */
  pairAt: (bar: number) => Span;
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
  const held = learnHold(main, options);
  const gates = gatesOf(main, options);
  const made = placesOf(main, frame);
  const places = { ...made, areGated: areGated(main, made, frame, options) };
  const gate = gateOf(main, frame, options);
  const end = frameEnd(frame);
  const open: Open[] = [];
  for (const [index, attack] of main.entries()) {
    if (index % PAUSE === PAUSE - 1) yield;
    const next = main[index + 1];
    const latest = options.singleLine ? (next?.start ?? end) : end;
    const gated = gate === null ? NONE : endGated(attack, gate, latest, places, frame);
    const loose = endExactly(attack, gates, latest, places, frame, options).filter(
      (note) => !gated.has(note),
    );
    for (const [note, end] of gated) note.end = end;
    if (loose.length === 0) continue;
    const candidates = candidatesOf(main, index, loose, frame, options, held);
    const best = chooseTogether(candidates);
    open.push({ attack, next, loose, candidates, best, context: contextOf(main, index, frame) });
  }
  yield;
  keepHabits(open, HABIT * held.loose);
  for (const each of open) {
    each.best = chooseTogether(each.candidates);
    endLoosely(each, end, options);
  }
}

/** Notes held for one share of their value, to the tick, are this share of those that others follow. */
const SAME_SHARE = 0.5;
/** A share is one gate within this much, and a gate from so much silence on. */
const SHARE_WIDTH = 0.012;
const FULL_SHARE = 0.97;
/** A value counts as held so from so many notes on; one value alone is no gate if half or so of it is held: that is a value of its own. */
const OF_A_VALUE = 4;
const STRICT = 0.9;
const PLAIN_SHARES = [0.34, 0.6] as const;

interface Gate {
  /** Of its value that a note is held. */
  share: number;
  /** So hold all but a few notes: those before rests do, too. */
  isStrict: boolean;
}

/**
 * The share of their values for which a programmed part holds its notes, the
 * same for short and long ones, as sequencers' gates do; null where there is none.
 */
function gateOf(attacks: readonly Attack[], frame: Frame, { tidiness }: LengthOptions): Gate | null {
  if (!tidiness.attacks) return null;
  const shares = attacks.flatMap(({ start, notes }, index) => {
    const step = (attacks[index + 1]?.start ?? start) - start;
    if (step <= 0 || step > 4 * QUARTER) return [];
    return notes.map(({ at, until }) => ({ step, share: (until - at) / step }));
  });
  if (shares.length < GATED) return null;
  const tick = tickTolerance(frame.clock.ticksPerQuarter);
  const isAbout = (each: (typeof shares)[number], share: number) =>
    Math.abs(each.share - share) <= SHARE_WIDTH + tick / each.step;
  let best = { share: 1, count: 0 };
  for (const share of new Set(shares.map((each) => Math.round(each.share * 200) / 200))) {
    const count = shares.filter((each) => isAbout(each, share)).length;
    if (count > best.count) best = { share, count };
  }
  if (best.share >= FULL_SHARE || best.count < SAME_SHARE * shares.length) return null;
  const held = shares.filter((each) => isAbout(each, best.share));
  const values = new Map<Span, number>();
  for (const { step } of held) values.set(step, (values.get(step) ?? 0) + 1);
  const often = [...values.values()].filter((count) => count >= OF_A_VALUE).length;
  const isPlain = best.share > PLAIN_SHARES[0] && best.share < PLAIN_SHARES[1];
  if (often < 2 && isPlain) return null;
  return {
    share: held.reduce((sum, { share }) => sum + share, 0) / held.length,
    isStrict: best.count >= STRICT * shares.length,
  };
}

/** Where the values of notes end that a gate holds for a share of them, if they are values to the tick. */
function endGated(
  attack: Attack,
  { share, isStrict }: Gate,
  latest: Moment,
  { starts }: Places,
  frame: Frame,
): ReadonlyMap<SketchNote, Moment> {
  const tolerance = tickTolerance(frame.clock.ticksPerQuarter);
  const ends = new Map<SketchNote, Moment>();
  for (const note of attack.notes) {
    const played = note.until - note.at;
    const meant = attack.start + played / share;
    const place = nearestPlace(meant, FINE_STEPS);
    // A tick more or less at the release is many of the value where little of it is held.
    const off = (1.5 * tolerance) / share + (SHARE_WIDTH * played) / share;
    if (Math.abs(place - meant) > off || place <= attack.start || place > latest) continue;
    // Where others hold as they like, a release at a good place was meant.
    const isSixteenth = (moment: Moment) => isMultiple(quarterOf(moment, frame).inside, 4);
    const released = nearestPlace(note.until, FINE_STEPS);
    const isMeant = Math.abs(released - note.until) <= tolerance && isSixteenth(released);
    if (!isStrict && !starts.has(place) && (isMeant || !isSixteenth(place))) continue;
    ends.set(note, place);
    if (share < SHORT) note.staccato = true;
  }
  return ends;
}

const NONE: ReadonlyMap<SketchNote, Moment> = new Map();

/** What beats are divided by where attacks stand in them, and where attacks stand at all. */
interface Places {
  /** Releases come often where nothing else would make a value: their places mean nothing in this part. */
  areGated: boolean;
  /** By the moment at which a quarter begins. */
  divisions: ReadonlyMap<Moment, ReadonlySet<number>>;
  starts: ReadonlySet<Moment>;
}

/** Divisions of a quarter that only attacks make: triplets, sextuplets, 32nds, finer triplets. */
const MADE = [3, 6, 8, 12];

function placesOf(attacks: readonly Attack[], frame: Frame): Omit<Places, 'areGated'> {
  const divisions = new Map<Moment, Set<number>>();
  const starts = new Set<Moment>();
  for (const { start } of attacks) {
    starts.add(start);
    const { quarter, inside } = quarterOf(start, frame);
    const made = MADE.find((count) => isMultiple(inside, count)) ?? 0;
    if (isMultiple(inside, 4) || made === 0) continue;
    divisions.set(quarter, (divisions.get(quarter) ?? new Set()).add(made));
  }
  return { divisions, starts };
}

/** Whether releases of a programmed part come often where nothing else would make a value. */
function areGated(
  attacks: readonly Attack[],
  places: Omit<Places, 'areGated'>,
  frame: Frame,
  { tidiness }: LengthOptions,
): boolean {
  if (!tidiness.attacks || !tidiness.releases) return false;
  let odd = 0;
  let all = 0;
  for (const { notes } of attacks)
    for (const { until } of notes) {
      all++;
      if (!isPlace(nearestPlace(until, FINE_STEPS), { ...places, areGated: true }, frame)) odd++;
    }
  return odd >= Math.max(GATED, ODD_SHARE * all);
}

const isMultiple = (inside: Span, count: number): boolean => Number.isInteger((inside * count) / QUARTER);

function quarterOf(moment: Moment, { bars }: Frame): { quarter: Moment; inside: Span } {
  const bar = bars[barIndexOf(bars, moment)]!;
  const zero = bar.start - bar.missing;
  const inside = (moment - zero) % QUARTER;
  return { quarter: moment - inside, inside };
}

/**
 * Whether a note may end here on paper: on the 16th, where another begins, or
 * where attacks divide the beat so. A release alone makes no tuplet and
 * nothing finer than a 16th (common practice).
 */
function isPlace(moment: Moment, { divisions, starts, areGated }: Places, frame: Frame): boolean {
  if (!areGated) return true;
  const { quarter, inside } = quarterOf(moment, frame);
  if (isMultiple(inside, 4) || starts.has(moment)) return true;
  return [...(divisions.get(quarter) ?? [])].some((count) => isMultiple(inside, count));
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
  return within(end, bar.start - bar.missing, options.pairAt(bar.index) / 2) !== 0;
}

/** Counts that beats are divided by, the plainest first; a part uses one if nearly all its attacks stand on it. */
const COUNTS = [1, 2, 4, 3, 8, 6, 12];
const NEARLY_ALL = 0.97;
/** So many notes, and this share of those that are followed soon, make a gate. */
const GATED = 12;
const GATED_SHARE = 0.25;
/** Releases at places that only they make are gates if they are so many of a part’s. */
const ODD_SHARE = 0.08;

/**
 * The gates of a part that was programmed: lengths that its notes are given,
 * more than half of the step to the next, so that they end where it has no attacks.
 * They stand on the fine grid but are no values that anyone would write.
 */
function gatesOf(attacks: readonly Attack[], { tidiness }: LengthOptions): ReadonlySet<Span> {
  const gates = new Map<Span, number>();
  if (!tidiness.attacks || !tidiness.releases || attacks.length < GATED) return new Set();
  const isOn = (moment: Moment, count: number) => Number.isInteger((moment * count) / QUARTER);
  const count = COUNTS.find(
    (each) => attacks.filter(({ start }) => isOn(start, each)).length >= NEARLY_ALL * attacks.length,
  );
  if (count === undefined) return new Set();
  let followed = 0;
  attacks.forEach(({ start, notes }, index) => {
    const step = (attacks[index + 1]?.start ?? Number.POSITIVE_INFINITY) - start;
    if (step > QUARTER) return;
    followed++;
    const place = nearestPlace(notes[0]!.until, FINE_STEPS);
    const length = place - start;
    if (length === step || length <= step / 2 || isOn(place, count)) return;
    gates.set(length, (gates.get(length) ?? 0) + 1);
  });
  const most = Math.max(GATED, GATED_SHARE * followed);
  return new Set([...gates].flatMap(([length, times]) => (times >= most ? [length] : [])));
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
  loose.forEach((note, at) => {
    const own = candidates.costs[at]!;
    let choice = best;
    own.forEach((cost, each) => {
      if (cost + APART < own[best]! && cost < own[choice]!) choice = each;
    });
    // In quintuplets of an eighth the next attack may come sooner than the shortest value.
    const shortest = Math.min(attack.start + SHORTEST, next?.start ?? end);
    note.end = Math.min(Math.max(candidates.ends[choice]!, shortest), end);
    if (note.end <= note.start) note.end = Math.min(note.start + SHORTEST, end);
    if (options.singleLine && next?.start === note.end && note.until > next.at) note.legato = true;
    const share = (note.until - note.at) / (note.end - note.start);
    if (!options.dies && share < SHORT) note.staccato = true;
  });
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

/** A grace note takes no time. */
function writeGraces(attacks: readonly Attack[]): void {
  for (const attack of attacks)
    if (attack.grace)
      for (const note of attack.notes) {
        note.start = attack.start;
        note.end = attack.start;
        note.grace = true;
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
  /** For each loose note what each end costs. */
  costs: number[][];
}

function candidatesOf(
  attacks: readonly Attack[],
  index: number,
  notes: readonly SketchNote[],
  frame: Frame,
  options: LengthOptions,
  held: Hold,
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
      writtenCost(frame, start, end, next, options, attacks) +
      (end < next && isWithinSwung(attack, end, frame, options) ? WITHIN_SWUNG : 0),
  );
  return {
    ends,
    costs: notes.map((note) =>
      ends.map(
        (end, at) => common[at]! / notes.length + holdCost(note, start, end, next, seconds, held, options),
      ),
    ),
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
  options: LengthOptions,
  attacks: readonly Attack[],
): number {
  let cost = SYMBOL * (piecesOf(frame, start, end) - 1);
  if (end < next && attacks.length > 0) {
    const closing = options.closing(barIndexOf(frame.bars, start));
    cost +=
      REST * closing + SYMBOL * (Math.min(3, piecesOf(frame, end, Math.min(next, end + 4 * QUARTER))) - 1);
    cost += ENDS[depthOf(frame, end)]!;
    if (end - start < QUARTER / 2) cost += next - end >= QUARTER / 2 ? SPECK + LONE_SPECK : SPECK;
  }
  if (end > next) cost += UNDER;
  return cost;
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
  // The attack was moved to its place; a release keeps its own.
  const late = Math.min(Math.abs((note.until - end) * seconds), Math.abs(played - value));
  const z = late / RELEASE_SPREAD;
  const share = played / value;
  const exact = (held.exact * Math.exp((-z * z) / 2)) / (RELEASE_SPREAD * 2.5);
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

/** Pieces by stretch, for each kind of bar; found by the bar, since naming its kind takes longer than the rest. */
const countsOfKind = new Map<string, Map<number, number>>();
const countsOfBar = new WeakMap<Bar, Map<number, number>>();
const MOST_COUNTS = 20_000;
/** Makes one number of two moments of a bar; a longer one, of twelve quarters and more, is counted anew each time. */
const BEYOND = 2 ** 26;

function countsIn(bar: Bar): Map<number, number> {
  const known = countsOfBar.get(bar);
  if (known) return known;
  const kind = `${bar.meter.numerator}/${bar.meter.denominator} ${bar.groups.join(' ')}`;
  const counts = countsOfKind.get(kind) ?? new Map<number, number>();
  countsOfKind.set(kind, counts);
  countsOfBar.set(bar, counts);
  return counts;
}

/** How many symbols a stretch of one voice takes, over bar lines too. */
function piecesOf(frame: Frame, start: Moment, end: Moment): number {
  let count = 0;
  for (let index = barIndexOf(frame.bars, start); index < frame.bars.length; index++) {
    const bar = frame.bars[index]!;
    if (bar.start >= end) break;
    const zero = bar.start - bar.missing;
    const from = Math.max(start - zero, bar.missing);
    const to = Math.min(end - zero, bar.missing + bar.length);
    if (to <= from) continue;
    count += from === bar.missing && to === bar.missing + bar.length ? 1 : piecesInBar(bar, from, to);
    if (count > 8) break;
  }
  return count;
}

function piecesInBar(bar: Bar, from: Moment, to: Moment): number {
  const counts = countsIn(bar);
  const name = from * BEYOND + to;
  const known = bar.length < BEYOND ? counts.get(name) : undefined;
  if (known) return known;
  const full = { ...bar, missing: 0, length: bar.groups.reduce((sum, group) => sum + group, 0) };
  const stretches = [
    ...(from > 0 ? [{ start: 0, end: from }] : []),
    { start: from, end: to, content: true },
    ...(to < full.length ? [{ start: to, end: full.length }] : []),
  ];
  const count = writeBar(full, stretches).filter((piece) => piece.content).length;
  if (counts.size > MOST_COUNTS) counts.clear();
  counts.set(name, count);
  return count;
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

/**
 * Lengths for drums, whose releases mean nothing: a stroke is written to the
 * next stroke of the same hands or feet, at most to the end of its beat, and
 * never longer than one value can say: a stroke is no tied note (common practice).
 */
export function fitDrumLengths(attacks: readonly Attack[], frame: Frame): void {
  writeGraces(attacks);
  const { divisions } = placesOf(
    attacks.filter(({ grace }) => !grace),
    frame,
  );
  const isTriplet = (start: Moment) => {
    const made = divisions.get(quarterOf(start, frame).quarter);
    return made !== undefined && [3, 6, 12].some((count) => made.has(count));
  };
  for (const foot of [false, true]) {
    let following = frameEnd(frame);
    for (const attack of attacks.toReversed()) {
      if (attack.grace) continue;
      const notes = attack.notes.filter((note) => drumSound(note.key).foot === foot);
      if (notes.length === 0) continue;
      const end = untied(
        frame,
        attack.start,
        Math.min(following, beatEnd(frame, attack.start)),
        isTriplet(attack.start),
      );
      for (const note of notes) {
        note.start = attack.start;
        note.end = end;
      }
      following = attack.start;
    }
  }
}

/** Values that a stroke may have instead of one that needs a tie, from the longest down; and within triplets, where it stands on a third, a sixth, or finer. */
const STROKES: readonly Span[] = [6, 4, 3, 2, 1.5, 1, 0.75, 0.5, 0.25].map((each) => (each * QUARTER) / 4);
const IN_TRIPLETS: readonly (readonly [place: number, values: readonly Span[]])[] = [
  [3, [QUARTER, (2 * QUARTER) / 3, QUARTER / 3, QUARTER / 6, QUARTER / 12]],
  [6, [QUARTER / 6, QUARTER / 12]],
  [12, [QUARTER / 12, QUARTER / 24]],
];

/** The last end up to this one that a single value reaches. @param isTriplet its beat is divided by three */
function untied(frame: Frame, start: Moment, end: Moment, isTriplet: boolean): Moment {
  if (isTriplet) {
    const { inside } = quarterOf(start, frame);
    const values = IN_TRIPLETS.find(([place]) => isMultiple(inside, place))?.[1] ?? [];
    return start + (values.find((span) => start + span <= end) ?? end - start);
  }
  if (piecesOf(frame, start, end) <= 1) return end;
  const value = STROKES.find((span) => start + span < end && piecesOf(frame, start, start + span) <= 1);
  return value === undefined ? end : start + value;
}

function beatEnd(frame: Frame, moment: Moment): Moment {
  const bar = frame.bars[barIndexOf(frame.bars, moment)]!;
  const zero = bar.start - bar.missing;
  const beat = beatsOf(bar).findLast((each) => zero + each.start <= moment)!;
  return Math.min(zero + beat.start + beat.length, bar.start + bar.length);
}
