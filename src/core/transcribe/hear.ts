import { secondsAt, tempoAt, tickAt } from '../performance/clock';
import type { Strand } from '../performance/performance';
import type { PartPlan } from '../roster/route';
import { type Moment, QUARTER } from '../score/time';
import { gatherAttacks, isChordal } from './attacks';
import type { Beat } from './beats';
import type { Played } from './fit-span';
import { fitRhythm, type RhythmFit } from './fit-rhythm';
import { barIndexOf, type Frame, momentOf } from './frame';
import { splitHands } from './hands';
import type { Attack, SketchNote } from './sketch';
import { type Swing, unswung } from './swing';
import { exactPlace, measureTidiness, type Tidiness } from './tidiness';
import type { GridChoice } from '../brief/decisions';

/** A part as it came: its notes in bodies that are read by themselves, and how tidily it was played. */
export interface Hearing {
  strands: readonly Strand[];
  /** Notes of each strand; two of them on two staves are two hands. */
  bodies: SketchNote[][];
  handsKnown: boolean;
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
}

/** Expected spread of a written attack, where a played one starts from, and its bounds; in seconds. */
const WRITTEN_SIGMA = 0.002;
const FIRST_SIGMA = 0.02;
const PLAYED_SIGMA = [0.005, 0.04] as const;
/** How often the spread is learned anew. */
const ROUNDS = 2;

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
  const handsKnown = plan.staves === 2 && bodies.length === 2;
  return {
    strands: own,
    bodies: handsKnown ? bodies : [all],
    handsKnown,
    staves: plan.staves,
    singleLine: plan.instrument.singleLine,
    unpitched: plan.instrument.unpitched,
    tidiness: measureTidiness(all, frame),
    onsets: [...new Set(all.map((note) => note.on))].sort((a, b) => a - b),
  };
}

/** Seconds for one unit of score time at a tick. */
export const secondsPerUnit = (frame: Frame) => (tick: number) => tempoAt(frame.clock, tick) / 1e6 / QUARTER;

/** The notes of a body with lead and swing taken out of their times. */
function settled(
  notes: readonly SketchNote[],
  lead: number,
  swings: readonly Swing[],
  frame: Frame,
): SketchNote[] {
  const { clock } = frame;
  const moment = (tick: number): Moment => {
    const moved = lead === 0 ? tick : Math.max(0, tickAt(clock, Math.max(0, secondsAt(clock, tick) + lead)));
    const at = momentOf(frame, moved);
    if (swings.length === 0) return at;
    const bar = frame.bars[barIndexOf(frame.bars, at)]!;
    const swing = swings.find((each) => bar.index >= each.from && bar.index < each.to);
    return swing ? unswung(at, bar.start - bar.missing, swing.ratio) : at;
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

/** The bodies of a part: one a hand where there are two, the hands told apart where they are not known. */
export function bodiesOf(
  hearing: Hearing,
  lead: number,
  swings: readonly Swing[],
  frame: Frame,
  pinned: ReadonlyMap<string, Moment>,
): { staff: 1 | 2; attacks: Attack[]; chordal: boolean }[] {
  const { tidiness } = hearing;
  const raw = hearing.bodies.map((notes) => settled(notes, lead, swings, frame));
  let parted: SketchNote[][] = raw;
  if (!hearing.handsKnown && hearing.staves === 2) {
    const all = raw.flat();
    splitHands(gatherAttacks(all.map((note) => note), frame, tidiness.attacks));
    parted = [1, 2].map((staff) => all.filter((note) => note.staff === staff));
  }
  return parted.map((notes, index) => {
    const staff = (parted.length > 1 ? index + 1 : 1) as 1 | 2;
    for (const note of notes) note.staff = staff;
    const attacks = gatherAttacks(notes, frame, tidiness.attacks);
    for (const attack of attacks) {
      const decided = attack.notes.map((note) => pinned.get(note.id)).find((place) => place !== undefined);
      const place = decided ?? (tidiness.attacks ? exactPlace(attack.at, frame) : undefined);
      if (place !== undefined) attack.pinned = place;
    }
    return { staff, attacks, chordal: isChordal(notes.toSorted((a, b) => a.on - b.on), frame) };
  });
}

/** Hears a part by itself: the spread of its attacks and its exact lead are learned from the fit. */
export function hearFirst(
  hearing: Hearing,
  coarseLead: number,
  swings: readonly Swing[],
  frame: Frame,
  beats: readonly Beat[],
  choiceAt: (beat: Beat) => GridChoice,
): FirstHearing {
  const per = secondsPerUnit(frame);
  const written = hearing.tidiness.attacks;
  let lead = coarseLead;
  let sigma = written ? WRITTEN_SIGMA : FIRST_SIGMA;
  let bodies: Body[] = [];
  for (let round = 0; round <= ROUNDS; round++) {
    bodies = bodiesOf(hearing, lead, swings, frame, new Map()).map(({ staff, attacks, chordal }) => ({
      staff,
      attacks,
      fit: fitRhythm(attacks, frame, beats, {
        sigma,
        secondsPerUnit: per,
        choiceAt,
        singleLine: hearing.singleLine,
        chordal,
        ensemble: null,
      }),
    }));
    if (written || round === ROUNDS) break;
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
  return { bodies, lead, sigma };
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[sorted.length >> 1] ?? 0;
}

/** How far an attack lies from where it is written, in seconds: positive for late. */
export const deviation = (attack: Attack, per: (tick: number) => number): number =>
  (attack.at - attack.start) * per(attack.tick);
