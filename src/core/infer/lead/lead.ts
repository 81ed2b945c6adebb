import { eachInSteps, type Steps } from '../../basics/steps';
import { secondsAt, tempoAt, tickAt } from '../../model/clock';
import { type Frame, momentOf } from '../../model/frame';
import { beatsOf } from '../../model/meter';
import { barIndexOf, type SwingMark } from '../../model/score';
import type { Strike } from '../../model/sketch';
import { straightMoment, swingInBar } from '../../model/swing';
import { type Moment, QUARTER } from '../../model/time';
import type { Tidiness } from '../attacks/tidiness';
import { type Attacks, attacksOf, shareTogether, usualLag } from './coincidence';
import { type Lead, leadOf, NO_LEAD } from './lead-of';

/** Leads that are considered: from a little behind the beat to well ahead of it, in seconds. */
const EARLIEST = 0.16;
const LATEST = -0.16;
const STEP = 0.008;
const LEADS = Array.from(
  { length: Math.round((EARLIEST - LATEST) / STEP) + 1 },
  (_, at) => LATEST + at * STEP,
);
/** Spread of attacks around a lead, in seconds. */
const SPREAD = 0.02;
/** How likely written music attacks on a bar line, a beat, an eighth, a 16th, anywhere else (log, common practice). */
const ON_BAR = 0;
const ON_BEAT = -0.4;
const ON_EIGHTH = -1.3;
const ON_SIXTEENTH = -2.8;
const ELSEWHERE = -4.5;
/** A lead must explain an attack this much better on average than none does, and all attacks this much (nats). */
const WORTH_EACH = 0.25;
const WORTH_ALL = 8;
/** Fewer attacks prove nothing; more than these add nothing. */
const ENOUGH = 8;
const PLENTY = 240;
/** The weight of attacking together with others, and how well even chance meets them. */
const TOGETHER = 1;
const CHANCE = 0.15;
const BIN = 0.005;
const ROUNDS = 3;
/** A voice that strikes together with others for less than this share does so by chance; by so much more, clearly. */
const SELDOM = 0.2;
const CLEARLY = 0.1;
const LITTLE = 0.03;
/** Programmed, and played, attacks this near to each other are struck together, in seconds. */
const SHARP = 0.006;
const LOOSE = 0.012;
/** A lead that others confirm: so long, of so many attacks, few of which lie on the grid without it; on it is within this, in seconds. */
const LEAST = 0.02;
const MOSTLY = 0.6;
const OFF_GRID = 0.4;
const ON_PLACE = 0.008;

/**
 * Two groups of strikes of one strand, long and short or high and low, have
 * leads of their own if that explains them this much better (nats), the leads
 * differ by this much (seconds), and both are large enough.
 */
const WORTH_TWO = 14;
const APART = 0.04;
/** … but by less than this share of a 16th: what lies a whole slot off is a syncopation. */
const WITHIN_SLOT = 0.75;
const ENOUGH_EACH = 16;
const LONG = [0.3, 0.6] as const;
/** Strikes of a strand that come nearer than this run into each other; leads must not bring more of them together. */
const COLLISION = 0.045;
const MOST_COLLISIONS = 0.03;

/** A part as the search for leads knows it. */
export interface Struck {
  /** For each strand what is struck when, ascending. */
  strikes: readonly (readonly Strike[])[];
  tidiness: Tidiness;
  unpitched: boolean;
  /** Its strands are the hands of one player. */
  isOnePlayer: boolean;
}

/** The hands of one player are no further apart as a whole than this, in seconds. */
const HANDS_APART = 0.05;

/** One strand in the search for leads. */
export interface Voice {
  strikes: readonly Strike[];
  /** Without swing, in seconds. */
  seconds: readonly number[];
  /** Indices of the strikes that are looked at. */
  sample: readonly number[];
  /** For each of the sample what each lead is worth by the meter; null where no lead is thought of. */
  curves: readonly Float64Array[] | null;
  /** A 16th at the middle of it, in seconds. */
  sixteenth: number;
  lead: Lead;
}

/**
 * How far each strand as a whole sounds ahead of the beat, as slow samples are
 * often played. Each lead is judged by where it would put the attacks: near
 * the grid, on strong places rather than weak ones, and together with the
 * other strands' attacks; so a lead as long as a 16th is found too. The strands
 * are settled in turns until none moves.
 *
 * @param swings passages whose swing is taken out first
 * @returns for each part its strands with their leads; none when nothing speaks for one
 */
export function* settleLeads(
  hearings: readonly Struck[],
  frame: Frame,
  swings: readonly SwingMark[],
): Steps<Voice[][]> {
  const voices = yield* eachInSteps(hearings, (hearing) =>
    hearing.strikes.map((strikes) => voiceOf(strikes, isFixed(hearing), frame, swings)),
  );
  const all = voices.flat();
  if (all.some(({ curves }) => curves !== null)) {
    const crowd = crowdOf(all);
    for (let round = 0; round < ROUNDS; round++)
      if (!(yield* eachInSteps(all, (voice) => settle(voice, crowd, all.length === 1))).includes(true)) break;
    hearings.forEach(({ isOnePlayer }, at) => {
      if (isOnePlayer) settleHands(voices[at]!, crowd);
    });
  }
  const unpitched = new Set(hearings.flatMap((hearing, at) => (hearing.unpitched ? voices[at]! : [])));
  const attacks = soundingsOf(all, frame);
  yield* eachInSteps(all.entries(), ([own, voice]) => {
    if (!unpitched.has(voice) && all.length > 1) confirm(voice, own, attacks, frame);
  });
  return voices;
}

/** When each voice strikes, where its lead puts it. */
const soundingsOf = (voices: readonly Voice[], frame: Frame): Attacks =>
  attacksOf(voices.map((voice) => voice.strikes.map((_, index) => soundOf(voice, index, voice.lead, frame))));

/**
 * What a voice strikes together with others to the moment tells more than
 * where it lies: with no lead it has none; with one, and off the grid without
 * it, it has that one, however exactly it was put there.
 */
function confirm(voice: Voice, own: number, attacks: Attacks, frame: Frame): void {
  if (voice.strikes.length < ENOUGH) return;
  const times = voice.sample.map((index) => soundOf(voice, index, NO_LEAD, frame));
  const together = (lag: number, within = SHARP) => shareTogether(attacks, own, times, lag, within);
  const asItIs = together(0);
  const found = -voice.lead.seconds;
  if (found !== 0) {
    const isExact = asItIs >= MOSTLY && together(found) < asItIs + CLEARLY;
    if (isExact || together(0, LOOSE) > together(found, LOOSE) + LITTLE) voice.lead = NO_LEAD;
  }
  if (asItIs > SELDOM) return;
  const lag = usualLag(attacks, own, times);
  const isLate =
    Math.abs(lag) >= LEAST &&
    together(lag) >= MOSTLY &&
    together(lag) > together(-voice.lead.seconds) + CLEARLY &&
    shareOnGrid(times, frame) <= OFF_GRID;
  if (isLate) voice.lead = { seconds: -lag };
}

/** The share of attacks on 16ths and eighth triplets; seconds. */
function shareOnGrid(times: readonly number[], frame: Frame): number {
  const isOn = (time: number) => {
    const tick = tickAt(frame.clock, time);
    const perUnit = tempoAt(frame.clock, tick) / 1e6 / QUARTER;
    const moment = momentOf(frame, tick);
    return [QUARTER / 4, QUARTER / 3].some(
      (step) => Math.abs(moment - Math.round(moment / step) * step) * perUnit <= ON_PLACE,
    );
  };
  return times.filter(isOn).length / times.length;
}

/** Finds the strands that have two leads, for long and short notes or for high and low ones. */
export function* divideLeads(voices: readonly (readonly Voice[])[], frame: Frame): Steps<void> {
  const all = voices.flat();
  if (all.every(({ curves }) => curves === null)) return;
  const crowd = crowdOf(all);
  let attacks: Attacks | undefined;
  yield* eachInSteps(all.entries(), ([own, voice]) => {
    const before = voice.lead;
    divide(voice, crowd);
    if (voice.lead === before) return;
    attacks ??= soundingsOf(all, frame);
    const known = attacks;
    const together = (lead: Lead) =>
      shareTogether(
        known,
        own,
        voice.sample.map((index) => soundOf(voice, index, lead, frame)),
        0,
        LOOSE,
      );
    // What strikes less together with others for it was together before: its places are others.
    if (together(voice.lead) < together(before)) voice.lead = before;
  });
}

/** When a strike sounds, in seconds, moved to where a lead puts it. */
const soundOf = ({ strikes }: Voice, index: number, lead: Lead, { clock }: Frame): number =>
  secondsAt(clock, strikes[index]!.tick) + leadOf(lead, strikes[index]!);

function crowdOf(voices: readonly Voice[]): Crowd {
  const crowd = new Crowd(voices.map(({ seconds }) => seconds));
  for (const { seconds, lead } of voices) {
    if (lead.seconds === 0) continue;
    crowd.take(seconds, 0, -1);
    crowd.take(seconds, lead.seconds, 1);
  }
  return crowd;
}

function voiceOf(
  strikes: readonly Strike[],
  fixed: boolean,
  frame: Frame,
  swings: readonly SwingMark[],
): Voice {
  const seconds = strikes.map(({ tick }) => secondsAt(frame.clock, straightTick(tick, frame, swings)));
  const stride = Math.ceil(strikes.length / PLENTY);
  const sample = [...strikes.keys()].filter((index) => index % stride === 0);
  const curves =
    fixed || sample.length < ENOUGH ? null : sample.map((index) => likelihoods(seconds[index]!, frame));
  const middle = strikes[strikes.length >> 1]?.tick ?? 0;
  return { strikes, seconds, sample, curves, sixteenth: tempoAt(frame.clock, middle) / 4e6, lead: NO_LEAD };
}

/** What each lead is worth for some of a voice's sample (indices into it), with the others around. */
function worthOf({ curves, seconds, sample }: Voice, some: readonly number[], crowd: Crowd): number[] {
  return LEADS.map((lead, at) =>
    some.reduce(
      (sum, each) =>
        sum + curves![each]![at]! + TOGETHER * Math.log(CHANCE + crowd.at(seconds[sample[each]!]! + lead)),
      0,
    ),
  );
}

/**
 * Settles the lead of one voice among the others; true if it moved.
 * @param isAlone there are no others: a whole slot off the beat is where it is written, since nobody says otherwise
 */
function settle(voice: Voice, crowd: Crowd, isAlone: boolean): boolean {
  const { curves, sample, seconds, sixteenth } = voice;
  if (!curves) return false;
  crowd.take(seconds, voice.lead.seconds, -1);
  const before = voice.lead.seconds;
  const worth = worthOf(voice, [...sample.keys()], crowd);
  voice.lead = { seconds: bestLead(worth, sample.length, isAlone ? WITHIN_SLOT * sixteenth : EARLIEST) };
  crowd.take(seconds, voice.lead.seconds, 1);
  return voice.lead.seconds !== before;
}

/** Hands that would be too far apart for one player have one lead: what is a slot ahead of the other is syncopated. */
function settleHands(hands: readonly Voice[], crowd: Crowd): void {
  const free = hands.filter(({ curves }) => curves !== null);
  const leads = free.map(({ lead }) => lead.seconds);
  if (free.length < 2 || Math.max(...leads) - Math.min(...leads) <= HANDS_APART) return;
  for (const { seconds, lead } of free) crowd.take(seconds, lead.seconds, -1);
  const worths = free.map((voice) => worthOf(voice, [...voice.sample.keys()], crowd));
  const together = LEADS.map((_, at) => worths.reduce((sum, own) => sum + own[at]!, 0));
  const seconds = bestLead(
    together,
    free.reduce((sum, { sample }) => sum + sample.length, 0),
  );
  for (const voice of free) {
    voice.lead = seconds === 0 ? NO_LEAD : { seconds };
    crowd.take(voice.seconds, seconds, 1);
  }
}

/** Gives a voice two leads where its notes fall into two groups that sound differently far from the beat. */
function divide(voice: Voice, crowd: Crowd): void {
  const { curves, sample, seconds, strikes, lead } = voice;
  if (!curves || sample.length < 2 * ENOUGH_EACH) return;
  crowd.take(seconds, lead.seconds, -1);
  const keys = strikes.map(({ key }) => key).sort((a, b) => a - b);
  const ways = [
    ...LONG.map((from) => ({ by: 'held' as const, from })),
    { by: 'key' as const, from: keys[keys.length >> 1]! },
  ];
  let gain = WORTH_TWO;
  for (const { by, from } of ways) {
    const [low, high] = [false, true].map((isHigh) =>
      [...sample.keys()].filter((each) => strikes[sample[each]!]![by] >= from === isHigh),
    ) as [number[], number[]];
    if (Math.min(low.length, high.length) < ENOUGH_EACH) continue;
    const [worthLow, worthHigh] = [worthOf(voice, low, crowd), worthOf(voice, high, crowd)];
    const best = (worth: readonly number[]) => worth.indexOf(Math.max(...worth));
    const both = worthLow.map((worth, at) => worth + worthHigh[at]!);
    const [atLow, atHigh, joint] = [best(worthLow), best(worthHigh), best(both)];
    const more = worthLow[atLow]! + worthHigh[atHigh]! - both[joint]!;
    const divided = { seconds: LEADS[atLow]!, other: { by, from, seconds: LEADS[atHigh]! } };
    const difference = Math.abs(LEADS[atLow]! - LEADS[atHigh]!);
    if (more <= gain || difference < APART || difference > WITHIN_SLOT * voice.sixteenth) continue;
    if (collisions(voice, divided) > collisions(voice, lead) + MOST_COLLISIONS) continue;
    gain = more;
    voice.lead = divided;
  }
  crowd.take(seconds, lead.seconds, 1);
}

/** The share of a voice's strikes that come too soon after another, or before it, under a lead. */
function collisions({ strikes, seconds }: Voice, lead: Lead): number {
  let count = 0;
  for (let index = 1; index < strikes.length; index++) {
    const before = seconds[index - 1]! + leadOf(lead, strikes[index - 1]!);
    if (seconds[index]! + leadOf(lead, strikes[index]!) - before < COLLISION) count++;
  }
  return count / strikes.length;
}

/** A tick as it would be if the piece were straight. */
function straightTick(tick: number, frame: Frame, swings: readonly SwingMark[]): number {
  const moment = momentOf(frame, tick);
  const bar = frame.bars[barIndexOf(frame.bars, moment)]!;
  const swing = swingInBar(swings, bar.index);
  if (!swing) return tick;
  const straight = straightMoment(moment, bar.start - bar.missing, swing);
  return tick + ((straight - moment) / QUARTER) * frame.clock.ticksPerQuarter;
}

/** A written part has no lead, and drums are what the beat is heard by. */
const isFixed = ({ tidiness, unpitched }: Struck): boolean => tidiness.attacks || unpitched;

/** @param farthest seconds that a lead may have */
function bestLead(total: readonly number[], attacks: number, farthest = EARLIEST): number {
  const zero = total[Math.round(-LATEST / STEP)]!;
  let best = Math.round(-LATEST / STEP);
  total.forEach((score, index) => {
    if (score > total[best]! && Math.abs(LEADS[index]!) <= farthest + STEP / 2) best = index;
  });
  const gain = total[best]! - zero;
  return gain > WORTH_ALL && gain > WORTH_EACH * attacks ? LEADS[best]! : 0;
}

/** How many parts attack around a moment, as a smoothed count over time. */
class Crowd {
  private readonly density: Float32Array;
  private readonly reach = Math.ceil((3 * SPREAD) / BIN);
  private readonly shape: number[];
  private parts = 0;

  constructor(all: readonly (readonly number[])[]) {
    const last = all.reduce((latest, times) => Math.max(latest, times.at(-1) ?? 0), 0);
    this.density = new Float32Array(Math.ceil((last + 2) / BIN) + 2 * this.reach);
    this.shape = Array.from({ length: 2 * this.reach + 1 }, (_, index) => {
      const away = ((index - this.reach) * BIN) / (SPREAD * 1.4);
      return Math.exp((-away * away) / 2);
    });
    for (const times of all) this.take(times, 0, 1);
  }

  /** Adds (1) or takes out (−1) a part's attacks under a lead. */
  take(times: readonly number[], lead: number, sign: 1 | -1): void {
    this.parts += sign;
    for (const time of times) {
      const from = Math.round((time + lead) / BIN) - this.reach;
      for (let index = 0; index < this.shape.length; index++) {
        const bin = from + index;
        if (bin >= 0 && bin < this.density.length) this.density[bin]! += sign * this.shape[index]!;
      }
    }
  }

  /** From 0 to 1: nobody … all others attack here. */
  at(time: number): number {
    const value = this.density[Math.round(time / BIN)] ?? 0;
    return Math.min(1, Math.max(0, value) / Math.max(1, this.parts * 0.7));
  }
}

/** How likely an attack is written where each lead would put it (log); the tempo is taken to hold so long. */
function likelihoods(seconds: number, frame: Frame): Float64Array {
  const { clock } = frame;
  const tick = tickAt(clock, Math.max(0, seconds));
  const perUnit = tempoAt(clock, tick) / 1e6 / QUARTER;
  const moment = momentOf(frame, tick);
  const out = new Float64Array(LEADS.length);
  for (let at = 0; at < out.length; at++)
    out[at] = likelihood(Math.max(0, moment + LEADS[at]! / perUnit), perUnit / SPREAD, frame);
  return out;
}

/** @param scale deviations for one unit of score time */
function likelihood(moment: Moment, scale: number, frame: Frame): number {
  const bar = frame.bars[barIndexOf(frame.bars, moment)]!;
  const zero = bar.start - bar.missing;
  const end = bar.start + bar.length;
  const worth = (place: Moment, prior: number): number => prior - ((place - moment) * scale) ** 2 / 2;
  const nearest = (step: number): Moment => zero + Math.round((moment - zero) / step) * step;
  let best = Math.max(
    ELSEWHERE,
    worth(end, ON_BAR),
    worth(nearest(QUARTER / 2), ON_EIGHTH),
    worth(nearest(QUARTER / 4), ON_SIXTEENTH),
  );
  for (const { start } of beatsOf(bar))
    best = Math.max(best, worth(zero + start, start === 0 ? ON_BAR : ON_BEAT));
  return best;
}
