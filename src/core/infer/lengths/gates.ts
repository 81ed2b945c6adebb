import { meanOf } from '../../basics/average';
import type { Frame } from '../../model/frame';
import { barIndexOf, type SwingMark } from '../../model/score';
import type { Attack, SketchNote } from '../../model/sketch';
import { straightMoment, swungMoment } from '../../model/swing';
import { type Moment, QUARTER, type Span } from '../../model/time';
import { FINE_STEPS, nearestPlace, type Tidiness, tickTolerance } from '../attacks/tidiness';
import { isMultiple, isPlace, type Places, quarterOf } from './places';

/** Held for less than this share of its value, a note is staccato. */
export const STACCATO = 0.45;
/**
 * In a part with two ways of holding notes, short and long, all the short ones are staccato: those ways lie on
 * either side of this share, and so many of their common spreads apart, with so large a part of the notes held long.
 */
const SHORT_WAY = 0.62;
const LONG_WAY = 0.72;
const WAYS_APART = 2.6;
const LONG_PART = 0.2;
const LONGEST_SHARE = 1.3;
/** A wrong mark costs more than a missing one: from the middle between the ways so far to the short one. */
const CAREFUL = 0.7;
const ROUNDS = 8;

/** Up to which share of their values notes are staccato, from the shares of all notes of a part (two means). */
export function staccatoShare(shares: readonly number[]): number {
  const all = shares.map((share) => Math.min(share, LONGEST_SHARE));
  let between = (SHORT_WAY + LONG_WAY) / 2;
  let careful = STACCATO;
  for (let round = 0; round < ROUNDS; round++) {
    const short = all.filter((share) => share < between);
    const long = all.filter((share) => share >= between);
    if (short.length < GATED || long.length < Math.max(GATED, LONG_PART * all.length)) return STACCATO;
    const [low, high] = [meanOf(short), meanOf(long)];
    const [under, over] = [spreadAround(short, low), spreadAround(long, high)];
    if (low > SHORT_WAY || high < LONG_WAY || high - low < WAYS_APART * Math.hypot(under, over))
      return STACCATO;
    between = low + ((high - low) * under) / (under + over);
    careful = low + CAREFUL * (between - low);
  }
  return careful;
}

const spreadAround = (values: readonly number[], mean: number): number =>
  Math.max(0.01, Math.sqrt(meanOf(values.map((value) => (value - mean) ** 2))));

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
export function gatesOf(attacks: readonly Attack[], tidiness: Tidiness): ReadonlySet<Span> {
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

/** Notes held for one share of their value, to the tick, are this share of those that others follow. */
const SAME_SHARE = 0.5;
/** Shares are tried in so many steps. */
const FINE_SHARES = 200;
/** A share is one gate within this much, and a gate from so much silence on. */
const SHARE_WIDTH = 0.012;
const FULL_SHARE = 0.97;
/** A value counts as held so from so many notes on; one value alone is no gate if half or so of it is held: that is a value of its own. */
const OF_A_VALUE = 4;
const STRICT = 0.9;
const PLAIN_SHARES = [0.34, 0.6] as const;

/** A second gate, of dots, is that of so many of the other notes, and holds for no more than this share. */
const DOTS_SHARE = 0.5;
const DOTS_MOST = 0.66;

export interface Gate {
  /** Of its value that a note is held. */
  share: number;
  /** So hold all but a few notes: those before rests do, too. */
  isStrict: boolean;
  /** Of notes that are short beside the part's others: up to the next attack they are one value, staccato. */
  isDots: boolean;
}

/**
 * The shares of their values for which a programmed part holds its notes, the
 * same for short and long ones, as sequencers' gates do: that of most notes, and that of its dots.
 */
export function gatesByShare(attacks: readonly Attack[], frame: Frame): Gate[] {
  const shares = attacks.flatMap((attack, index) => {
    const next = attacks[index + 1];
    const step = next ? stepBetween(attack, next) : 0;
    if (step <= 0 || step > 4 * QUARTER) return [];
    return attack.notes.map((note) => ({ step, share: heldFor(note) / step }));
  });
  if (shares.length < GATED) return [];
  const tolerance = tickTolerance(frame.clock.ticksPerQuarter);
  const most = commonShare(shares, tolerance);
  if (!most || most.share >= FULL_SHARE || most.count < SAME_SHARE * shares.length) return [];
  const held = shares.filter((each) => isAbout(each, most.share, tolerance));
  const values = new Map<Span, number>();
  for (const { step } of held) values.set(step, (values.get(step) ?? 0) + 1);
  const often = [...values.values()].filter((count) => count >= OF_A_VALUE).length;
  const isPlain = most.share > PLAIN_SHARES[0] && most.share < PLAIN_SHARES[1];
  if (often < 2 && isPlain) return [];
  const gate: Gate = {
    share: meanOf(held.map(({ share }) => share)),
    isStrict: most.count >= STRICT * shares.length,
    isDots: false,
  };
  // Under a gate a short value would be gated, too: what is held for half of its step to the tick is none.
  const others = shares.filter((each) => !isAbout(each, most.share, tolerance));
  const dots = commonShare(others, tolerance);
  const areDots =
    dots !== null &&
    dots.count >= Math.max(GATED, DOTS_SHARE * others.length) &&
    dots.share <= DOTS_MOST &&
    Math.abs(dots.share - gate.share / 2) > SHARE_WIDTH;
  return areDots ? [gate, { share: dots.share, isStrict: false, isDots: true }] : [gate];
}

interface HeldShare {
  step: Span;
  share: number;
}

const isAbout = (each: HeldShare, share: number, tolerance: Span): boolean =>
  Math.abs(each.share - share) <= SHARE_WIDTH + tolerance / each.step;

/** The share that most are held for, with their number; null where nothing is held for less than its value. */
function commonShare(shares: readonly HeldShare[], tolerance: Span): { share: number; count: number } | null {
  // Held for longer than its value is no gate, so there are few shares to try: those with enough around them.
  const bins = new Uint32Array(FINE_SHARES + 1);
  for (const { share } of shares) if (share <= 1) bins[Math.round(share * FINE_SHARES)]!++;
  const shortest = shares.reduce((least, { step }) => Math.min(least, step), Number.POSITIVE_INFINITY);
  const reach = Math.ceil((SHARE_WIDTH + tolerance / shortest) * FINE_SHARES) + 1;
  let best: { share: number; count: number } | null = null;
  bins.forEach((own, bin) => {
    const around = bins
      .subarray(Math.max(0, bin - reach), bin + reach + 1)
      .reduce((sum, each) => sum + each, 0);
    if (own === 0 || around <= (best?.count ?? 0)) return;
    const share = bin / FINE_SHARES;
    const count = shares.filter((each) => isAbout(each, share, tolerance)).length;
    if (count > (best?.count ?? 0)) best = { share, count };
  });
  return best;
}

const isSwung = ({ literal, even }: Attack): boolean => literal !== undefined && !even;

/** How long a note sounds; in swing as it sounds, not as it is straightened. */
const heldFor = ({ at, until, literal }: SketchNote): Span =>
  literal ? literal.until - literal.at : until - at;

/** From one attack to the next: as written, in swing as it sounds. */
const stepBetween = (one: Attack, next: Attack): Span =>
  isSwung(one) || isSwung(next)
    ? (next.literal ?? next.at) - (one.literal ?? one.at)
    : next.start - one.start;

/** Where the values of notes end that a gate holds for a share of them, if they are values to the tick. */
export function endGated(
  attack: Attack,
  { share, isStrict, isDots }: Gate,
  latest: Moment,
  { starts }: Places,
  frame: Frame,
  swing: SwingMark | undefined,
): ReadonlyMap<SketchNote, Moment> {
  const tolerance = tickTolerance(frame.clock.ticksPerQuarter);
  const ends = new Map<SketchNote, Moment>();
  for (const note of attack.notes) {
    const played = heldFor(note);
    const meant = endOf(attack, played / share, frame, swing);
    const place = nearestPlace(meant, FINE_STEPS);
    // A tick more or less at the release is many of the value where little of it is held.
    const off = (1.5 * tolerance) / share + (SHARE_WIDTH * played) / share;
    if (Math.abs(place - meant) > off || place <= attack.start || place > latest) continue;
    // Where others hold as they like, a release at a good place was meant.
    const isSixteenth = (moment: Moment) => isMultiple(quarterOf(moment, frame).inside, 4);
    const released = nearestPlace(note.until, FINE_STEPS);
    if (isDots && !starts.has(place)) continue;
    const isMeant = Math.abs(released - note.until) <= tolerance && isSixteenth(released);
    if (!isStrict && !starts.has(place) && (isMeant || !isSixteenth(place))) continue;
    ends.set(note, place);
    if (isDots || share < STACCATO) note.staccato = true;
  }
  return ends;
}

/** Where a value of a length ends that begins at an attack: written, from how long it sounds. */
function endOf(attack: Attack, length: Span, frame: Frame, swing: SwingMark | undefined): Moment {
  if (!swing || !isSwung(attack)) return attack.start + length;
  const bar = frame.bars[barIndexOf(frame.bars, attack.start)]!;
  const zero = bar.start - bar.missing;
  return straightMoment(swungMoment(attack.start, zero, swing) + length, zero, swing);
}

/** Whether releases of a programmed part come often where nothing else would make a value. */
export function areGated(
  attacks: readonly Attack[],
  places: Omit<Places, 'areGated'>,
  frame: Frame,
  tidiness: Tidiness,
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
