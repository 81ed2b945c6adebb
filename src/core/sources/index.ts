import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import { whole } from '../basics/same';
import { finished } from '../basics/steps';
import { FIRST_SOURCE, type SourceId } from '../model/ids';
import type { Mend } from '../model/mend';
import type { Performance } from '../model/performance';
import type { Score } from '../model/score';
import { ALL_PLAYED, type PerformSettings } from '../perform/settings';
import { AS_HEARD, type HearingSettings } from '../recording/heard';
import { isHeard, readHeard } from './audio/document';
import { type HeardReading, heardAs } from './audio/source';
import { mayBeMusicXml } from './musicxml/read';
import { playedAgain, readScore, type ScoreReading } from './musicxml/source';
import { BadSourceError } from './refused';
import type { Smf } from './smf/events';
import { type ClockSetting, readPerformance } from './smf/performance';
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

/** What was read out of a source: the file in the words of its kind, and what of the two readings it holds. */
export interface Reading {
  id: SourceId;
  version: number;
  name: string;
  kind: 'smf' | 'musicxml' | 'heard';
  /** As events; of a score as it is played, of a recording as it is heard. */
  file: Smf;
  /** Where the source is a score: what is read. */
  written?: ScoreReading;
  /** Where it is a recording: what may have been heard in it, and what is taken. */
  heard?: HeardReading;
  mends: Mend[];
  /** The played reading, with bars as they were decided. */
  performance(setting: ClockSetting): Performance;
}

interface Reader {
  kind: Reading['kind'];
  /** By its first bytes. */
  isOne(bytes: Uint8Array): boolean;
  read(source: Source): Reading;
}

/** One reader for each kind of file; a new kind is a folder and a line here. */
const READERS: readonly Reader[] = [
  {
    kind: 'smf',
    // It reads what begins with anything else than markup, or says why not.
    isOne: (bytes) => !mayBeMusicXml(bytes) && !isHeard(bytes),
    read: ({ bytes, ...of }) => smfReading(readSmf(bytes), of),
  },
  {
    kind: 'musicxml',
    isOne: mayBeMusicXml,
    read: ({ bytes, ...of }) => scoreReading(finished(readScore(bytes, of.id)), of),
  },
  {
    kind: 'heard',
    isOne: isHeard,
    read: ({ bytes, ...of }) => heardReading(heardAs(readHeard(bytes), AS_HEARD, titleOf(of.name)), of),
  },
];

/** A MIDI file that has been read, as a source. */
export const smfReading = (
  file: Smf,
  { id, version, name }: Omit<Source, 'bytes'> = { id: FIRST_SOURCE, version: 1, name: '' },
): Reading => ({
  id,
  version,
  name,
  kind: 'smf',
  file,
  mends: file.mends,
  performance: (setting) => readPerformance(file, setting, id),
});

const scoreReading = (written: ScoreReading, of: Omit<Source, 'bytes'>): Reading => ({
  ...smfReading(written.file, of),
  kind: 'musicxml',
  written,
  mends: written.mends,
});

const heardReading = (heard: HeardReading, of: Omit<Source, 'bytes'>): Reading => ({
  ...smfReading(heard.file, of),
  kind: 'heard',
  heard,
});

const titleOf = (name: string): string => name.replace(/\.[^.]+$/, '');

/** A recording as it is taken under some settings; what is none is what it is. */
export function heardBy(reading: Reading, settings: HearingSettings): Reading {
  const { heard } = reading;
  if (!heard || settings === AS_HEARD) return reading;
  return remembered(heard.heard, HEARD, { reading, heard, settings });
}

const HEARD = node(
  'heard',
  ({ reading, heard, settings }: { reading: Reading; heard: HeardReading; settings: HearingSettings }) =>
    heardReading(heardAs(heard.heard, settings, titleOf(reading.name)), reading),
);

/** What is done to single notes of a score, and what does it. */
export interface ScoreEdits<T = unknown> {
  edits: T;
  /** A function at the top of its file: what it makes depends on what it is handed alone. */
  make(written: ScoreReading, edits: T): Score;
}

/** A score with its parts and notes called as in the version before. */
export const namedBy = (reading: Reading, written: ScoreReading): Reading => scoreReading(written, reading);

/**
 * A source as it is played under some settings, and with its notes edited; a performance is what it is.
 *
 * @param edits makes the score that is played
 */
export function playedBy(reading: Reading, settings: PerformSettings, edits: ScoreEdits | null): Reading {
  const { written } = reading;
  if (!written || (settings === ALL_PLAYED && !edits)) return reading;
  return remembered(written, PLAYED, { reading, written, settings, edits });
}

const PLAYED = node(
  'played',
  (of: { reading: Reading; written: ScoreReading; settings: PerformSettings; edits: ScoreEdits | null }) =>
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
