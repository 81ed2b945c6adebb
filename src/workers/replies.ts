import type { Account } from '../core/transcribe';

/** What the page needs to know of a score; the score itself stays in the worker. */
export interface ScoreSummary {
  title: string;
  /** Printed number of each bar. */
  bars: number[];
  parts: PartSummary[];
  key: { fifths: number; minor: boolean; changes: number };
  keyWhy: string;
  account: Account;
  lostLyrics: number;
  upbeatQuarters: number;
  firstBar: number;
}

export interface PartSummary {
  id: string;
  name: string;
  abbreviation: string;
  instrument: string;
  staves: number;
  strands: string[];
  why: string;
  /** Seconds by which the part sounds ahead of the beat. */
  lead: number;
  notes: number;
}

/** Where a written note comes from. Ticks, keys and seconds as in the source; `bar` is an index. */
export interface NoteOrigin {
  id: string;
  strand: string;
  track: number;
  channel: number;
  key: number;
  velocity: number;
  on: number;
  off: number;
  bar: number;
  beat: number;
  offset: number;
  seconds: number;
  milliseconds: number;
}
