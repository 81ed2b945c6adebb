import { instrumentOf } from '../instruments/catalogue';
import type { MeterChange, TempoChange } from '../model/clock';
import type { KeyChange } from '../model/performance';
import type { Part, Score } from '../model/score';
import { type Moment, QUARTER, type Span } from '../model/time';
import type { PlayedBar } from './bar-order';
import { keyChanges, markersOf, meterChanges, tempoChanges, USUAL_PACE } from './clock';
import { MarkCount } from './count';
import { courseOf } from './course';
import { playPart, type Sounding } from './part';
import { ALL_PLAYED, type PerformSettings } from './settings';
import { bendsOf, curveOf, type PlayedShaping, pedalOf } from './shaping';
import { withoutTablature } from './tablature';
import { temposOf } from './tempo';

/** A note as a score is played: ticks from the start of the playing, sounding key. */
export interface PerformedNote extends Omit<Sounding, 'from' | 'to'> {
  on: number;
  off: number;
}

/** A part as it is played. */
export interface PerformedPart {
  part: Part;
  notes: PerformedNote[];
  shaping: PlayedShaping[];
  lyrics: { tick: number; text: string }[];
}

/** A score as it is played. */
export interface Performed {
  ticksPerQuarter: number;
  tempos: TempoChange[];
  meters: MeterChange[];
  keys: KeyChange[];
  /** Rehearsal marks. */
  markers: { tick: number; text: string }[];
  /** In the order of the score. */
  parts: PerformedPart[];
  order: readonly PlayedBar[];
  end: number;
  /** What became of marks, by kind: how many sound, and as what. */
  became: ReadonlyMap<string, { count: number; as: string }>;
  /** Marks that are not played out, by name. */
  silent: ReadonlyMap<string, number>;
}

/**
 * Performance = perform(Score): the bars in their order, written pitch as it
 * sounds, ties joined, grace notes before the beat, dynamics as velocity or as
 * a curve, articulation as length, slurs as overlap, fermatas and tempos as tempo.
 */
export function performScore(score: Score, settings: PerformSettings = ALL_PLAYED): Performed {
  const course = courseOf(score, settings.repeats);
  const { tickOf } = course;
  const count = new MarkCount(settings);
  const overlapAt = overlapOf(score, settings);
  const played = score.parts.map((part) => {
    count.countPart(part);
    return { part, ...playPart(score, withoutTablature(part), settings, course, overlapAt) };
  });
  const fermatas = played.flatMap((part) => part.fermatas);
  return {
    ticksPerQuarter: course.ticksPerQuarter,
    tempos: tempoChanges(score, settings, course, fermatas),
    meters: meterChanges(score, course),
    keys: keyChanges(score, course),
    markers: markersOf(score, course),
    parts: played.map(({ part, notes, lyrics, slides }) => ({
      part,
      notes: notes
        .map(({ from, to, ...note }) => ({
          ...note,
          on: tickOf(from),
          off: Math.max(tickOf(from) + 1, tickOf(to)),
        }))
        .sort((a, b) => a.on - b.on || a.key - b.key),
      shaping: [
        ...(settings.dynamics === 'curve' || settings.dynamics === 'both'
          ? curveOf(score, part, course, settings.curve)
          : []),
        ...(settings.pedal ? pedalOf(score, part, course) : []),
        ...bendsOf(slides, course),
      ],
      lyrics: lyrics.map(({ at, text }) => ({ tick: tickOf(at), text })),
    })),
    order: course.order,
    end: tickOf(course.end),
    became: count.became,
    silent: count.silent,
  };
}

/** How long a note under a slur sounds into the next, by the tempo at its written moment. */
function overlapOf(score: Score, { slurOverlap, gradual }: PerformSettings): (written: Moment) => Span {
  const tempos = temposOf(score, gradual);
  return (written) => {
    const pace = tempos.findLast(({ at }) => at <= written)?.quartersPerMinute ?? USUAL_PACE;
    return Math.round((slurOverlap / 60_000) * pace * QUARTER);
  };
}

/** Whether a part is played on the percussion channel. */
export const isUnpitched = (part: Part): boolean => instrumentOf(part.instrument).unpitched;
