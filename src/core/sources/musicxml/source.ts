import type { Steps } from '../../basics/steps';
import type { PartId, SourceId } from '../../model/ids';
import type { Mend } from '../../model/mend';
import type { Score } from '../../model/score';
import { type Performed, performScore } from '../../perform';
import type { Smf } from '../smf/events';
import { asFile } from './as-file';
import { readMusicXmlInSteps } from './read';
import type { KeptDocument } from './splice';

/** A score as a source: what is read, and what is heard when it is played. */
export interface ScoreReading {
  /** The document as it came, plain or packed. */
  bytes: Uint8Array;
  document: KeptDocument;
  /** The id in the document of each part. */
  xmlIds: ReadonlyMap<PartId, string>;
  score: Score;
  /** What each note is called in the document's places, by its id in the score. */
  readAs: ReadonlyMap<string, string>;
  /** As it is played, as a file of events. */
  file: Smf;
  performed: Performed;
  mends: Mend[];
  /** Elements of the document that the score has no place for, by name, with how often. */
  lost: ReadonlyMap<string, number>;
}

/** Reads a score and plays it. @throws BadSourceError with a sentence for people */
export function* readScore(bytes: Uint8Array, source: SourceId): Steps<ScoreReading> {
  const { score: read, document, partIds, mends, lost } = yield* readMusicXmlInSteps(bytes, source);
  const performed = performScore(read);
  yield;
  const made = asFile(read, performed, source);
  const xmlIds = new Map(made.score.parts.map(({ id }, index) => [id, partIds[index]!]));
  return { bytes, document, xmlIds, ...made, performed, mends, lost };
}
