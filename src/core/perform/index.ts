import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import { whole } from '../basics/same';
import { instrumentOf } from '../instruments/catalogue';
import type { MeterChange, TempoChange } from '../model/clock';
import type { KeyChange } from '../model/performance';
import type { Part, Score } from '../model/score';
import { type Moment, QUARTER, type Span } from '../model/time';
import type { PlayedBar } from './bar-order';
import { keyChanges, markersOf, meterChanges, tempoChanges, USUAL_PACE } from './clock';
import { MarkCount } from './count';
import { courseOf, resolutionOf, unitOf } from './course';
import { playPart, type Sounding } from './part';
import { ALL_PLAYED, type PerformSettings } from './settings';
import { bendsOf, curveOf, type PlayedShaping, pedalOf } from './shaping';
import { withoutTablature } from './tablature';
import { temposOf, type WrittenTempo } from './tempo';

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
  /** The tick at which the last of it happens. */
  last: number;
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
  const { parts, ...head } = score;
  const ticksPerQuarter = resolutionOf(parts.map((part) => remembered(part, UNIT, { part })));
  const course = courseOf(score.bars, settings.repeats, ticksPerQuarter);
  const count = new MarkCount(settings);
  const tempos = temposOf(score, settings.gradual);
  const played = parts.map((part) => {
    count.countPart(part);
    return remembered(part, PLAYED, { part, head, settings, ticksPerQuarter, tempos });
  });
  const fermatas = played.flatMap((part) => part.fermatas);
  return {
    ticksPerQuarter,
    tempos: tempoChanges(score, settings, course, fermatas),
    meters: meterChanges(score, course),
    keys: keyChanges(score, course),
    markers: markersOf(score, course),
    parts: played.map(({ performed }) => performed),
    order: course.order,
    end: course.tickOf(course.end),
    became: count.became,
    silent: count.silent,
  };
}

const UNIT = node('unit', ({ part }: { part: Part }) => unitOf(part));

/** What of its score a part needs to be played, beside itself. */
interface Playing {
  part: Part;
  head: Omit<Score, 'parts'>;
  settings: PerformSettings;
  ticksPerQuarter: number;
  tempos: readonly WrittenTempo[];
}

/** Parts are played each by itself: one that is as it was is not played again. */
const PLAYED = node('played part', ({ part, head, settings, ticksPerQuarter, tempos }: Playing) => {
  const score: Score = { ...head, parts: [] };
  const course = courseOf(score.bars, settings.repeats, ticksPerQuarter);
  const { tickOf } = course;
  const overlapAt = overlapOf(tempos, settings);
  const { notes, lyrics, slides, fermatas } = playPart(
    score,
    withoutTablature(part),
    settings,
    course,
    overlapAt,
  );
  const sounding = notes
    .map(({ from, to, ...note }) => ({
      ...note,
      on: tickOf(from),
      off: Math.max(tickOf(from) + 1, tickOf(to)),
    }))
    .sort((a, b) => a.on - b.on || a.key - b.key);
  const shaping = [
    ...(settings.dynamics === 'curve' || settings.dynamics === 'both'
      ? curveOf(score, part, course, settings.curve)
      : []),
    ...(settings.pedal ? pedalOf(score, part, course) : []),
    ...bendsOf(slides, course),
  ];
  const sung = lyrics.map(({ at, text }) => ({ tick: tickOf(at), text }));
  const last = [...shaping, ...sung].reduce(
    (latest, { tick }) => Math.max(latest, tick),
    sounding.reduce((latest, { off }) => Math.max(latest, off), 0),
  );
  const performed: PerformedPart = { part, notes: sounding, shaping, lyrics: sung, last };
  return { performed: whole(performed), fermatas };
});

/** The tempos of a score where nobody slows down, hurries or holds: what the rest is measured by. */
export const steadyTempos = (score: Score, { repeats }: Pick<PerformSettings, 'repeats'>): TempoChange[] =>
  tempoChanges(
    score,
    { gradual: false },
    courseOf(score.bars, repeats, resolutionOf(score.parts.map(unitOf))),
    [],
  );

/** How long a note under a slur sounds into the next, by the tempo at its written moment. */
function overlapOf(
  tempos: readonly WrittenTempo[],
  { slurOverlap }: PerformSettings,
): (written: Moment) => Span {
  return (written) => {
    const pace = tempos.findLast(({ at }) => at <= written)?.quartersPerMinute ?? USUAL_PACE;
    return Math.round((slurOverlap / 60_000) * pace * QUARTER);
  };
}

/** Whether a part is played on the percussion channel. */
export const isUnpitched = (part: Part): boolean => instrumentOf(part.instrument).unpitched;
