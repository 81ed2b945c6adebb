import type { Family, Instrument } from '../instruments/catalogue';
import type { Spanner } from '../model/marks';
import { diatonicHeight } from '../model/pitch';
import type { Bar, Clef, PartBar, PartChange } from '../model/score';
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
  first: { bar: number; at: Moment; note: string } | null;
}

/**
 * The clefs and octave lines of one staff, by dynamic programming over bars
 * and rests: what spares most ledger lines for the fewest changes.
 *
 * @param bars of the part, with written pitches
 * @param staff from 1
 * @param clefs that its reader reads, the usual one first
 */
export function readStaff(
  bars: readonly PartBar[],
  of: readonly Bar[],
  staff: number,
  clefs: readonly Clef[],
  { family }: Pick<Instrument, 'family'>,
): StaffReading {
  const usual = clefs[0] ?? 'treble';
  const states = statesFor(clefs, family);
  const segments = segmentsOf(bars, of, staff);
  const path = cheapest(states, segments, family === 'keyboard' ? UNUSUAL_HAND : UNUSUAL);
  const opening = states[path[0] ?? 0] ?? { clef: usual, octave: 0 };
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

function statesFor(clefs: readonly Clef[], family: Family): State[] {
  const plain = clefs.map((clef): State => ({ clef, octave: 0 }));
  if (!READS_OCTAVES.has(family)) return plain;
  const [usual] = clefs;
  // Low strings have clefs for what lies high; who knows one clef only has that an octave off.
  const up = clefs.includes('treble') ? 'treble' : family === 'strings' ? undefined : usual;
  const isKeyed = family === 'keyboard' || family === 'electronic';
  return [
    ...plain,
    ...(up && up !== 'percussion' ? [{ clef: up, octave: 1 as const }] : []),
    ...(isKeyed && clefs.includes('bass') ? [{ clef: 'bass' as const, octave: -1 as const }] : []),
  ];
}

function segmentsOf(bars: readonly PartBar[], of: readonly Bar[], staff: number): Segment[] {
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
    return [...new Set(cuts)].map((at, cut): Segment => {
      const next = cuts[cut + 1] ?? of[index]!.length;
      const own = chords.filter((chord) => chord.at >= at && chord.at < next);
      const end = own.reduce((last, chord) => Math.max(last, chord.end), at);
      return {
        bar: index,
        at,
        chords: own,
        end: { bar: index, at: Math.min(end, of[index]!.length) },
        first: own[0] ? { bar: index, at: own[0].at, note: own[0].note } : null,
      };
    });
  });
}

/** Ledger lines under and over a staff. */
const ledgers = (steps: number): number => Math.max(0, steps >> 1);

function costOf({ clef, octave }: State, usual: Clef, unusual: number, { chords }: Segment): number {
  const [bottom, top] = LINES[clef];
  let cost = 0;
  for (const { low, high } of chords) {
    cost += ledgers(bottom - (low - 7 * octave)) ** HARD + ledgers(high - 7 * octave - top) ** HARD;
    if (clef !== usual) cost += unusual;
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
