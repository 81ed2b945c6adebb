import { secondsAt, tickAt } from '../performance/clock';
import { beatsOf } from '../score/meter';
import type { SwingMark } from '../score/score';
import { straighten, swingInBar, warpBeat } from '../score/swing';
import { QUARTER } from '../score/time';
import { barIndexOf, type Frame, momentOf } from './frame';
import type { Hearing } from './hear';

/** Leads that are considered: from a little behind the beat to well ahead of it, in seconds. */
const EARLIEST = 0.16;
const LATEST = -0.08;
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

/**
 * How far each part as a whole sounds ahead of the beat, as slow samples are
 * often played. Each lead is judged by where it would put the attacks: near
 * the grid, on strong places rather than weak ones, and together with the
 * other parts' attacks; so a lead as long as a 16th is found too. The parts
 * are settled in turns until none moves.
 *
 * @param swings passages whose swing is taken out first
 * @returns seconds ahead of the beat (negative: behind) for each part, 0 when nothing speaks for a lead
 */
export function settleLeads(
  hearings: readonly Hearing[],
  frame: Frame,
  swings: readonly SwingMark[],
): number[] {
  const leads = hearings.map(() => 0);
  const seconds = hearings.map(({ onsets }) =>
    onsets.map((tick) => secondsAt(frame.clock, straightTick(tick, frame, swings))),
  );
  const samples = seconds.map((all) => {
    const stride = Math.ceil(all.length / PLENTY);
    return all.filter((_, index) => index % stride === 0);
  });
  const metrical = samples.map((sample, part) =>
    isFixed(hearings[part]!) || sample.length < ENOUGH
      ? null
      : LEADS.map((lead) => sample.reduce((sum, at) => sum + attackScore(at + lead, frame), 0)),
  );
  if (metrical.every((curve) => curve === null)) return leads;
  const crowd = new Crowd(seconds);
  for (let round = 0; round < ROUNDS; round++) {
    let moved = false;
    metrical.forEach((curve, part) => {
      if (!curve) return;
      crowd.take(seconds[part]!, leads[part]!, -1);
      const sample = samples[part]!;
      const total = LEADS.map(
        (lead, index) =>
          curve[index]! +
          TOGETHER * sample.reduce((sum, at) => sum + Math.log(CHANCE + crowd.at(at + lead)), 0),
      );
      const best = bestLead(total, sample.length);
      if (best !== leads[part]) moved = true;
      leads[part] = best;
      crowd.take(seconds[part]!, best, 1);
    });
    if (!moved) break;
  }
  return leads;
}

/** A tick as it would be if the piece were straight. */
function straightTick(tick: number, frame: Frame, swings: readonly SwingMark[]): number {
  const moment = momentOf(frame, tick);
  const bar = frame.bars[barIndexOf(frame.bars, moment)]!;
  const swing = swingInBar(swings, bar.index);
  if (!swing) return tick;
  const straight = warpBeat(moment, bar.start - bar.missing, (phase) => straighten(phase, swing.ratio));
  return tick + ((straight - moment) / QUARTER) * frame.clock.ticksPerQuarter;
}

/** A written part has no lead, and drums are what the beat is heard by. */
const isFixed = ({ tidiness, unpitched }: Hearing): boolean => tidiness.attacks || unpitched;

function bestLead(total: readonly number[], attacks: number): number {
  const zero = total[Math.round(-LATEST / STEP)]!;
  let best = 0;
  total.forEach((score, index) => {
    if (score > total[best]!) best = index;
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
      this.shape.forEach((value, index) => {
        const bin = from + index;
        if (bin >= 0 && bin < this.density.length) this.density[bin]! += sign * value;
      });
    }
  }

  /** From 0 to 1: nobody … all others attack here. */
  at(time: number): number {
    const value = this.density[Math.round(time / BIN)] ?? 0;
    return Math.min(1, Math.max(0, value) / Math.max(1, this.parts * 0.7));
  }
}

function attackScore(seconds: number, frame: Frame): number {
  const { clock } = frame;
  const tick = tickAt(clock, Math.max(0, seconds));
  const moment = momentOf(frame, tick);
  let best = ELSEWHERE;
  for (const [place, prior] of placesNear(moment, frame)) {
    const away = ((place - moment) / QUARTER) * clock.ticksPerQuarter;
    const deviation = (secondsAt(clock, Math.max(0, tick + away)) - secondsAt(clock, tick)) / SPREAD;
    best = Math.max(best, prior - (deviation * deviation) / 2);
  }
  return best;
}

/** The bar line, beat, eighth and 16th nearest to a moment, with how likely an attack is there. */
function placesNear(moment: number, frame: Frame): [place: number, prior: number][] {
  const bar = frame.bars[barIndexOf(frame.bars, moment)]!;
  const zero = bar.start - bar.missing;
  const end = bar.start + bar.length;
  let beat = end;
  for (const { start } of beatsOf(bar))
    if (Math.abs(zero + start - moment) < Math.abs(beat - moment)) beat = zero + start;
  const nearest = (step: number) => zero + Math.round((moment - zero) / step) * step;
  return [
    [beat, beat === end || beat === zero ? ON_BAR : ON_BEAT],
    [nearest(QUARTER / 2), ON_EIGHTH],
    [nearest(QUARTER / 4), ON_SIXTEENTH],
  ];
}
