import type { Moment } from '../model/time';
import type { Unit, UnitPair } from './align-bars';
import type { ReadNote } from './reading';

/** How a note of two readings can differ, and whether it is in both. */
export const DIFFERENCES = [
  'missing',
  'added',
  'pitch',
  'octave',
  'onset',
  'length',
  'spelling',
  'part',
  'voice',
] as const;
export type Difference = (typeof DIFFERENCES)[number];

/** One note of two readings. */
export interface Entry {
  one: ReadNote | null;
  two: ReadNote | null;
  /** Empty where they agree. */
  differs: Difference[];
  /** Where the note should stand in the other reading; null where that has no such bar. */
  at: Moment | null;
}

/** What a bar's pair is: bars of two readings, and what became of those that only one has. */
export interface BarPair {
  /** Indices of bars in the order of playing. */
  one: number | null;
  two: number | null;
  /** Of a bar that only one reading has: the bar of the same reading that it plays again. */
  again?: number;
}

/** A line of one reading and what it is in the other. */
export interface LineMatch {
  one: number | null;
  two: number | null;
  /** Semitones that it sounds higher in the other as a whole. */
  transposed: number;
  /** It is one line in both; else it went into another, or came out of one. */
  whole: boolean;
}

/** Something about bars that two readings say differently. */
export interface ClockDifference {
  kind: 'tempo' | 'meter' | 'key' | 'number';
  /** Index of the bar of each reading. */
  one: number;
  two: number;
  says: [string, string];
}

/** The note-by-note agreement of two readings. */
export interface Ledger {
  entries: Entry[];
  lines: LineMatch[];
  bars: BarPair[];
  clock: ClockDifference[];
  /** How their times were laid over each other. */
  by: 'bars' | 'beats' | 'order';
  /** The stretches that were laid over each other for it. */
  units: { of: readonly [readonly Unit[], readonly Unit[]]; pairs: readonly UnitPair[] };
}

export interface Totals {
  agree: number;
  differ: number;
  /** By kind; a note that differs in two ways counts in both. */
  kinds: Record<Difference, number>;
}

/** What entries come to. */
export function totalsOf(entries: Iterable<Pick<Entry, 'differs'>>): Totals {
  const kinds = Object.fromEntries(DIFFERENCES.map((kind) => [kind, 0])) as Record<Difference, number>;
  let agree = 0;
  let differ = 0;
  for (const { differs } of entries) {
    if (differs.length === 0) agree++;
    else differ++;
    for (const kind of differs) kinds[kind]++;
  }
  return { agree, differ, kinds };
}

/** Share of notes that agree, of all that either reading has; 1 of none. */
export const agreement = ({ agree, differ }: Pick<Totals, 'agree' | 'differ'>): number =>
  agree + differ === 0 ? 1 : agree / (agree + differ);
