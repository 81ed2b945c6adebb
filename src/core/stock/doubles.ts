import { steppedNode } from '../basics/graph';
import { rememberedInSteps } from '../basics/remember';
import { eachInSteps, finished, type Steps } from '../basics/steps';
import { recogniseInstrument } from '../instruments/recognise';
import { barAt, type Clock, secondsAt, tickAt } from '../model/clock';
import type { StrandId } from '../model/ids';
import type { Performance, PlayedNote, Strand } from '../model/performance';

/** A strand that plays what another plays. Bars are printed numbers. */
export interface Double {
  strand: StrandId;
  of: StrandId;
  /** Semitones from the original up to the double: 0, ±12, ±24. */
  shift: number;
  /** Share of the double's notes that the original has too. */
  share: number;
  /** The whole strand, or these passages. */
  whole: boolean;
  passages: { from: number; to: number; notes: number }[];
  /** Most likely copied to thicken the sound, rather than composed. */
  copied: boolean;
  why: string;
}

/** Two attacks this near count as one for doubling (common practice for a double played in). */
const TOLERANCE_SECONDS = 0.03;
const SHIFTS = [0, 12, -12, 24, -24];
const WHOLE = 0.95;
const SAMPLE = 64;
const FEWEST = 8;
const PASSAGE_BARS = 2;

interface Indexed {
  strand: Strand;
  /** Onset ticks by key, ascending. */
  onsets: (number[] | undefined)[];
  /** For each note the ticks that count as the same moment, and the index of its bar. */
  reach: Float64Array;
  bars: Int32Array;
  instrument: string;
  /** Most onsets lie on no common grid, so equal ticks tell a copy. */
  loose: boolean;
}

/**
 * Finds strands that double others, wholly or in passages, in unison or one or
 * two octaves away, whatever their velocities. A first look at a sample of
 * notes keeps the search near linear in the number of notes.
 */
export const doublesInSteps = (performance: Performance): Steps<Double[]> =>
  rememberedInSteps(performance, DOUBLES, { performance });

const DOUBLES = steppedNode('doubles', ({ performance }: { performance: Performance }) =>
  search(performance),
);

export const findDoubles = (performance: Performance): Double[] => finished(doublesInSteps(performance));

function* search({ strands, clock }: Performance): Steps<Double[]> {
  const indexed = yield* eachInSteps(
    strands.filter((strand) => strand.notes.length >= FEWEST),
    (strand) => index(strand, clock),
  );
  const doubles: Double[] = [];
  for (let a = 0; a < indexed.length; a++)
    for (let b = a + 1; b < indexed.length; b++) {
      // The later or the smaller of the two is the double.
      const [original, double] =
        indexed[b]!.strand.notes.length > indexed[a]!.strand.notes.length
          ? [indexed[b]!, indexed[a]!]
          : [indexed[a]!, indexed[b]!];
      const found = SHIFTS.map((shift) => compare(original, double, shift, clock)).filter(
        (each) => each !== null,
      );
      const best = found.sort((x, y) => y.share - x.share)[0];
      if (best) doubles.push(best);
      yield;
    }
  return doubles;
}

function index(strand: Strand, clock: Clock): Indexed {
  const onsets: Indexed['onsets'] = [];
  let onGrid = 0;
  for (const note of strand.notes) {
    const known = onsets[note.key];
    if (known) known.push(note.on);
    else onsets[note.key] = [note.on];
    const twelfth = (12 * note.on) / clock.ticksPerQuarter;
    const eighth = (8 * note.on) / clock.ticksPerQuarter;
    if (Number.isInteger(twelfth) || Number.isInteger(eighth)) onGrid++;
  }
  return {
    strand,
    onsets,
    reach: Float64Array.from(
      strand.notes,
      (note) => tickAt(clock, secondsAt(clock, note.on) + TOLERANCE_SECONDS) - note.on,
    ),
    bars: Int32Array.from(strand.notes, (note) => barAt(clock, note.on).index),
    instrument: recogniseInstrument(strand).instrument.id,
    loose: onGrid < strand.notes.length * 0.5,
  };
}

/** How far the nearest onset of the original is from a note, in ticks; infinite where it has none. */
function distance({ onsets: byKey }: Indexed, note: PlayedNote, shift: number): number {
  const onsets = byKey[note.key - shift];
  if (!onsets) return Number.POSITIVE_INFINITY;
  let low = 0;
  let high = onsets.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (onsets[middle]! < note.on) low = middle + 1;
    else high = middle;
  }
  const after = Math.abs(onsets[low]! - note.on);
  return low > 0 ? Math.min(after, Math.abs(onsets[low - 1]! - note.on)) : after;
}

function compare(original: Indexed, double: Indexed, shift: number, clock: Clock): Double | null {
  const { reach, bars } = double;
  const { notes } = double.strand;
  const step = Math.max(1, Math.floor(notes.length / SAMPLE));
  let hits = 0;
  for (let at = 0; at < notes.length; at += step)
    if (distance(original, notes[at]!, shift) <= reach[at]!) hits++;
  if (hits < Math.min(FEWEST, Math.ceil(notes.length / step / 2))) return null;

  const byBar = new Map<number, { all: number; matched: number }>();
  let count = { all: 0, matched: 0 };
  let matched = 0;
  let equal = 0;
  notes.forEach((note, at) => {
    if (at === 0 || bars[at] !== bars[at - 1]) {
      count = { all: 0, matched: 0 };
      byBar.set(bars[at]!, count);
    }
    count.all++;
    const off = distance(original, note, shift);
    if (off > reach[at]!) return;
    count.matched++;
    matched++;
    if (off <= 1) equal++;
  });
  const share = matched / notes.length;
  const whole = share >= WHOLE;
  const passages = whole ? [] : passagesOf(byBar, clock);
  if (!whole && passages.length === 0) return null;
  const sameTicks = equal > 0.9 * matched && original.loose && double.loose;
  const sameInstrument = original.instrument === double.instrument;
  const copied = sameTicks || (whole && sameInstrument);
  return {
    strand: double.strand.id,
    of: original.strand.id,
    shift,
    share: Math.round(1000 * share) / 1000,
    whole,
    passages,
    copied,
    why: sameTicks
      ? 'Its notes fall on the very ticks of the other, as copies do.'
      : copied
        ? 'Both are the same instrument.'
        : 'Two different players in unison or octaves: most likely composed.',
  };
}

/** Runs of bars in which every note of the double is matched; bars without notes do not break a run. */
function passagesOf(
  byBar: ReadonlyMap<number, { all: number; matched: number }>,
  clock: Clock,
): Double['passages'] {
  const numberOf = (bar: number) => bar + clock.firstBar - (clock.upbeat > 0 ? 1 : 0);
  const passages: Double['passages'] = [];
  let run: { from: number; to: number; notes: number } | null = null;
  const close = () => {
    if (run && run.notes >= FEWEST && run.to - run.from + 1 >= PASSAGE_BARS)
      passages.push({ from: numberOf(run.from), to: numberOf(run.to), notes: run.notes });
    run = null;
  };
  for (const [bar, { all, matched }] of [...byBar].sort((a, b) => a[0] - b[0])) {
    if (matched < all) close();
    else if (run) run = { from: run.from, to: bar, notes: run.notes + all };
    else run = { from: bar, to: bar, notes: all };
  }
  close();
  return passages;
}
