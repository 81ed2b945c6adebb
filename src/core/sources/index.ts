import { FIRST_SOURCE, type SourceId } from '../model/ids';
import type { Mend } from '../model/mend';
import type { Performance } from '../model/performance';
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
  kind: 'smf';
  file: Smf;
  mends: Mend[];
  /** The heard reading, with bars as they were decided. */
  performance(setting: ClockSetting): Performance;
}

interface Reader {
  kind: Reading['kind'];
  /** For people, and for the file dialog. */
  name: string;
  extensions: readonly string[];
  read(source: Source): Reading;
}

/** One reader for each kind of file; a new kind is a folder and a line here. */
const READERS: readonly Reader[] = [
  {
    kind: 'smf',
    name: 'Standard MIDI File',
    extensions: ['.mid', '.midi', '.smf', '.kar', '.rmi'],
    read: ({ bytes, ...of }) => smfReading(readSmf(bytes), of),
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

/** What can be opened, for people. */
export const OPENABLE: string = READERS.map(({ name }) => name).join(', ');

/**
 * Reads a source by what its bytes say that it is; the name is not asked.
 * @throws BadSourceError when nothing here can read it
 */
export function readSource(source: Source): Reading {
  let refusal: BadSourceError | null = null;
  for (const reader of READERS) {
    try {
      return reader.read(source);
    } catch (error) {
      if (!(error instanceof BadSourceError)) throw error;
      refusal ??= error;
    }
  }
  throw refusal ?? new BadSourceError('This is no kind of file that can be opened here.');
}
