import { medianOf } from '../basics/average';
import type { Steps } from '../basics/steps';
import type { PartPlan } from '../cast/route';
import { DEFAULT_GRID } from '../decisions/kinds/grid';
import { gatherAttacks, isChordal, isLine } from '../infer/attacks/attacks';
import {
  exactPlace,
  isExactly,
  measureTidiness,
  nearestPlace,
  type Tidiness,
} from '../infer/attacks/tidiness';
import { splitHands } from '../infer/hands/hands';
import { lateness } from '../infer/lead/lateness';
import { adjustLead, type Lead, leadOf } from '../infer/lead/lead-of';
import { crushAhead, UNCOUNTED } from '../infer/rhythm/crushed';
import type { Heard } from '../infer/rhythm/ensemble';
import { fitRhythm } from '../infer/rhythm/fit-rhythm';
import type { RhythmFit } from '../infer/rhythm/known';
import type { Beat } from '../model/beats';
import { secondsAt, tempoAt, tickAt } from '../model/clock';
import { type Frame, momentOf } from '../model/frame';
import type { EventId } from '../model/ids';
import type { PlayedNote, Strand } from '../model/performance';
import { barIndexOf, type SwingMark } from '../model/score';
import type { Attack, SketchNote, Strike } from '../model/sketch';
import { straightMoment, swingInBar } from '../model/swing';
import { type Moment, QUARTER, type Span } from '../model/time';
import type { Decided } from './choices';

/** A part as it came: its notes in bodies that are read by themselves, and how tidily it was played. */
export interface Hearing {
  strands: readonly Strand[];
  /** All notes, or those of each hand or player: two strands on two staves are hands already. */
  bodies: SketchNote[][];
  staves: 1 | 2;
  /** Played one note at a time: by the instrument's nature, or as its notes show. */
  singleLine: boolean;
  unpitched: boolean;
  /** Notes that no staff can show. */
  unwritable: PlayedNote[];
  tidiness: Tidiness;
  /** For each strand what is struck when, ascending. */
  strikes: Strike[][];
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
  /** Lead of each strand, refined by the fit. */
  leads: readonly Lead[];
  /** Learned standard deviation of an attack, in seconds. */
  sigma: number;
}

/** Expected spread of a written attack, where a played one starts from, and its bounds; in seconds. */
const WRITTEN_SIGMA = 0.002;
const FIRST_SIGMA = 0.02;
/** The same while swing is asked for: what is loose must not look swung. */
const LOOSE_SIGMA = 0.03;
const PLAYED_SIGMA = [0.005, 0.04] as const;
/** How often the spread is learned anew, and from how many notes of a body. */
const ROUNDS = 2;
const SAMPLE = 500;

const SIXTY_FOURTH = QUARTER / 16;
const COARSE_STEPS = [QUARTER / 4, QUARTER / 3];

/** What hearing a part takes of its plan. */
export type HeardPlan = Pick<PartPlan, 'staves' | 'instrument' | 'players'>;

/** Whether a sounding key can be written for an instrument: C0 to B9. */
const isWritable = (key: number, plan: HeardPlan): boolean => {
  const written = key - plan.instrument.transposition.chromatic;
  return plan.instrument.unpitched || (written >= 12 && written <= 131);
};

/** Takes up the notes of a part. @param own the strands that it is made of, in their order */
export function* hear(plan: HeardPlan, own: readonly Strand[], frame: Frame): Steps<Hearing> {
  const heard = own.map((strand) => strand.notes.filter((note) => isWritable(note.key, plan)));
  const strikes = heard.map((notes, strand) => strikesOf(notes, strand, frame));
  const bodies = heard.map((notes, strand) =>
    notes.map(
      (note): SketchNote => ({
        id: note.id,
        key: note.key,
        velocity: note.velocity,
        on: note.on,
        off: note.off,
        strike: strikes[strand]!.get(note.on)!,
        literal: undefined,
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
  yield;
  const tidiness = measureTidiness(all, frame);
  yield;
  // Players that share a staff are read each by themselves, as hands are.
  const areLines = plan.players.length > 1 && plan.staves === 1 && !plan.instrument.unpitched;
  const hands = areLines
    ? bodies
    : plan.staves === 1
      ? [all]
      : bodies.length === 2
        ? bodies
        : yield* handsOf(all, frame, tidiness);
  yield;
  return {
    strands: own,
    bodies: hands,
    staves: plan.staves,
    singleLine: areSingleLines(plan, hands, frame),
    unpitched: plan.instrument.unpitched,
    unwritable: own.flatMap(({ notes }) => notes.filter((note) => !isWritable(note.key, plan))),
    tidiness,
    strikes: strikes.map((each) => [...each.values()].sort((a, b) => a.tick - b.tick)),
  };
}

/** Whether each hand has one note at a time: by what the instrument can, unless chords are struck on it, or by what it does. */
const areSingleLines = (
  { instrument, staves }: HeardPlan,
  hands: readonly SketchNote[][],
  frame: Frame,
): boolean =>
  instrument.singleLine
    ? !hands.some((own) =>
        isChordal(
          own.toSorted((a, b) => a.on - b.on),
          frame,
        ),
      )
    : staves === 1 && !instrument.unpitched && hands.every((own) => isLine(own, frame));

/** What a strand strikes, by tick. */
function strikesOf(notes: readonly PlayedNote[], strand: number, { clock }: Frame): Map<number, Strike> {
  const strikes = new Map<number, Strike>();
  for (const { on, off, key } of notes) {
    const held = secondsAt(clock, off) - secondsAt(clock, on);
    const known = strikes.get(on);
    if (known) Object.assign(known, { held: Math.max(known.held, held), key: Math.max(known.key, key) });
    else strikes.set(on, { strand, tick: on, held, key });
  }
  return strikes;
}

/** The notes of each hand, told apart. */
function* handsOf(notes: readonly SketchNote[], frame: Frame, tidiness: Tidiness): Steps<SketchNote[][]> {
  const attacks = gatherAttacks(
    notes.map((note) => ({ ...note })),
    frame,
    tidiness.attacks,
  );
  yield* splitHands(attacks);
  const staffOf = new Map<EventId, number>();
  for (const attack of attacks)
    for (const note of attack.notes) for (const id of note.sources) staffOf.set(id, note.staff);
  return [1, 2].map((staff) => notes.filter((note) => staffOf.get(note.id) === staff));
}

/** Seconds for one unit of score time at a tick. */
export const secondsPerUnit = (frame: Frame) => (tick: number) => tempoAt(frame.clock, tick) / 1e6 / QUARTER;

/** Where a tick lies once a lead (seconds) is taken out. */
export function soundingAt(tick: number, lead: number, frame: Frame): Moment {
  const { clock } = frame;
  // What should sound before the file begins sounds at its start.
  const moved =
    lead === 0 || tick === 0 ? tick : Math.max(0, tickAt(clock, Math.max(0, secondsAt(clock, tick) + lead)));
  return momentOf(frame, moved);
}

/** How far attacks at a tick are spread before a part is heard, in score time. */
export function spreadOf({ attacks }: Tidiness, frame: Frame): (tick: number) => Span {
  const per = secondsPerUnit(frame);
  return (tick) => (attacks ? WRITTEN_SIGMA * 4 : LOOSE_SIGMA) / per(tick);
}

/** The notes of a body with lead and swing taken out of their times; in swung bars as they sound, too. */
function settled(
  notes: readonly SketchNote[],
  leads: readonly Lead[],
  swings: readonly SwingMark[],
  frame: Frame,
): SketchNote[] {
  const straight = (at: Moment): Moment => {
    const bar = frame.bars[barIndexOf(frame.bars, at)]!;
    const swing = swingInBar(swings, bar.index);
    return swing ? straightMoment(at, bar.start - bar.missing, swing) : at;
  };
  // Written out, since this is done for every note, several times: copying by spreading is far slower.
  return notes.map((note): SketchNote => {
    const { id, key, velocity, on, off, strike, staff, sources } = note;
    const lead = leadOf(leads[strike.strand]!, strike);
    const at = soundingAt(on, lead, frame);
    const until = soundingAt(off, lead, frame);
    const isSwung = swings.length > 0 && swingInBar(swings, barIndexOf(frame.bars, at)) !== undefined;
    return {
      id,
      key,
      velocity,
      on,
      off,
      strike,
      at: isSwung ? straight(at) : at,
      until: isSwung ? straight(until) : until,
      literal: isSwung ? { at, until } : undefined,
      start: 0,
      end: 0,
      staff,
      voice: 1,
      sources,
    };
  });
}

/** The bodies of a part with their attacks: one a hand where there are two. */
export function bodiesOf(
  hearing: Hearing,
  leads: readonly Lead[],
  swings: readonly SwingMark[],
  frame: Frame,
  places: ReadonlyMap<EventId, Decided>,
): { staff: 1 | 2; attacks: Attack[]; chordal: boolean }[] {
  const { tidiness, bodies } = hearing;
  return bodies.map((own, index) => {
    const staff = (hearing.staves === 1 ? 1 : index + 1) as 1 | 2;
    const notes = settled(own, leads, swings, frame);
    for (const note of notes) note.staff = staff;
    // A note whose place was decided stands for itself, whatever it was struck with.
    const isDecided = (note: SketchNote) => places.get(note.id)?.start !== undefined;
    const free = gatherAttacks(
      notes.filter((note) => !isDecided(note)),
      frame,
      tidiness.attacks,
    );
    if (tidiness.attacks) pinExactly(free, frame, secondsPerUnit(frame), hearing.unpitched);
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
 * Pins what stands on the fine grid to the tick; on 64ths only where they run.
 * Notes crushed into others, and these where nothing but that puts them there, are still to be placed.
 */
function pinExactly(
  attacks: readonly Attack[],
  frame: Frame,
  per: (tick: number) => number,
  drums: boolean,
): void {
  const crushes = attacks.map(({ tick }, index) => {
    const ahead = crushAhead(attacks, index, per(tick), drums);
    return ahead !== undefined && ahead * per(tick) <= UNCOUNTED;
  });
  const isCoarse = ({ at }: Attack) => isExactly(at, nearestPlace(at, COARSE_STEPS), frame);
  const runs = (one: Attack | undefined, other: Attack | undefined) =>
    one !== undefined && other !== undefined && isExactly(other.at - one.at, SIXTY_FOURTH, frame);
  attacks.forEach((attack, index) => {
    // In swung bars there may be triplets, whose places are others.
    if (attack.literal !== undefined) return;
    if (crushes[index + 1] || (crushes[index] && !isCoarse(attack))) return;
    const place = exactPlace(attack.at, frame);
    if (place !== undefined) attack.pinned = place;
    else if (runs(attacks[index - 1], attack) || runs(attack, attacks[index + 1])) {
      const near = nearestPlace(attack.at, [SIXTY_FOURTH]);
      if (isExactly(attack.at, near, frame)) attack.pinned = near;
    }
  });
}

/**
 * Hears a part by itself: the spread of its attacks and its exact lead are
 * learned from the fit. No decision about its rhythm counts yet, so that what
 * the other parts hear of it stays the same when one is made.
 */
export function* hearFirst(
  hearing: Hearing,
  coarseLeads: readonly Lead[],
  swings: readonly SwingMark[],
  frame: Frame,
  beats: readonly Beat[],
): Steps<FirstHearing> {
  const per = secondsPerUnit(frame);
  const written = hearing.tidiness.attacks;
  let leads = coarseLeads;
  let sigma = written ? WRITTEN_SIGMA : FIRST_SIGMA;
  function* fit(heard: Hearing): Steps<Body[]> {
    const bodies: Body[] = [];
    for (const { staff, attacks, chordal } of bodiesOf(heard, leads, swings, frame, new Map())) {
      yield;
      const fitted = yield* fitRhythm(attacks, frame, beats, {
        sigma,
        secondsPerUnit: per,
        choiceAt: () => DEFAULT_GRID,
        swingAt: (bar) => swingInBar(swings, bar),
        singleLine: hearing.singleLine,
        drums: hearing.unpitched,
        chordal,
        ensemble: null,
      });
      bodies.push({ staff, attacks, fit: fitted });
    }
    return bodies;
  }
  const sample = { ...hearing, bodies: hearing.bodies.map(middleOf) };
  for (let round = 0; round < ROUNDS && !written; round++) {
    const bodies = yield* fit(sample);
    const residuals: number[] = [];
    const byStrike: [strike: Strike, late: number][] = [];
    for (const { attacks } of bodies)
      for (const attack of attacks) {
        const { grace, tick, notes } = attack;
        if (grace) continue;
        const late = lateness(attack, frame, swings) * per(tick);
        residuals.push(late);
        const [first] = notes;
        if (notes.every(({ strike }) => strike.strand === first!.strike.strand))
          byStrike.push([first!.strike, late]);
        else
          for (const note of notes)
            byStrike.push([note.strike, lateness(attack, frame, swings, note) * per(tick)]);
      }
    if (residuals.length < 8) break;
    const middle = medianOf(residuals);
    const spread = 1.4826 * medianOf(residuals.map((each) => Math.abs(each - middle)));
    sigma = Math.min(Math.max(spread, PLAYED_SIGMA[0]), PLAYED_SIGMA[1]);
    // What remains of the leads: the mean of all but slips is more exact than the median.
    const usual = byStrike.filter(([, each]) => Math.abs(each - middle) <= 2.5 * sigma);
    leads = leads.map((lead, strand) =>
      adjustLead(
        lead,
        usual.filter(([strike]) => strike.strand === strand),
        sigma,
      ),
    );
  }
  const bodies = yield* fit(hearing);
  return { bodies, leads, sigma };
}

/** Notes from the middle of a body, enough to learn from. */
function middleOf(notes: readonly SketchNote[]): SketchNote[] {
  if (notes.length <= SAMPLE) return [...notes];
  const from = (notes.length - SAMPLE) >> 1;
  return notes.toSorted((a, b) => a.on - b.on).slice(from, from + SAMPLE);
}

/** Where a part attacks, and in which rhythms: what the others hear of it, body by body. */
export const placesOf = ({ bodies }: FirstHearing): Heard[] =>
  bodies.map(({ attacks, fit }) => ({
    starts: attacks.flatMap(({ start, grace }) => (grace ? [] : [start])),
    patterns: fit.patterns,
  }));
