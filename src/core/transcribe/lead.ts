import { secondsAt, tickAt } from '../performance/clock';
import { beatsOf } from '../score/meter';
import { QUARTER } from '../score/time';
import { barIndexOf, type Frame, momentOf } from './frame';
import type { SketchNote } from './sketch';

/** Leads that are considered: from a little behind the beat to well ahead of it, in milliseconds. */
const EARLIEST = 160;
const LATEST = -60;
const STEP = 4;
/** Spread of attacks around a lead, in seconds. */
const SPREAD = 0.014;
/** How likely written music attacks on a beat, an eighth, a 16th, anywhere else (log, common practice). */
const ON_BEAT = 0;
const ON_EIGHTH = -0.9;
const ON_SIXTEENTH = -2.2;
const ELSEWHERE = -5;
/** A lead must explain an attack this much better on average than none does (nats). */
const WORTH = 0.5;
/** Fewer attacks prove nothing; more than these add nothing. */
const ENOUGH = 8;
const PLENTY = 400;

/**
 * Step 4: how far the part as a whole sounds ahead of the beat, as slow
 * samples are often played. Each lead is judged by where it would put the
 * attacks: near the grid, and on strong places rather than weak ones; so a
 * lead as long as a 16th is found too.
 *
 * @returns seconds ahead of the beat (negative: behind), 0 when nothing speaks for a lead
 */
export function estimateLead(notes: readonly SketchNote[], frame: Frame): number {
  const onsets = [...new Set(notes.map((note) => note.on))];
  if (onsets.length < ENOUGH) return 0;
  const stride = Math.ceil(onsets.length / PLENTY);
  const seconds = onsets
    .filter((_, index) => index % stride === 0)
    .map((tick) => secondsAt(frame.clock, tick));
  const score = (lead: number) => {
    let sum = 0;
    for (const at of seconds) sum += attackScore(at + lead, frame);
    return sum / seconds.length;
  };
  const without = score(0);
  let best = 0;
  let bestScore = without;
  for (let lead = LATEST; lead <= EARLIEST; lead += STEP) {
    const found = score(lead / 1000);
    if (found > bestScore) {
      best = lead / 1000;
      bestScore = found;
    }
  }
  return bestScore - without > WORTH ? best : 0;
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

/** The beat, eighth and 16th nearest to a moment, with how likely an attack is there. */
function placesNear(moment: number, frame: Frame): [place: number, prior: number][] {
  const bar = frame.bars[barIndexOf(frame.bars, moment)]!;
  const zero = bar.start - bar.missing;
  const beats = beatsOf(bar);
  const starts = [...beats.map((beat) => zero + beat.start), bar.start + bar.length];
  const beat = starts.reduce((a, b) => (Math.abs(b - moment) < Math.abs(a - moment) ? b : a));
  const nearest = (step: number) => zero + Math.round((moment - zero) / step) * step;
  return [
    [beat, ON_BEAT],
    [nearest(QUARTER / 2), ON_EIGHTH],
    [nearest(QUARTER / 4), ON_SIXTEENTH],
  ];
}

/** The notes moved by a lead, so that what sounded early stands on its beat. */
export function withoutLead(notes: readonly SketchNote[], lead: number, frame: Frame): SketchNote[] {
  if (lead === 0) return [...notes];
  const { clock } = frame;
  const moved = (tick: number) => Math.max(0, tickAt(clock, Math.max(0, secondsAt(clock, tick) + lead)));
  return notes.map((note) => ({ ...note, on: moved(note.on), off: moved(note.off) }));
}
