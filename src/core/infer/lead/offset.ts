import { node } from '../../basics/graph';
import { remembered } from '../../basics/remember';
import { barAt, type Clock, tempoAt } from '../../model/clock';
import type { barSpan } from '../../model/meter';
import { makeStrand, type Performance, type Strand } from '../../model/performance';
import { isGridUnusable } from '../beats/beats';
import { otherPulse } from '../beats/pulse';

/**
 * How likely written music attacks on a bar line, a beat, an eighth, a 16th or
 * triplet, anywhere else (log, common practice); the same as for single leads.
 */
const ON_BAR = 0;
const ON_BEAT = -0.4;
const ON_EIGHTH = -1.3;
const ON_FINE = -2.8;
const ELSEWHERE = -4.5;
/** Spread of played attacks, in seconds. */
const SPREAD = 0.012;
/** Offsets that are considered: up to this share of a quarter either way, in so many steps to a quarter. */
const FARTHEST = 0.45;
const STEPS = 192;
/** An offset must explain an attack this much better on average than none does, and all attacks this much (nats). */
const WORTH_EACH = 0.35;
const WORTH_ALL = 12;
/** Offsets that explain attacks so nearly as well on average are alike (nats). */
const ALIKE = 0.2;
/** This share of attacks lies in strands that do not speak against it; a strand speaks from so many attacks on. */
const AGREEING = 0.85;
const ENOUGH = 8;
/** Attacks that are looked at in each strand, evenly taken, and in all together: hundreds of strands agree no better. */
const SAMPLE = 160;
const SAMPLE_OF_ALL = 4000;
/** This share of attacks must come near an eighth or a triplet by it, or near a 16th, and so many more than there were. */
const NEAR_ALL = 0.6;
const NEAR_ALL_16THS = 0.75;
const NEAR_ALL_SLOT = 0.9;
const MORE = 0.3;
/** Deviations within which an attack lies about a place. */
const NEAR = 1.5;
/** What is smaller than this is no delay but how exactly people play, in seconds. */
const NOTICED = 0.012;
/** Where this share of attacks is on the grid to the tick already, nothing is off it as a whole. */
const ON_GRID = 0.5;
/** A third of a quarter is no whole number of ticks in many files: so many ticks off is on it. */
const EXACT = 0.75;
/** What a quarter is divided by on the grid, and on the finest that is written. */
const COARSE = [4, 3];
const FINE = [8, 12];
/** This share of attacks on the finest grid was written; then so many attacks must gain so much each (nats). */
const WRITTEN = 0.9;
const MANY = 64;
const CLEAR = 1;
/** Shares on the grid that differ by no more than this are alike. */
const AS_MANY = 0.03;

interface Attack {
  tick: number;
  /** Ticks from the start of its bar; a bar's places repeat in the bars around it. */
  at: number;
  length: number;
  beats: readonly number[];
  /** Deviations for one tick. */
  scale: number;
}

/**
 * By how many ticks the whole file sounds late (negative: early), drums
 * included, as recordings with a delay and tracks moved all together do; 0
 * where nothing or not everything speaks for it. Each offset is judged by
 * where it would put the attacks of all strands: near the grid, and on strong
 * places rather than weak ones.
 */
export const commonOffset = (performance: Performance): number =>
  remembered(performance, OFFSET, { performance });

const OFFSET = node('offset', ({ performance }: { performance: Performance }): number => {
  const { clock, strands } = performance;
  const ticks = strands.map(({ notes }) => Float64Array.from(new Set(notes.map(({ on }) => on))));
  // Kept with the clock, which outlives a performance: a changed pitch leaves it.
  const { offset, isTold } = remembered(clock, JUDGED, { clock, ticks });
  if (offset === 0 || isTold) return offset;
  // Music that goes by other beats than the file's is not late on these.
  return isGridUnusable(performance) || otherPulse(performance) !== null ? 0 : offset;
});

const JUDGED = node('judged offset', ({ clock, ticks }: { clock: Clock; ticks: readonly Float64Array[] }) =>
  judgeOffset(clock, ticks),
);

/** @returns an offset in ticks, and whether the ticks tell it by themselves, to the tick */
function judgeOffset(clock: Clock, strands: readonly Float64Array[]): { offset: number; isTold: boolean } {
  const none = { offset: 0, isTold: true };
  const quarter = clock.ticksPerQuarter;
  const most = Math.max(ENOUGH, Math.min(SAMPLE, Math.ceil(SAMPLE_OF_ALL / strands.length)));
  const voices = strands
    .map((ticks) => attacksOf(ticks, clock, most))
    .filter((attacks) => attacks.length >= ENOUGH);
  const all = voices.flat();
  const before = shareOnGrid(all, quarter, 0);
  if (all.length === 0 || before >= ON_GRID) return none;
  const step = Math.max(1, quarter / STEPS);
  const farthest = Math.floor((FARTHEST * quarter) / step);
  const worth = (attacks: readonly Attack[], offset: number) => {
    let sum = 0;
    for (const attack of attacks) sum += likelihood(attack, offset, quarter);
    return sum;
  };
  const zero = worth(all, 0);
  const isCommon = (offset: number) =>
    voices
      .filter((attacks) => worth(attacks, offset) - worth(attacks, 0) > -WORTH_EACH * attacks.length)
      .flat().length >=
    AGREEING * all.length;
  // What was programmed to the tick and lies off the grid to the tick was moved: there is no other way to get it.
  const exact = exactly(all, quarter);
  const candidates =
    exact.length > 0
      ? exact
      : Array.from({ length: 2 * farthest + 1 }, (_, at) => Math.round((at - farthest) * step));
  const judged = candidates
    .map((offset) => ({ offset, gain: worth(all, offset) - zero }))
    .sort((a, b) => b.gain - a.gain);
  const [first] = judged;
  // Of those that explain the attacks about as well the nearest: a large one needs evidence of its own.
  const best = judged
    .filter(({ gain }) => first && gain >= first.gain - ALIKE * all.length)
    .reduce((a, b) => (Math.abs(b.offset) < Math.abs(a.offset) ? b : a), first ?? { offset: 0, gain: 0 });
  if (exact.length > 0) {
    // What stands on 32nds may have been written so: that all of it was moved by one takes many to say.
    const isWritten = shareOnGrid(all, quarter, 0, FINE) >= WRITTEN;
    const isClear = all.length >= MANY && best.gain >= CLEAR * all.length;
    return isCommon(best.offset) && (!isWritten || isClear) ? { offset: best.offset, isTold: true } : none;
  }
  const peak = judged
    .filter(({ offset }) => Math.abs(offset - best.offset) <= quarter / 16)
    .reduce((a, b) => (b.gain > a.gain ? b : a), best);
  const seconds = (Math.abs(peak.offset) * tempoAt(clock, all[0]!.tick)) / 1e6 / quarter;
  if (seconds < NOTICED || peak.gain < WORTH_ALL || peak.gain < WORTH_EACH * all.length) return none;
  // Moved by a 16th, what stands on 16ths stands on them again: that is a delay only where all comes to plainer places.
  const isSlot = toGrid(peak.offset, quarter / 4) <= quarter / 16 && Math.abs(peak.offset) > quarter / 8;
  if (isSlot && shareNear(all, peak.offset, [quarter / 2, quarter / 3]) < NEAR_ALL_SLOT) return none;
  const comesNear = (steps: readonly number[], enough: number) => {
    const [near, nearer] = [shareNear(all, 0, steps), shareNear(all, peak.offset, steps)];
    return nearer >= enough && nearer - near >= MORE;
  };
  if (!comesNear([quarter / 2, quarter / 3], NEAR_ALL) && !comesNear([quarter / 4], NEAR_ALL_16THS))
    return none;
  return isCommon(peak.offset) ? { offset: peak.offset, isTold: false } : none;
}

/** The offsets that put most attacks on the grid to the tick; none where none puts enough of them there. */
function exactly(attacks: readonly Attack[], quarter: number): number[] {
  const farthest = Math.floor(FARTHEST * quarter);
  // What lies a quarter apart is on the grid together: each place within one is looked at once.
  const places = new Map<number, number>();
  for (const { at } of attacks) places.set(at % quarter, (places.get(at % quarter) ?? 0) + 1);
  const shares = Array.from({ length: 2 * farthest + 1 }, (_, at) => {
    let on = 0;
    for (const [place, count] of places) if (isOnGrid(place - at + farthest, quarter, COARSE)) on += count;
    return on / attacks.length;
  });
  const most = Math.max(...shares);
  if (most < ON_GRID) return [];
  return shares.flatMap((share, at) => (share >= most - AS_MANY ? [at - farthest] : []));
}

/** When a strand strikes, evenly sampled. */
function attacksOf(ticks: Float64Array, clock: Clock, most: number): Attack[] {
  const stride = Math.ceil(ticks.length / most);
  return [...ticks]
    .filter((_, index) => index % stride === 0)
    .map((tick) => {
      const bar = barAt(clock, tick);
      const full = (4 * clock.ticksPerQuarter * bar.meter.numerator) / bar.meter.denominator;
      const spread = (SPREAD * 1e6 * clock.ticksPerQuarter) / tempoAt(clock, tick);
      return {
        tick,
        // An upbeat is the end of a bar.
        at: tick - bar.start + (bar.isUpbeat ? full - bar.length : 0),
        length: full,
        beats: beatsIn(bar.meter, clock.ticksPerQuarter),
        scale: 1 / Math.max(1, spread),
      };
    });
}

const beatsIn = (meter: Parameters<typeof barSpan>[0]['meter'], quarter: number): number[] => {
  const full = (4 * quarter * meter.numerator) / meter.denominator;
  const isCompound = meter.denominator >= 8 && meter.numerator % 3 === 0;
  const beat = isCompound ? (3 * 4 * quarter) / meter.denominator : (4 * quarter) / meter.denominator;
  return Array.from({ length: Math.round(full / beat) }, (_, index) => index * beat);
};

/** How far a place lies from a multiple of a step. */
const toGrid = (place: number, step: number): number => Math.abs(place - Math.round(place / step) * step);

/** What a place is worth that lies so far from what has a likelihood. */
function worthAt(away: number, scale: number, prior: number): number {
  const deviations = away * scale;
  return prior - (deviations * deviations) / 2;
}

function likelihood({ at, length, beats, scale }: Attack, offset: number, quarter: number): number {
  const place = (((at - offset) % length) + length) % length;
  const fine = Math.min(toGrid(place, quarter / 4), toGrid(place, quarter / 3));
  let best = Math.max(
    ELSEWHERE,
    worthAt(Math.min(place, length - place), scale, ON_BAR),
    worthAt(toGrid(place, quarter / 2), scale, ON_EIGHTH),
    worthAt(fine, scale, ON_FINE),
  );
  for (const beat of beats) best = Math.max(best, worthAt(Math.abs(place - beat), scale, ON_BEAT));
  return best;
}

/** The share of attacks that lie about a multiple of one of the steps, in ticks. */
function shareNear(attacks: readonly Attack[], offset: number, steps: readonly number[]): number {
  const isNear = ({ at, scale }: Attack, step: number) => toGrid(at - offset, step) * scale <= NEAR;
  return attacks.filter((attack) => steps.some((step) => isNear(attack, step))).length / attacks.length;
}

const isOnGrid = (place: number, quarter: number, parts: readonly number[]): boolean =>
  parts.some((count) => toGrid(place, quarter / count) <= EXACT);

/** The share of attacks that stand on a 16th or a triplet eighth to the tick. */
function shareOnGrid(
  attacks: readonly Attack[],
  quarter: number,
  offset: number,
  parts: readonly number[] = COARSE,
): number {
  return attacks.filter(({ at }) => isOnGrid(at - offset, quarter, parts)).length / attacks.length;
}

/** A performance with all notes and lyrics so many ticks earlier; the clock and what stands on it stay. */
export const movedEarlier = (performance: Performance, ticks: number): Performance =>
  ticks === 0 ? performance : remembered(performance, EARLIER, { performance, ticks });

const EARLIER = node(
  'earlier',
  ({ performance, ticks }: { performance: Performance; ticks: number }): Performance => ({
    ...performance,
    strands: performance.strands.map((strand) =>
      remembered(strand, STRAND_EARLIER, { strand, ticks, clock: performance.clock }),
    ),
    lyrics: performance.lyrics.map((each) => ({ ...each, tick: Math.max(0, each.tick - ticks) })),
  }),
);

/** One strand so many ticks earlier, with what shapes its sound; what would come before the file begins, begins with it. */
const STRAND_EARLIER = node(
  'strand earlier',
  ({ strand, ticks, clock }: { strand: Strand; ticks: number; clock: Clock }): Strand => ({
    ...strand,
    ...makeStrand(
      {
        ...strand,
        notes: strand.notes.map((note) => {
          // What is struck ahead of the first beat cannot sound before the file does: it is not late there.
          const isCut = ticks < 0 && note.on < -ticks;
          const on = isCut ? note.on : Math.max(0, note.on - ticks);
          return { ...note, on, off: Math.max(on + 1, note.off - ticks) };
        }),
        shaping: strand.shaping.map(({ order, event }) => ({
          order,
          event: event.tick === 0 ? event : { ...event, tick: Math.max(0, event.tick - ticks) },
        })),
      },
      clock,
    ),
  }),
);
