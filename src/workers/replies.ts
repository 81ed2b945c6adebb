import type { Change } from '../core/clean';
import type { LaneUse } from '../core/stock/controllers';
import type { Inventory } from '../core/stock/inventory';
import type { KitUse } from '../core/stock/kits';
import type { Account } from '../core/transcribe';

/** What a list of jobs says of a file. */
export interface Opened {
  title: string;
  strands: number;
  notes: number;
}

/** What a source holds under a brief, and what its cleaning did. */
export interface Stock {
  inventory: Inventory;
  changes: Change[];
  /** The lanes of the source, whatever cleaning does to them. */
  lanes: LaneUse[];
  kits: KitUse[];
}

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
  strandId: string;
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
