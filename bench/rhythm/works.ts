import { type Moment, QUARTER, type Span } from '../../src/core/model/time';
import more from './more.json';
import data from './works.json';

/** A note as the score of a work has it, ties joined. */
export interface TrueNote {
  start: Moment;
  end: Moment;
  key: number;
  /** From 1 within the part. */
  staff: number;
  /** From 1 within the staff, from the top. */
  voice: number;
  grace: boolean;
  tuplet: boolean;
}

export interface TruePart {
  name: string;
  staves: number;
  notes: TrueNote[];
  /** Written notes, chords and rests. */
  symbols: number;
}

export interface TrueBar {
  start: Moment;
  length: Span;
  numerator: number;
  denominator: number;
}

export interface Work {
  name: string;
  quartersPerMinute: number;
  bars: TrueBar[];
  parts: TruePart[];
}

/** The works of works.json (see scripts/rhythm-facts.py for what they are). */
export const loadWorks = (): Work[] => read(data);

/** The bars of a work of works.json as they are printed: parts of bars before and after a repeat each by itself. */
export const printedBars = (name: string): TrueBar[] => {
  const work = data.find((each) => each.name === name)!;
  return barsOf(work.bars, QUARTER / work.unit);
};

/** The works of more.json: other folders, for players that differ. */
export const loadMore = (): Work[] => read(more);

function read(works: typeof data): Work[] {
  return works.map((work) => {
    const scale = QUARTER / work.unit;
    return {
      name: work.name,
      quartersPerMinute: work.tempo,
      bars: joinBars(barsOf(work.bars, scale)),
      parts: work.parts.map((part) => ({
        name: part.name,
        staves: part.staves.length,
        symbols: part.symbols,
        notes: part.staves.flatMap((flat, index) => notesOf(flat, scale, index + 1)),
      })),
    };
  });
}

const barsOf = (bars: readonly (readonly number[])[], scale: number): TrueBar[] =>
  bars.map(([start, numerator, denominator, length]) => ({
    start: start! * scale,
    length: length! * scale,
    numerator: numerator!,
    denominator: denominator!,
  }));

function notesOf(flat: readonly number[], scale: number, staff: number): TrueNote[] {
  const notes: TrueNote[] = [];
  let at = 0;
  for (let index = 0; index < flat.length; index += 4) {
    const [step, length, key, flags] = flat.slice(index, index + 4) as [number, number, number, number];
    at += step * scale;
    notes.push({
      start: at,
      end: at + length * scale,
      key,
      staff,
      voice: flags & 3,
      grace: (flags & 4) !== 0,
      tuplet: (flags & 8) !== 0,
    });
  }
  return notes;
}

const fullLength = (bar: TrueBar): Span => (4 * QUARTER * bar.numerator) / bar.denominator;

/** Bars that a repeat sign cuts in two are one again; an upbeat stays by itself. */
export function joinBars(bars: readonly TrueBar[]): TrueBar[] {
  const out: TrueBar[] = [];
  for (const bar of bars) {
    const last = out.at(-1);
    const joins = last && out.length > 1 && last.length + bar.length === fullLength(last);
    if (joins) last.length += bar.length;
    else out.push({ ...bar });
  }
  return out;
}
