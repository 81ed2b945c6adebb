import { lateness } from '../infer/lead/lateness';
import { leadOf } from '../infer/lead/lead-of';
import { beatWords } from '../model/beat-words';
import { tempoAt } from '../model/clock';
import { type Frame, momentOf } from '../model/frame';
import type { EventId } from '../model/ids';
import { barIndexOf } from '../model/score';
import type { Alternative, Attack, SketchNote } from '../model/sketch';
import { swingInBar } from '../model/swing';
import { type Moment, QUARTER } from '../model/time';
import type { PartReading, Transcription } from '../transcribe';

/** A reading is narrow when the next best is less than this much worse, in nats (about 1 in 5). */
export const NARROW = 1.5;

/** A place in the score: index of the bar, quarter notes from its start, and in words ("beat 2, last 16th"). */
export interface ScorePlace {
  bar: number;
  moment: Moment;
  quarters: number;
  words: string;
}

/** Why a note is written where it is. */
export interface NoteReading {
  note: EventId;
  /** Index of the part. */
  part: number;
  start: ScorePlace;
  end: ScorePlace;
  grace: boolean;
  /** Written place to played attack, lead and swing taken out: positive for late. */
  milliseconds: number;
  ticks: number;
  /** Played place without anything taken out, in quarter notes from the start of the bar. */
  played: ScorePlace;
  /** Slots of the beat, or 0 where nothing was fitted. */
  division: number;
  /** How much worse the next best reading would be, in nats; null where nothing was weighed. */
  margin: number | null;
  alternatives: (ScorePlace & { grace: boolean; worse: number })[];
  /** Milliseconds of its lead and of the part's usual spread. */
  lead: number;
  spread: number;
  swing: number | null;
  staccato: boolean;
  legato: boolean;
}

export const placeOf = (frame: Frame, moment: Moment): ScorePlace => {
  const bar = barIndexOf(frame.bars, moment);
  const own = frame.bars[bar]!;
  const within = moment - own.start;
  return { bar, moment, quarters: within / QUARTER, words: beatWords(own, within) };
};

/** The part that a note of the source is written in, how, and with which attack. */
export function findReading(
  { readings }: Pick<Transcription, 'readings'>,
  note: EventId,
): { part: number; reading: PartReading; written: SketchNote; attack: Attack } | null {
  for (const [part, reading] of readings.entries()) {
    const written = reading.notes.get(note);
    const attack = reading.attacks.find((each) => each.notes.some((own) => own.sources.includes(note)));
    if (written && attack) return { part, reading, written, attack };
  }
  return null;
}

/** Everything that is known of how a note was read; null where it is not in the score. */
export function explainNote(result: Transcription, note: EventId): NoteReading | null {
  const found = findReading(result, note);
  if (!found) return null;
  const { frame, swings } = result;
  const { part, reading, written, attack } = found;
  const perUnit = tempoAt(frame.clock, written.on) / 1e6 / QUARTER;
  const away = lateness(attack, frame, swings, written);
  const start = placeOf(frame, written.start);
  return {
    note,
    part,
    start,
    end: placeOf(frame, written.end),
    grace: written.grace ?? false,
    milliseconds: 1000 * away * perUnit,
    ticks: Math.round((away / QUARTER) * frame.clock.ticksPerQuarter),
    played: placeOf(frame, momentOf(frame, written.on)),
    division: attack.pinned === undefined ? attack.division : 0,
    margin: Number.isFinite(attack.margin) ? attack.margin : null,
    alternatives: attack.alternatives.map((each: Alternative) => ({
      ...placeOf(frame, each.start),
      grace: each.grace,
      worse: each.worse,
    })),
    lead: 1000 * leadOf(reading.leads[written.strike.strand]!, written.strike),
    spread: 1000 * reading.sigma,
    swing: swingInBar(swings, start.bar)?.ratio ?? null,
    staccato: written.staccato ?? false,
    legato: written.legato ?? false,
  };
}
