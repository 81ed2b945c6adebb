import { medianOf } from '../basics/average';
import { node, steppedNode } from '../basics/graph';
import { remembered, rememberedInSteps } from '../basics/remember';
import { lastAtOrBefore } from '../basics/search';
import { finished, type Steps } from '../basics/steps';
import type { LikeChoice, Playing } from '../decisions/kinds/play-like';
import {
  barAt,
  barsOfPiece,
  type Clock,
  makeClock,
  SLOWEST_MICROS_PER_QUARTER,
  secondsAt,
  type TempoChange,
} from '../model/clock';
import { type Frame, tickOfMoment } from '../model/frame';
import type { EventId, StrandId } from '../model/ids';
import {
  makeStrand,
  type Performance,
  type Placed,
  type PlayedNote,
  type Strand,
} from '../model/performance';
import { type Moment, QUARTER } from '../model/time';
import { reconcileInSteps } from '../reconcile';
import type { Ledger } from '../reconcile/ledger';
import { frameOfPerformance, sideOfPerformance } from '../reconcile/reading';
import { untangled } from './untangled';

/** A performance in the manner of another one. */
export interface Likened {
  /** With its own strands, notes and keys; the same object where nothing was taken. */
  performance: Performance;
  /** Notes that the other one plays too, and those that it does not. */
  alike: number;
  alone: number;
  /** Notes that only the other one has: they are not played. */
  others: number;
  /** Printed numbers of the first and last bars of stretches that the other one does not play. */
  silent: readonly (readonly [from: number, to: number])[];
}

/** A beat of the piece, in its ticks, and when it falls in the other performance, in seconds. */
interface Beat {
  tick: number;
  seconds: number;
}
/** Beats that follow each other in both. */
type Run = Beat[];

/** Attacks this near each other are one: a 16th of a quarter note. */
const TOGETHER = 16;
/** The other one leaves music out, or puts some in, where its pace is so many times its usual one, and so many seconds are in question (common practice). */
const LEAPS = 8;
const LEAP_SECONDS = 2;
/** Attacks that follow each other do so by this much, in seconds. */
const SOONEST = 1e-6;
/** Pedals, modulation and expression (MIDI 1.0): what shapes notes and not the mixer. */
const TAKEN_CONTROLLERS: ReadonlySet<number> = new Set([1, 2, 11, 64, 65, 66, 67]);

/**
 * Plays the notes of a performance as another performance of the piece plays them: both are laid over each other
 * note by note. Its tempo moves the beats; where notes fall around them, how long and how loud they are is the
 * timing and the velocity; pedals and expression come with the strand that plays most of the same notes. What only
 * one of them has is not changed, but goes along with what sounds around it.
 *
 * With tempo and timing each note that both have sounds when the other sounds, to the tick.
 */
export function* playedLikeInSteps(
  performance: Performance,
  player: Performance,
  takes: readonly Playing[],
): Steps<Likened> {
  const laid = yield* rememberedInSteps(performance, LAID, { performance, player });
  return remembered(performance, LIKENED, { performance, player, takes, laid });
}

/** The same without a pause. */
export const playedLike = (
  performance: Performance,
  player: Performance,
  takes: readonly Playing[],
): Likened => finished(playedLikeInSteps(performance, player, takes));

const LAID = steppedNode(
  'played over',
  function* ({ performance, player }: Pick<Laid, 'performance' | 'player'>): Steps<Laid['laid']> {
    return { ledger: yield* reconcileInSteps(sideOfPerformance(performance), sideOfPerformance(player)) };
  },
);

interface Laid {
  performance: Performance;
  player: Performance;
  takes: LikeChoice['takes'];
  laid: { ledger: Ledger | null };
}

const LIKENED = node('likened', ({ performance, player, takes, laid: { ledger } }: Laid) =>
  likened(performance, player, new Set(takes), ledger),
);

function likened(
  performance: Performance,
  player: Performance,
  takes: ReadonlySet<Playing>,
  ledger: Ledger | null,
): Likened {
  const frame = frameOfPerformance(performance);
  const partners = partnersOf(ledger, performance, player);
  const runs = ledger ? runsOf(ledger, frame, player, partners) : [];
  const count = performance.strands.reduce((sum, { notes }) => sum + notes.length, 0);
  const others = player.strands.reduce((sum, { notes }) => sum + notes.length, 0) - partners.size;
  const told = {
    alike: partners.size,
    alone: count - partners.size,
    others,
    silent: silentIn(performance, runs),
  };
  if (runs.length === 0) return { performance, ...told };
  const tempos = takes.has('tempo') ? temposOf(performance, runs) : performance.tempos;
  const { ticksPerQuarter, firstBar, upbeat } = performance.clock;
  const clock = takes.has('tempo')
    ? makeClock({ ticksPerQuarter, tempos, meters: performance.meters, upbeat, firstBar })
    : performance.clock;
  const place = placing(runs, player.clock);
  const leaders = takes.has('controllers')
    ? leadersOf(performance, player, partners)
    : new Map<StrandId, Strand>();
  const strands = performance.strands.map((strand) => {
    const notes = notesLike(strand.notes, partners, place, takes);
    const shaping = shapingLike(strand.shaping, leaders.get(strand.id), strand.channel, place);
    return {
      ...strand,
      ...makeStrand({ ...strand, notes: untangled(notes), shaping }, clock),
      programs: strand.programs,
      banks: strand.banks,
    };
  });
  const last = strands.reduce((end, { notes }) => notes.reduce((max, { off }) => Math.max(max, off), end), 0);
  return {
    performance: { ...performance, clock, tempos, strands, end: Math.max(performance.end, last) },
    ...told,
  };
}

/** A note of the other performance, and whether it stands where the piece has it. */
interface Partner {
  note: PlayedNote;
  strand: StrandId;
  /** False where it is played at another place: its time says nothing. */
  inPlace: boolean;
}
type Partners = ReadonlyMap<EventId, Partner>;

/** The notes of the other performance by those of the piece that they are. */
function partnersOf(ledger: Ledger | null, performance: Performance, player: Performance): Partners {
  const own = new Set(performance.strands.flatMap(({ notes }) => notes.map(({ id }) => id as string)));
  const played = new Map<string, Omit<Partner, 'inPlace'>>();
  for (const { id: strand, notes } of player.strands)
    for (const note of notes) played.set(note.id, { note, strand });
  const partners = new Map<EventId, Partner>();
  for (const { one, two, differs } of ledger?.entries ?? []) {
    const partner = two && played.get(two.id);
    if (!one || !partner || !own.has(one.id)) continue;
    partners.set(one.id as EventId, { ...partner, inPlace: !differs.includes('onset') });
  }
  return partners;
}

/** Where both have the same beats, beat by beat; else by the attacks that both have. */
function runsOf(ledger: Ledger, frame: Frame, player: Performance, partners: Partners): Run[] {
  return ledger.by === 'order'
    ? runsByNotes(ledger, frame, player, partners)
    : runsByUnits(ledger, frame, player);
}

function runsByUnits({ units: { of, pairs } }: Ledger, frame: Frame, player: Performance): Run[] {
  const playerFrame = frameOfPerformance(player);
  const runs: Run[] = [];
  let run: Run = [];
  let ends: { one: Moment; two: Moment } | null = null;
  const beatAt = (one: Moment, two: Moment): Beat => ({
    tick: tickOfMoment(frame, one),
    seconds: secondsAt(player.clock, tickOfMoment(playerFrame, two)),
  });
  const close = () => {
    if (ends) run.push(beatAt(ends.one, ends.two));
    if (run.length > 1) runs.push(run);
    run = [];
  };
  for (const { one: a, two: b } of pairs) {
    if (a === null || b === null) continue;
    const [one, two] = [of[0][a]!, of[1][b]!];
    if (ends && (ends.one !== one.start || ends.two !== two.start)) close();
    const length = Math.min(one.length, two.length);
    for (let at = 0; at < length; at += QUARTER) run.push(beatAt(one.start + at, two.start + at));
    ends = { one: one.start + length, two: two.start + length };
  }
  close();
  return runs;
}

/** Beats between attacks of both, by straight lines; apart where the one has music that the other has not. */
function runsByNotes({ entries }: Ledger, frame: Frame, player: Performance, partners: Partners): Run[] {
  const together = new Map<number, { at: Moment[]; seconds: number[] }>();
  for (const { one } of entries) {
    const partner = one && partners.get(one.id as EventId);
    if (!one || !partner?.inPlace || one.grace) continue;
    const slot = Math.round((one.start / QUARTER) * TOGETHER);
    const own = together.get(slot) ?? { at: [], seconds: [] };
    together.set(slot, own);
    own.at.push(one.start);
    own.seconds.push(secondsAt(player.clock, partner.note.on));
  }
  const attacks = [...together.values()]
    .map(({ at, seconds }) => ({
      moment: Math.min(...at),
      // Nothing sounds before the piece begins: its first beat is where the first of its notes is.
      seconds: Math.min(...at) === 0 ? Math.min(...seconds) : medianOf(seconds),
    }))
    .sort((a, b) => a.moment - b.moment);
  const kept = ascending(attacks);
  const paces = kept.slice(1).map((each, index) => paceOf(kept[index]!, each));
  const usual = medianOf(paces);
  const stretches: (typeof kept)[] = [];
  kept.forEach((each, index) => {
    const before = kept[index - 1];
    const pace = paces[index - 1] ?? usual;
    const away = before ? Math.abs((pace - usual) * (each.moment - before.moment)) : 0;
    const leaps = away > LEAP_SECONDS && (pace > usual * LEAPS || pace < usual / LEAPS);
    const stretch = stretches.at(-1);
    if (!stretch || leaps) stretches.push([each]);
    else stretch.push(each);
  });
  return stretches.filter(({ length }) => length > 1).map((stretch) => beatsOf(stretch, frame));
}

const paceOf = (
  one: { moment: Moment; seconds: number },
  next: { moment: Moment; seconds: number },
): number => (next.seconds - one.seconds) / (next.moment - one.moment);

/** The most attacks of which each is later than the one before in both. */
function ascending<T extends { seconds: number }>(attacks: readonly T[]): T[] {
  const before = new Int32Array(attacks.length);
  const tails: number[] = [];
  attacks.forEach(({ seconds }, index) => {
    const last = lastAtOrBefore(tails, seconds - SOONEST, (each) => attacks[each]!.seconds);
    const isLater = tails.length > 0 && attacks[tails[last]!]!.seconds <= seconds - SOONEST;
    const at = isLater ? last + 1 : 0;
    before[index] = tails[at - 1] ?? -1;
    tails[at] = index;
  });
  const kept: T[] = [];
  for (let at = tails.at(-1) ?? -1; at >= 0; at = before[at]!) kept.push(attacks[at]!);
  return kept.reverse();
}

/** The quarter notes from the first to the last of these attacks, and these two. */
function beatsOf(attacks: readonly { moment: Moment; seconds: number }[], frame: Frame): Run {
  const [first, last] = [attacks[0]!, attacks.at(-1)!];
  const moments = [first.moment];
  for (const { start, length } of frame.bars)
    for (let at = start; at < start + length; at += QUARTER)
      if (at > first.moment && at < last.moment) moments.push(at);
  moments.push(last.moment);
  return moments.map((moment) => {
    const index = Math.min(
      attacks.length - 2,
      lastAtOrBefore(attacks, moment, (each) => each.moment),
    );
    const [from, to] = [attacks[index]!, attacks[index + 1]!];
    return {
      tick: tickOfMoment(frame, moment),
      seconds: from.seconds + (moment - from.moment) * paceOf(from, to),
    };
  });
}

/** The tempos with which the beats of each run fall as they are played; between runs its own, at the player's general pace; the last one holds to the end. */
function temposOf({ clock, tempos, strands }: Performance, runs: readonly Run[]): TempoChange[] {
  let [played, own] = [0, 0];
  for (const run of runs) {
    const [first, last] = [run[0]!, run.at(-1)!];
    played += last.seconds - first.seconds;
    own += secondsAt(clock, last.tick) - secondsAt(clock, first.tick);
  }
  const pace = own > 0 ? played / own : 1;
  const made: TempoChange[] = [];
  const put = (tick: number, micros: number) => {
    const microsPerQuarter = Math.min(SLOWEST_MICROS_PER_QUARTER, Math.max(1, Math.round(micros)));
    const before = made.at(-1);
    if (before?.tick === tick) before.microsPerQuarter = microsPerQuarter;
    else if (before?.microsPerQuarter !== microsPerQuarter) made.push({ tick, microsPerQuarter });
  };
  const ownTempo = (tick: number) =>
    clock.tempos[lastAtOrBefore(clock.tempos, tick, (each) => each.tick)]!.microsPerQuarter * pace;
  const putOwn = (from: number, to: number) => {
    if (from >= to) return;
    put(from, ownTempo(from));
    for (const { tick } of tempos) if (tick > from && tick < to) put(tick, ownTempo(tick));
  };
  let end = 0;
  for (const run of runs) {
    putOwn(end, Math.round(run[0]!.tick));
    // What rounding leaves is made up for by the next beat.
    let owed = 0;
    run.slice(1).forEach((next, index) => {
      const [from, to] = [Math.round(run[index]!.tick), Math.round(next.tick)];
      if (to <= from) return;
      const quarters = (to - from) / clock.ticksPerQuarter;
      const micros = 1e6 * (next.seconds - run[index]!.seconds) + owed;
      put(from, micros / quarters);
      owed = micros - made.at(-1)!.microsPerQuarter * quarters;
    });
    end = Math.round(run.at(-1)!.tick);
  }
  const goesOn = strands.some(({ notes }) => notes.at(-1)!.on > end);
  if (goesOn) putOwn(end, Number.POSITIVE_INFINITY);
  return made;
}

/** The tick of the piece at which something is played, near a tick of it where that is known. Rounded. */
type Placing = (playedTick: number, near?: number) => number;

function placing(runs: readonly Run[], playerClock: Clock): Placing {
  return (playedTick, near) => {
    const seconds = secondsAt(playerClock, playedTick);
    const at = Math.max(
      0,
      near === undefined
        ? lastAtOrBefore(runs, seconds, (run) => run[0]!.seconds)
        : // A note ahead of the first beat of a stretch belongs to it.
          lastAtOrBefore(runs, near, (run) => run[0]!.tick),
    );
    return Math.max(0, Math.round(tickIn(runs[at]!, seconds)));
  };
}

/** By straight lines between beats; as between the last two beyond them. */
function tickIn(run: Run, seconds: number): number {
  const index = Math.min(
    run.length - 2,
    Math.max(
      0,
      lastAtOrBefore(run, seconds, (each) => each.seconds),
    ),
  );
  const [from, to] = [run[index]!, run[index + 1]!];
  return from.tick + ((seconds - from.seconds) * (to.tick - from.tick)) / (to.seconds - from.seconds);
}

function notesLike(
  notes: readonly PlayedNote[],
  partners: Partners,
  place: Placing,
  takes: ReadonlySet<Playing>,
): PlayedNote[] {
  /** Of notes that begin together: how much later they do, and how loud they are. */
  const around = new Map<number, { later: number[]; velocities: number[] }>();
  const placed = notes.map((note) => {
    const partner = partners.get(note.id);
    if (!partner) return null;
    const own = around.get(note.on) ?? { later: [], velocities: [] };
    around.set(note.on, own);
    own.velocities.push(partner.note.velocity);
    if (!partner.inPlace) return null;
    const on = place(partner.note.on, note.on);
    const off = Math.max(on + 1, place(partner.note.off, note.on));
    own.later.push(on - note.on);
    return { on, off };
  });
  let velocity: number | undefined;
  return notes.map((note, index) => {
    const own = around.get(note.on);
    if (own) velocity = medianOf(own.velocities);
    const later = own && own.later.length > 0 ? medianOf(own.later) : 0;
    const on = Math.max(0, note.on + later);
    const times = placed[index] ?? { on, off: on + note.off - note.on };
    return {
      ...note,
      ...(takes.has('timing') && times),
      ...(takes.has('velocity') && {
        velocity: partners.get(note.id)?.note.velocity ?? velocity ?? note.velocity,
      }),
    };
  });
}

/** For each strand the one of the other performance that has most of its notes. */
function leadersOf(performance: Performance, player: Performance, partners: Partners): Map<StrandId, Strand> {
  const byId = new Map(player.strands.map((strand) => [strand.id, strand]));
  const leaders = new Map<StrandId, Strand>();
  for (const { id, notes } of performance.strands) {
    const counts = new Map<StrandId, number>();
    for (const note of notes) {
      const strand = partners.get(note.id)?.strand;
      if (strand) counts.set(strand, (counts.get(strand) ?? 0) + 1);
    }
    const [most] = [...counts].sort((a, b) => b[1] - a[1]);
    const leader = most && byId.get(most[0]);
    if (leader) leaders.set(id, leader);
  }
  return leaders;
}

/** Its own shaping, but for controllers that the other's strand has. */
function shapingLike(
  own: readonly Placed[],
  leader: Strand | undefined,
  channel: number,
  place: Placing,
): Placed[] {
  const taken = (leader?.shaping ?? []).flatMap(({ order, event }) =>
    event.kind === 'control' && TAKEN_CONTROLLERS.has(event.controller)
      ? [{ order, event: { ...event, channel, tick: place(event.tick) } }]
      : [],
  );
  if (taken.length === 0) return [...own];
  const replaced = new Set(taken.map(({ event }) => event.controller));
  return [
    ...own.filter(({ event }) => event.kind !== 'control' || !replaced.has(event.controller)),
    ...taken,
  ].sort((a, b) => a.event.tick - b.event.tick);
}

/** Bars in which something begins and that lie in no run, as stretches of printed numbers. */
function silentIn({ clock, strands, end }: Performance, runs: readonly Run[]): [number, number][] {
  const sounding = new Set(strands.flatMap(({ notes }) => notes.map(({ on }) => barAt(clock, on).index)));
  const silent: [number, number][] = [];
  let before = Number.NaN;
  for (const { index, number, start, length } of barsOfPiece(clock, end)) {
    const isPlayed = runs.some((run) => run[0]!.tick < start + length - 1 && run.at(-1)!.tick > start + 1);
    if (isPlayed || !sounding.has(index)) continue;
    const last = silent.at(-1);
    if (last && before === index - 1) last[1] = number;
    else silent.push([number, number]);
    before = index;
  }
  return silent;
}
