import type { Change, Refusal } from '../clean';
import type { FretsChoice } from '../decisions/kinds/frets';
import type { ShorthandUse } from '../decisions/kinds/shorthand';
import type { Folded } from '../edit/fold';
import type { RhythmFinding } from '../explain/findings';
import type { ListedForm } from '../explain/form';
import type { ListedMark } from '../explain/marks';
import type { Uses } from '../explain/uses';
import type { Stop } from '../infer/frets/fingering';
import type { Lead } from '../infer/lead/lead-of';
import type { Clef } from '../model/clefs';
import type { Meter } from '../model/clock';
import type { Groups } from '../model/groups';
import type { EventId, PartId, SourceId, StrandId } from '../model/ids';
import type { Interval, Pitch } from '../model/pitch';
import type { PartGroup, SwingMark, Transposition } from '../model/score';
import type { Sign } from '../model/signs';
import type { Moment } from '../model/time';
import type { Read, Rule } from '../recording/heard';
import type { SoundFacts } from '../recording/levels';
import type { SourceKind } from '../sources';
import type { LaneUse } from '../stock/controllers';
import type { Inventory } from '../stock/inventory';
import type { KitUse } from '../stock/kits';
import type { Account } from '../transcribe';
import type { BarSaid } from './bars-said';
import type { Harmony } from './harmony';

/** What a list of jobs says of a file. */
export interface Opened {
  title: string;
  strands: number;
  notes: number;
}

/** What a source holds under a brief, and what its cleaning did. */
export interface Stock {
  revision: number;
  /** The source that leads, and the name of its file. */
  source: SourceId;
  name: string;
  /** Whether it is a performance, a score or a recording. */
  kind: SourceKind;
  /** Of a recording: what was heard, and what is taken of it. */
  heard: HeardStock | null;
  /** Of a score: what becomes of its marks when it is played, what of its document has no place here, and which techniques are asked for. */
  marks: { became: MarkUse[]; silent: MarkUse[]; lost: MarkUse[]; techniques: string[] } | null;
  /** Notes in it, as read and as far as its time can be believed beyond that. */
  notes: number;
  /** Notes that cleaning took out, counted step by step. */
  removed: number;
  /** Notes that several players have, one for each player more. */
  shared: number;
  /** Added by hand. */
  added: number;
  /** Beats are followed as they are heard, since nothing is decided of them and the file’s say nothing. */
  followsHeard: boolean;
  inventory: Inventory;
  changes: Change[];
  /** What was decided and cannot be done. */
  refusals: Refusal[];
  /** The lanes of the source, whatever cleaning does to them. */
  lanes: LaneUse[];
  kits: KitUse[];
}

/** What was heard in a recording, and what is taken of it as it is decided. */
export interface HeardStock {
  facts: SoundFacts;
  /** Cents above 440 Hz, taken out of the notes. */
  tuning: number;
  guess: 'line' | 'many';
  read: Read;
  /** Whether it was heard as a band, too. */
  isBand: boolean;
  /** Chords that were heard, where it is read as a band. */
  chords: number | null;
  taken: number;
  /** Of them so many want a look. */
  doubtful: number;
  /** Notes that each rule alone keeps out; of a line none knows any. */
  kept: Readonly<Record<Rule, number>> | null;
  /** Notes that are left out below the threshold, and outside the passage. */
  below: number;
  outside: number;
  /** How many may-be notes are how sure under the rules that are on, in twentieths from 0 to 1. */
  sureness: number[];
}

/** So many marks of one kind, and what they became. */
export interface MarkUse {
  name: string;
  count: number;
  as?: string;
}

/** What the playing of a score speaks for. */
export interface Listed {
  /** Part by part. */
  marks: ListedMark[];
  /** What comes again. */
  form: ListedForm[];
}

/** What the page needs to know of a score; the score itself stays in the worker. */
export interface ScoreSummary {
  /** The state that it was made of. */
  revision: number;
  title: string;
  composer: string;
  copyright: string;
  /** Printed number of each bar. */
  bars: number[];
  parts: PartSummary[];
  /** Brackets and braces over them. */
  groups: readonly PartGroup[];
  /** What wants a look in the rhythm, in order of bars. */
  findings: RhythmFinding[];
  /** The score that is handed over, where what comes again is written as signs. */
  folded: (Pick<Folded, 'again' | 'differences' | 'unsaid' | 'cut'> & { bars: number }) | null;
  key: { fifths: number; minor: boolean; changes: number };
  keyWhy: string;
  account: Account;
  lostLyrics: number;
  /** Notes that were decided to stand after the end of the piece. */
  placedBeyond: number;
  /** What was decided about the page and could not be done, as sentences. */
  undone: readonly string[];
  upbeatQuarters: number;
  swings: readonly SwingMark[];
  foundSwings: readonly SwingMark[];
  /** Bars of irregular meters, in order. */
  grouped: readonly GroupedBar[];
  /** First tick of each bar, and the tick after the last. */
  barTicks: number[];
  firstBar: number;
  /** Where each bar begins on paper. */
  barStarts: readonly Moment[];
  /** The meter of the first bar, and of each bar that has another than the one before. */
  meters: readonly { bar: number; meter: Meter }[];
  /** Bars at which something stands for all parts. */
  said: readonly BarSaid[];
}

/** How the beats of a bar group, in units of its meter's denominator. */
export interface GroupedBar {
  /** Index of the bar. */
  bar: number;
  meter: Meter;
  groups: Groups;
  found: Groups;
}

export interface PartSummary {
  id: PartId;
  /** Under which its decisions stand. */
  leader: StrandId;
  name: string;
  abbreviation: string;
  instrument: string;
  /** How a fretted instrument is read, where that was decided. */
  frets: FretsChoice | null;
  /** Chords that no hand can stop, and the bar of the first; of what is read from tablature. */
  unplayable: number;
  firstUnplayable: number | null;
  /** How much higher than it came it is to sound. */
  sounds: Interval;
  /** Written to sounding pitch, at its start. */
  transposition: Transposition;
  /** The same in a score that was read, before any decision. */
  cameTransposed?: Transposition;
  staves: number;
  /** Bars that are like the one before, and whether they are written short. */
  likeBars: number;
  shorthand: ShorthandUse;
  strands: StrandId[];
  why: string;
  /** For each strand how far it sounds ahead of the beat, as decided and as found. */
  leads: readonly Lead[];
  foundLeads: readonly Lead[];
  notes: number;
  /** Notes that its instrument does not have; the index of the bar with the first of them, null for none. */
  outOfRange: number;
  firstOutOfRange: number | null;
  /** Of percussion: the names of its sounds, as they stand on the staff from the top. */
  setUp: readonly string[];
  /** Index of the bar in which it sounds first. */
  enters: number;
  /** Usual spread of its attacks in milliseconds. */
  spread: number;
  /** The values that its rhythm uses. */
  uses: Uses;
}

/** A played note and what it became. Moments from the start of the piece; `played` with nothing taken out. */
export interface PlayedAndWritten {
  id: EventId;
  key: number;
  velocity: number;
  playedStart: number;
  playedEnd: number;
  start: number;
  end: number;
  grace: boolean;
  decided: boolean;
}

/** Some parts over some bars, twice: as played, and as the one document to engrave. */
export interface InterlinearData {
  document: string;
  /** Start of each bar, and the end of the last. */
  bars: { start: number; end: number; number: number; beats: number[] }[];
  /** The parts in the order of the document. */
  rows: InterlinearRow[];
}

export interface InterlinearRow {
  part: PartId;
  staves: number;
  notes: PlayedAndWritten[];
  /** Notes that no staff can show, of the whole part and so outside its range. */
  unwritable: { id: EventId; key: number; playedStart: Moment; playedEnd: Moment }[];
  /** The range of the whole part, MIDI numbers of sounding pitch. */
  lowest: number;
  highest: number;
}

/** One reading of a note as small notation. */
export interface Choice {
  start: string;
  grace: boolean;
  document: string;
  bar: number;
  words: string;
  worse: number;
}

/** Where a written note comes from. Ticks, keys and seconds as in the source; `bar` is an index. */
export interface NoteOrigin {
  id: EventId;
  strandId: StrandId;
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
  /** As it is written, with the signature there, and where tablature has it; absent for drums, and for what is not in the score. */
  written?: { pitch: Pitch; fifths: number; stop?: Stop };
  /** Its voice and staff with the clef there, and how many staves its part is read from; absent for what is not in the score. */
  line?: { voice: number; staff: number; clef: Clef; staves: number };
  /** Signs that stand at it or its chord, or begin there. */
  signs?: Sign[];
  /** Chord and key where it begins, as its part writes them. */
  harmony?: Harmony;
  /** From where to where it is written, in ticks; absent for what is not in the score. */
  span?: { from: number; to: number };
  /** The same in quarter notes from the start of the score, as the brief says them. */
  place?: { start: string; end: string };
  /** How far it was moved by decision, in that state. */
  moved: Interval;
}
