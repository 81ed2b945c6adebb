import { lastAt } from '../decisions/kind';
import { AS_FOUND, clefsOfStaff, type ReadClef } from '../decisions/kinds/clef';
import type { Family, Instrument } from '../instruments/catalogue';
import { type Clef, isPitchedClef, type PitchedClef } from '../model/clefs';
import type { Frame } from '../model/frame';
import type { Spanner } from '../model/marks';
import { diatonicHeight } from '../model/pitch';
import type { Bar, PartBar, PartChange } from '../model/score';
import { type Moment, QUARTER } from '../model/time';
import { LINES } from './clefs';

/** How a staff is to be read: its clef at the start, where it changes, and where notes stand an octave off. */
export interface StaffReading {
  clef: Clef;
  changes: PartChange[];
  octaves: Spanner[];
}

/**
 * What reading costs (common practice: up to three ledger lines are read at
 * sight by everybody, a change of clef or an octave line must spare many more).
 * A note with n ledger lines costs n to the power of HARD.
 */
const HARD = 1.7;
/** A change of clef, more in mid-bar; each note under a clef that is not the usual one. */
const CHANGE = 16;
const IN_BAR = 4;
const UNUSUAL = 0.5;
/** The hands of a keyboard have a staff each, and cross for long only. */
const UNUSUAL_HAND = 1.5;
/** An octave line, and each note under one. */
const LINE = 14;
const UNDER_LINE = 0.25;
/** So long all must rest for the reading to change in mid-bar. */
const REST = QUARTER;

/** Who reads octave lines: winds and voices read ledger lines instead (common practice). */
const READS_OCTAVES: ReadonlySet<Family> = new Set([
  'keyboard',
  'strings',
  'percussion',
  'plucked',
  'electronic',
]);

/** The clef that was decided for a staff at a moment of a bar; undefined for as it is found. */
export type WantedClef = (bar: number, at: Moment) => PitchedClef | undefined;

/** @param staff from 1 @returns undefined where nothing was decided */
export function wantedClef(
  choices: readonly ReadClef[] | undefined,
  staff: number,
  { ticks, clock }: Pick<Frame, 'ticks' | 'clock'>,
): WantedClef | undefined {
  const own = clefsOfStaff(choices, staff);
  if (own.length === 0) return undefined;
  return (bar, at) => {
    const tick = Math.round(ticks[bar]! + (at / QUARTER) * clock.ticksPerQuarter);
    const clef = lastAt(own, tick)?.clef;
    return clef === AS_FOUND ? undefined : clef;
  };
}

interface State {
  clef: Clef;
  /** Octaves that the notes sound above what stands on the staff. */
  octave: 0 | 1 | -1;
}

/** Music between two places at which the reading may change. */
interface Segment {
  bar: number;
  at: Moment;
  /** Lowest and highest step of each chord, as diatonic heights. */
  chords: { low: number; high: number }[];
  /** Where its last chord begins to be over. */
  end: { bar: number; at: Moment };
  /** The clef that was decided for it. */
  wanted?: PitchedClef | undefined;
  /** How it is read where nothing was decided. */
  found?: State;
  first: { bar: number; at: Moment; note: string } | null;
}

/**
 * The clefs and octave lines of one staff, by dynamic programming over bars
 * and rests: what spares most ledger lines for the fewest changes.
 *
 * @param bars of the part, with written pitches
 * @param staff from 1
 * @param clefs that its reader reads, the usual one first
 * @param wanted what was decided; all else is read as it is without
 */
export function readStaff(
  bars: readonly PartBar[],
  of: readonly Bar[],
  staff: number,
  clefs: readonly Clef[],
  { family }: Pick<Instrument, 'family'>,
  wanted?: WantedClef,
): StaffReading {
  const usual = clefs[0] ?? 'treble';
  const unusual = family === 'keyboard' ? UNUSUAL_HAND : UNUSUAL;
  let segments = segmentsOf(bars, of, staff);
  let states = statesFor(clefs, family);
  let path = cheapest(states, segments, unusual);
  if (wanted && isPitchedClef(usual)) {
    const found = new Map<number, { at: Moment; state: State }[]>();
    segments.forEach(({ bar, at }, index) => {
      found.set(bar, [...(found.get(bar) ?? []), { at, state: states[path[index]!]! }]);
    });
    segments = segmentsOf(bars, of, staff, wanted).map((each) => {
      const own = found.get(each.bar)?.findLast(({ at }) => at <= each.at);
      return own ? { ...each, found: own.state } : each;
    });
    states = statesFor(clefs, family, new Set(segments.flatMap((each) => each.wanted ?? [])));
    path = cheapest(states, segments, unusual);
  }
  const opening = states[path[0] ?? 0] ?? { clef: usual };
  const changes: PartChange[] = [];
  const octaves: Spanner[] = [];
  let clef = opening.clef;
  segments.forEach(({ bar, at, chords }, index) => {
    const state = states[path[index]!]!;
    // What rests needs no clef: the change stands before the next notes.
    if (chords.length === 0 || state.clef === clef) return;
    clef = state.clef;
    changes.push({ kind: 'clef', bar, at, staff, clef });
  });
  // A line ends where its reading does, and where the staff rests for a bar: nobody reads on under it.
  let open: Spanner | null = null;
  segments.forEach((segment, index) => {
    const { octave } = states[path[index]!]!;
    const { bar, at, chords, first, end } = segment;
    if (open && (open.kind !== 'octave' || open.octaves !== octave || (chords.length === 0 && at === 0)))
      open = null;
    if (octave === 0 || !first) return;
    const to = { ...end, staff };
    if (open) open.to = to;
    else {
      open = {
        id: `octave-${first.note}`,
        kind: 'octave',
        octaves: octave,
        from: { bar, at: first.at, staff },
        to,
        placement: octave > 0 ? 'above' : 'below',
      };
      octaves.push(open);
    }
  });
  return { clef: opening.clef, changes, octaves };
}

/** @param others clefs that its reader is to read, too */
function statesFor(clefs: readonly Clef[], family: Family, others: ReadonlySet<Clef> = new Set()): State[] {
  const all = [...new Set([...clefs, ...others])];
  const plain = all.map((clef): State => ({ clef, octave: 0 }));
  if (!READS_OCTAVES.has(family)) return plain;
  const [usual] = clefs;
  // Low strings have clefs for what lies high; who knows one clef only has that an octave off.
  const up = all.includes('treble') ? 'treble' : family === 'strings' ? undefined : usual;
  const isKeyed = family === 'keyboard' || family === 'electronic';
  return [
    ...plain,
    ...(up && up !== 'percussion' ? [{ clef: up, octave: 1 as const }] : []),
    ...(isKeyed && all.includes('bass') ? [{ clef: 'bass' as const, octave: -1 as const }] : []),
  ];
}

function segmentsOf(
  bars: readonly PartBar[],
  of: readonly Bar[],
  staff: number,
  wanted?: WantedClef,
): Segment[] {
  return bars.flatMap((bar, index): Segment[] => {
    const items = bar.voices
      .filter((line) => line.staff === staff)
      .flatMap((line) => line.items.map((item) => ({ ...item, line })))
      .sort((a, b) => a.onset - b.onset);
    const chords = items.flatMap((item) => {
      if (item.kind !== 'chord') return [];
      const heights = [...(item.graces ?? []), ...item.notes].map((note) => diatonicHeight(note.pitch));
      const [low, high] = [Math.min(...heights), Math.max(...heights)];
      return [
        {
          at: item.onset,
          end: item.onset + item.duration,
          low,
          high,
          note: item.notes[0]!.id,
        },
      ];
    });
    // Where every voice has been silent for long enough, and the first line of the part has something to write it before.
    const lead = new Set(bar.voices[0]?.items.map(({ onset }) => onset));
    const cuts: Moment[] = [0];
    let until = 0;
    for (const { at, end } of chords) {
      if (at - until >= REST && at > 0 && lead.has(at)) cuts.push(at);
      until = Math.max(until, end);
    }
    if (wanted) {
      // What was decided begins with the first note that it is about.
      let before = wanted(index, 0);
      for (const { at } of chords) {
        const now = wanted(index, at);
        if (now !== before) cuts.push(at);
        before = now;
      }
      cuts.sort((a, b) => a - b);
    }
    const starts = [...new Set(cuts)];
    return starts.map((at, cut): Segment => {
      const next = starts[cut + 1] ?? of[index]!.length;
      const own = chords.filter((chord) => chord.at >= at && chord.at < next);
      const end = own.reduce((last, chord) => Math.max(last, chord.end), at);
      return {
        bar: index,
        at,
        chords: own,
        end: { bar: index, at: Math.min(end, of[index]!.length) },
        ...(wanted && { wanted: own[0] && wanted(index, own[0].at) }),
        first: own[0] ? { bar: index, at: own[0].at, note: own[0].note } : null,
      };
    });
  });
}

/** Ledger lines under and over a staff. */
const ledgers = (steps: number): number => Math.max(0, steps >> 1);

/** Whether music may be read so, as far as that was decided. Rests are read under any clef. */
const mayBe = ({ clef, octave }: State, { chords, wanted, found }: Segment): boolean =>
  chords.length === 0 ||
  (wanted ? clef === wanted : !found || (clef === found.clef && octave === found.octave));

function costOf(state: State, usual: Clef, unusual: number, segment: Segment): number {
  if (!mayBe(state, segment)) return Number.POSITIVE_INFINITY;
  const { clef, octave } = state;
  const { chords, wanted } = segment;
  const [bottom, top] = LINES[clef];
  let cost = 0;
  for (const { low, high } of chords) {
    cost += ledgers(bottom - (low - 7 * octave)) ** HARD + ledgers(high - 7 * octave - top) ** HARD;
    if (clef !== usual && !wanted) cost += unusual;
    if (octave !== 0) cost += UNDER_LINE;
  }
  return cost;
}

function changeCost(from: State, to: State, { at }: Segment): number {
  return (
    (from.clef === to.clef ? 0 : CHANGE + (at > 0 ? IN_BAR : 0)) +
    (from.octave === to.octave || to.octave === 0 ? 0 : LINE)
  );
}

/** The cheapest state of each segment (Viterbi). */
function cheapest(states: readonly State[], segments: readonly Segment[], unusual: number): number[] {
  const usual = states[0]?.clef ?? 'treble';
  if (states.length < 2) return segments.map(() => 0);
  let costs: number[] = states.map((state) => (state.octave === 0 ? 0 : LINE));
  const backs: number[][] = [];
  segments.forEach((segment, index) => {
    const back: number[] = [];
    costs = states.map((state, to) => {
      let best = costs[to]!;
      back[to] = to;
      if (index > 0)
        states.forEach((from, at) => {
          const cost = costs[at]! + changeCost(from, state, segment);
          if (cost < best) {
            best = cost;
            back[to] = at;
          }
        });
      return best + costOf(state, usual, unusual, segment);
    });
    backs.push(back);
  });
  let at = costs.indexOf(Math.min(...costs));
  const path: number[] = [];
  for (let index = segments.length - 1; index >= 0; index--) {
    path[index] = at;
    at = backs[index]![at]!;
  }
  return path;
}
