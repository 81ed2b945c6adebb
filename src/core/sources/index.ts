import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import { whole } from '../basics/same';
import { finished } from '../basics/steps';
import { FIRST_SOURCE, type SourceId } from '../model/ids';
import type { Mend } from '../model/mend';
import type { Performance, Unbarred } from '../model/performance';
import type { Score } from '../model/score';
import { ALL_PLAYED, type PerformSettings } from '../perform/settings';
import { AS_HEARD, type HearingSettings } from '../recording/heard';
import { isHeard, readHeard } from './audio/document';
import type { Heard } from './audio/listen';
import { type HeardReading, heardAs } from './audio/source';
import { type ClockSetting, withBars } from './bars';
import { mayBeMusicXml } from './musicxml/read';
import { playedAgain, readScore, type ScoreReading } from './musicxml/source';
import { BadSourceError } from './refused';
import type { Smf } from './smf/events';
import { unbarredOf } from './smf/performance';
import { readSmf } from './smf/read';

export { BadSourceError } from './refused';

/** An imported file as it is kept, byte for byte. */
export interface Source {
  id: SourceId;
  /** From 1; a later version of the same source has the same id. */
  version: number;
  name: string;
  bytes: Uint8Array;
}

/** What a kind of source can do and what holds for it, as its reader declares: nobody else asks for its kind. */
export interface Abilities {
  /** Whether its beats are printed, were laid down as it was played, or are not there at all. */
  beats: 'printed' | 'laid' | 'none';
  /** Whether single notes can be added to it, left out and shaped as it was played. */
  editsNotes: boolean;
  /** Whether it can be heard again under other settings. */
  hears: boolean;
  /** Whether what is doubled or odd in it may be an accident; what is written was meant. */
  mayBeOdd: boolean;
}

interface Common {
  id: SourceId;
  version: number;
  name: string;
  /** What of it is played, before its bars are decided. */
  played: Unbarred;
  mends: Mend[];
  can: Abilities;
}

/** What was played, event by event. */
export interface PerformanceReading extends Common {
  kind: 'performance';
  file: Smf;
}

/** What is written, and how it is played. */
interface WrittenReading extends Common {
  kind: 'score';
  written: ScoreReading;
}

/** What may have been heard in a recording, and what is taken of it. */
interface RecordingReading extends Common {
  kind: 'recording';
  heard: HeardReading;
}

/** What was read out of a source: in the words of its kind, and as all kinds are played. */
export type Reading = PerformanceReading | WrittenReading | RecordingReading;

export type SourceKind = Reading['kind'];

interface Reader {
  /** By its first bytes. */
  isOne(bytes: Uint8Array): boolean;
  read(source: Source): Reading;
}

/** One reader for each kind of file; a new kind is a folder and a line here. */
const READERS: readonly Reader[] = [
  {
    // It reads what begins with anything else than markup, or says why not.
    isOne: (bytes) => !mayBeMusicXml(bytes) && !isHeard(bytes),
    read: ({ bytes, ...of }) => performanceReading(readSmf(bytes), of),
  },
  {
    isOne: mayBeMusicXml,
    read: ({ bytes, ...of }) => scoreReading(finished(readScore(bytes, of.id)), of),
  },
  {
    isOne: isHeard,
    read: ({ bytes, ...of }) => recordingReading(readHeard(bytes), AS_HEARD, of),
  },
];

type Of = Omit<Source, 'bytes'>;

/** A MIDI file that has been read, as a source. */
export const performanceReading = (
  file: Smf,
  { id, version, name }: Of = { id: FIRST_SOURCE, version: 1, name: '' },
): PerformanceReading => ({
  kind: 'performance',
  id,
  version,
  name,
  file,
  played: unbarredOf(file, id),
  mends: file.mends,
  can: { beats: 'laid', editsNotes: true, hears: false, mayBeOdd: true },
});

const scoreReading = (written: ScoreReading, { id, version, name }: Of): WrittenReading => ({
  kind: 'score',
  id,
  version,
  name,
  written,
  played: written.played,
  mends: written.mends,
  can: { beats: 'printed', editsNotes: false, hears: false, mayBeOdd: false },
});

function recordingReading(
  heard: Heard,
  settings: HearingSettings,
  { id, version, name }: Of,
): RecordingReading {
  const taken = heardAs(heard, settings, id, name.replace(/\.[^.]+$/, ''));
  return {
    kind: 'recording',
    id,
    version,
    name,
    heard: taken,
    played: taken.played,
    mends: [],
    can: { beats: 'none', editsNotes: true, hears: true, mayBeOdd: true },
  };
}

/** A reading with its bars as they were decided. */
export const performanceOf = ({ played }: Reading, setting: ClockSetting = {}): Performance =>
  remembered(played, PERFORMANCE, { played, setting });

const PERFORMANCE = node('performance', (of: { played: Unbarred; setting: ClockSetting }) =>
  withBars(of.played, of.setting),
);

/** A recording as it is taken under some settings; what is none is what it is. */
export function heardBy(reading: Reading, settings: HearingSettings): Reading {
  if (reading.kind !== 'recording' || settings === AS_HEARD) return reading;
  const { heard } = reading.heard;
  return remembered(heard, HEARD, { reading, heard, settings });
}

const HEARD = node('heard', (of: { reading: Reading; heard: Heard; settings: HearingSettings }) =>
  recordingReading(of.heard, of.settings, of.reading),
);

/** What is done to single notes of a score, and what does it. */
export interface PitchEdits<T = unknown> {
  edits: T;
  /** A function at the top of its file: what it makes depends on what it is handed alone. */
  make(written: ScoreReading, edits: T): Score;
}

/** The same source with its score read, or called, otherwise. */
export const withScore = (reading: Reading, written: ScoreReading): Reading => scoreReading(written, reading);

/**
 * A source as it is played under some settings, and with its notes edited; a performance is what it is.
 *
 * @param edits makes the score that is played
 */
export function playedBy(reading: Reading, settings: PerformSettings, edits: PitchEdits | null): Reading {
  if (reading.kind !== 'score' || (settings === ALL_PLAYED && !edits)) return reading;
  const { written } = reading;
  return remembered(written, PLAYED, { reading, written, settings, edits });
}

const PLAYED = node(
  'played',
  (of: { reading: Reading; written: ScoreReading; settings: PerformSettings; edits: PitchEdits | null }) =>
    scoreReading(
      playedAgain(of.written, of.settings, of.edits?.make(of.written, of.edits.edits)),
      of.reading,
    ),
);

/**
 * Reads a source by what its bytes say that it is; the name is not asked.
 * @throws BadSourceError when nothing here can read it
 */
export function readSource(source: Source): Reading {
  const reader = READERS.find((each) => each.isOne(source.bytes));
  if (!reader) throw new BadSourceError('This is no kind of file that can be opened here.');
  return whole(reader.read(source));
}
