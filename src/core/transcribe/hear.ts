import { DEFAULT_GRID } from '../brief/decisions';
import { secondsAt, tempoAt, tickAt } from '../performance/clock';
import type { Strand } from '../performance/performance';
import type { PartPlan } from '../roster/route';
import type { SwingMark } from '../score/score';
import { straighten, swingInBar, warpBeat } from '../score/swing';
import { type Moment, QUARTER } from '../score/time';
import { gatherAttacks, isChordal } from './attacks';
import type { Beat } from './beats';
import type { Decided } from './choices';
import { fitRhythm, type RhythmFit } from './fit-rhythm';
import type { Played } from './fit-span';
import { barIndexOf, type Frame, momentOf } from './frame';
import { splitHands } from './hands';
import type { Attack, SketchNote } from './sketch';
import { exactPlace, measureTidiness, type Tidiness } from './tidiness';

/** A part as it came: its notes in bodies that are read by themselves, and how tidily it was played. */
export interface Hearing {
  strands: readonly Strand[];
  /** All notes, or those of each hand: two strands on two staves are hands already. */
  bodies: SketchNote[][];
  staves: 1 | 2;
  singleLine: boolean;
  unpitched: boolean;
  tidiness: Tidiness;
  /** Distinct onsets in ticks, ascending. */
  onsets: number[];
}

/** A body of notes with its attacks and their first reading. */
export interface Body {
  staff: 1 | 2;
  attacks: Attack[];
  fit: RhythmFit;
}

/** A part on its first hearing, heard by itself. */
export interface FirstHearing {
  bodies: Body[];
  /** Seconds ahead of the beat, refined by the fit. */
  lead: number;
  /** Learned standard deviation of an attack, in seconds. */
  sigma: number;
  /** Equal for hearings that came to the same places. */
  signature: number;
}

/** Expected spread of a written attack, where a played one starts from, and its bounds; in seconds. */
const WRITTEN_SIGMA = 0.002;
const FIRST_SIGMA = 0.02;
const PLAYED_SIGMA = [0.005, 0.04] as const;
/** How often the spread is learned anew, and from how many notes of a body. */
const ROUNDS = 2;
const SAMPLE = 500;

/** Whether a sounding key can be written for an instrument: C0 to B9. */
const isWritable = (key: number, plan: PartPlan): boolean => {
  const written = key - plan.instrument.transposition.chromatic;
  return plan.instrument.unpitched || (written >= 12 && written <= 131);
};

/** Takes up the notes of a part. */
export function hear(plan: PartPlan, strands: ReadonlyMap<string, Strand>, frame: Frame): Hearing {
  const own = plan.strands.map((id) => strands.get(id)!);
  const bodies = own.map((strand) =>
    strand.notes
      .filter((note) => isWritable(note.key, plan))
      .map(
        (note): SketchNote => ({
          id: note.id,
          key: note.key,
          velocity: note.velocity,
          on: note.on,
          off: note.off,
          at: momentOf(frame, note.on),
          until: momentOf(frame, note.off),
          start: 0,
          end: 0,
          staff: 1,
          voice: 1,
          sources: [note.id],
        }),
      ),
  );
  const all = bodies.flat();
  const tidiness = measureTidiness(all, frame);
  return {
    strands: own,
    bodies: plan.staves === 1 ? [all] : bodies.length === 2 ? bodies : handsOf(all, frame, tidiness),
    staves: plan.staves,
    singleLine: plan.instrument.singleLine,
    unpitched: plan.instrument.unpitched,
    tidiness,
    onsets: [...new Set(all.map((note) => note.on))].sort((a, b) => a - b),
  };
}

/** The notes of each hand, told apart. */
function handsOf(notes: readonly SketchNote[], frame: Frame, tidiness: Tidiness): SketchNote[][] {
  const attacks = gatherAttacks(
    notes.map((note) => ({ ...note })),
    frame,
    tidiness.attacks,
  );
  splitHands(attacks);
  const staffOf = new Map<string, number>();
  for (const attack of attacks)
    for (const note of attack.notes) for (const id of note.sources) staffOf.set(id, note.staff);
  return [1, 2].map((staff) => notes.filter((note) => staffOf.get(note.id) === staff));
}

/** Seconds for one unit of score time at a tick. */
export const secondsPerUnit = (frame: Frame) => (tick: number) => tempoAt(frame.clock, tick) / 1e6 / QUARTER;

/** The notes of a body with lead and swing taken out of their times. */
function settled(
  notes: readonly SketchNote[],
  lead: number,
  swings: readonly SwingMark[],
  frame: Frame,
): SketchNote[] {
  const { clock } = frame;
  const moment = (tick: number): Moment => {
    // What should sound before the file begins sounds at its start.
    const moved =
      lead === 0 || tick === 0
        ? tick
        : Math.max(0, tickAt(clock, Math.max(0, secondsAt(clock, tick) + lead)));
    const at = momentOf(frame, moved);
    if (swings.length === 0) return at;
    const bar = frame.bars[barIndexOf(frame.bars, at)]!;
    const swing = swingInBar(swings, bar.index);
    return swing ? warpBeat(at, bar.start - bar.missing, (phase) => straighten(phase, swing.ratio)) : at;
  };
  return notes.map((note) => ({ ...note, at: moment(note.on), until: moment(note.off) }));
}

/** The attacks of a part before anything is fitted, for those who ask about swing. */
export function playedAttacks(hearing: Hearing, lead: number, frame: Frame): Played[] {
  const per = secondsPerUnit(frame);
  const notes = settled(hearing.bodies.flat(), lead, [], frame);
  return gatherAttacks(notes, frame, hearing.tidiness.attacks).map((attack) => ({
    at: attack.at,
    spread: (hearing.tidiness.attacks ? WRITTEN_SIGMA * 4 : FIRST_SIGMA) / per(attack.tick),
    grace: Number.POSITIVE_INFINITY,
    collision: 0.7,
  }));
}

/** The bodies of a part with their attacks: one a hand where there are two. */
export function bodiesOf(
  hearing: Hearing,
  lead: number,
  swings: readonly SwingMark[],
  frame: Frame,
  places: ReadonlyMap<string, Decided>,
): { staff: 1 | 2; attacks: Attack[]; chordal: boolean }[] {
  const { tidiness, bodies } = hearing;
  return bodies.map((own, index) => {
    const staff = (index + 1) as 1 | 2;
    const notes = settled(own, lead, swings, frame);
    for (const note of notes) note.staff = staff;
    // A note whose place was decided stands for itself, whatever it was struck with.
    const isDecided = (note: SketchNote) => places.get(note.id)?.start !== undefined;
    const free = gatherAttacks(
      notes.filter((note) => !isDecided(note)),
      frame,
      tidiness.attacks,
    );
    if (tidiness.attacks)
      for (const attack of free) {
        const place = exactPlace(attack.at, frame);
        if (place !== undefined) attack.pinned = place;
      }
    const decided = notes.filter(isDecided).flatMap((note) => {
      const [attack] = gatherAttacks([note], frame, true);
      const { start, grace } = places.get(note.id)!;
      return { ...attack!, pinned: start, grace: grace ?? false };
    });
    const attacks = decided.length === 0 ? free : [...free, ...decided].sort((a, b) => a.at - b.at);
    return {
      staff,
      attacks,
      chordal:
        hearing.staves === 2 ||
        isChordal(
          notes.toSorted((a, b) => a.on - b.on),
          frame,
        ),
    };
  });
}

/**
 * Hears a part by itself: the spread of its attacks and its exact lead are
 * learned from the fit. No decision about its rhythm counts yet, so that what
 * the other parts hear of it stays the same when one is made.
 */
export function hearFirst(
  hearing: Hearing,
  coarseLead: number,
  swings: readonly SwingMark[],
  frame: Frame,
  beats: readonly Beat[],
): FirstHearing {
  const per = secondsPerUnit(frame);
  const written = hearing.tidiness.attacks;
  let lead = coarseLead;
  let sigma = written ? WRITTEN_SIGMA : FIRST_SIGMA;
  const fit = (heard: Hearing) =>
    bodiesOf(heard, lead, swings, frame, new Map()).map(
      ({ staff, attacks, chordal }): Body => ({
        staff,
        attacks,
        fit: fitRhythm(attacks, frame, beats, {
          sigma,
          secondsPerUnit: per,
          choiceAt: () => DEFAULT_GRID,
          singleLine: hearing.singleLine,
          chordal,
          ensemble: null,
        }),
      }),
    );
  const sample = { ...hearing, bodies: hearing.bodies.map(middleOf) };
  for (let round = 0; round < ROUNDS && !written; round++) {
    const bodies = fit(sample);
    const residuals = bodies.flatMap(({ attacks }) =>
      attacks
        .filter((attack) => !attack.grace)
        .map((attack) => (attack.at - attack.start) * per(attack.tick)),
    );
    if (residuals.length < 8) break;
    const middle = median(residuals);
    const spread = 1.4826 * median(residuals.map((each) => Math.abs(each - middle)));
    sigma = Math.min(Math.max(spread, PLAYED_SIGMA[0]), PLAYED_SIGMA[1]);
    // What remains of the lead: the mean of all but slips is more exact than the median.
    const usual = residuals.filter((each) => Math.abs(each - middle) <= 2.5 * sigma);
    if (lead !== 0) lead -= usual.reduce((sum, each) => sum + each, 0) / Math.max(1, usual.length);
  }
  const bodies = fit(hearing);
  return { bodies, lead, sigma, signature: signatureOf(bodies) };
}

/** Notes from the middle of a body, enough to learn from. */
function middleOf(notes: readonly SketchNote[]): SketchNote[] {
  if (notes.length <= SAMPLE) return [...notes];
  const from = (notes.length - SAMPLE) >> 1;
  return notes.toSorted((a, b) => a.on - b.on).slice(from, from + SAMPLE);
}

/** A number made of all places (FNV-1a). */
function signatureOf(bodies: readonly Body[]): number {
  let value = 0x811c9dc5;
  const mix = (part: number) => {
    value = Math.imul(value ^ part, 0x01000193) >>> 0;
  };
  for (const { attacks } of bodies) {
    mix(attacks.length);
    for (const { start, grace } of attacks) {
      mix(Math.floor(start / QUARTER));
      mix(start % QUARTER);
      mix(grace ? 1 : 0);
    }
  }
  return value;
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[sorted.length >> 1] ?? 0;
}
