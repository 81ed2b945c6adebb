import type { Frame } from '../../model/frame';
import { barIndexOf, type SwingMark } from '../../model/score';
import type { Attack, SketchNote } from '../../model/sketch';
import { straightMoment, swungMoment } from '../../model/swing';
import { type Moment, QUARTER, type Span } from '../../model/time';
import { FINE_STEPS, nearestPlace, type Tidiness, tickTolerance } from '../attacks/tidiness';
import { isMultiple, isPlace, type Places, quarterOf } from './places';

/** Held for less than this share of its value, a note is staccato. */
export const STACCATO = 0.45;

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

export interface Gate {
  /** Of its value that a note is held. */
  share: number;
  /** So hold all but a few notes: those before rests do, too. */
  isStrict: boolean;
}

/**
 * The share of their values for which a programmed part holds its notes, the
 * same for short and long ones, as sequencers' gates do; null where there is none.
 */
export function gateOf(attacks: readonly Attack[], frame: Frame): Gate | null {
  const shares = attacks.flatMap((attack, index) => {
    const next = attacks[index + 1];
    const step = next ? stepBetween(attack, next) : 0;
    if (step <= 0 || step > 4 * QUARTER) return [];
    return attack.notes.map((note) => ({ step, share: heldFor(note) / step }));
  });
  if (shares.length < GATED) return null;
  const tick = tickTolerance(frame.clock.ticksPerQuarter);
  const isAbout = (each: (typeof shares)[number], share: number) =>
    Math.abs(each.share - share) <= SHARE_WIDTH + tick / each.step;
  let best = { share: 1, count: 0 };
  // Held for longer than its value is no gate, so there are few shares to try: those with enough around them.
  const bins = new Uint32Array(FINE_SHARES + 1);
  for (const { share } of shares) if (share <= 1) bins[Math.round(share * FINE_SHARES)]!++;
  const shortest = shares.reduce((least, { step }) => Math.min(least, step), Number.POSITIVE_INFINITY);
  const reach = Math.ceil((SHARE_WIDTH + tick / shortest) * FINE_SHARES) + 1;
  bins.forEach((own, bin) => {
    const around = bins
      .subarray(Math.max(0, bin - reach), bin + reach + 1)
      .reduce((sum, each) => sum + each, 0);
    if (own === 0 || around < SAME_SHARE * shares.length) return;
    const share = bin / FINE_SHARES;
    const count = shares.filter((each) => isAbout(each, share)).length;
    if (count > best.count) best = { share, count };
  });
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
  { share, isStrict }: Gate,
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
    const isMeant = Math.abs(released - note.until) <= tolerance && isSixteenth(released);
    if (!isStrict && !starts.has(place) && (isMeant || !isSixteenth(place))) continue;
    ends.set(note, place);
    if (share < STACCATO) note.staccato = true;
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
