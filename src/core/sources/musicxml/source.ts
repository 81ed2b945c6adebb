import { finished, type Steps } from '../../basics/steps';
import { MOST_BARS } from '../../model/clock';
import type { PartId, SourceId } from '../../model/ids';
import type { Mend } from '../../model/mend';
import type { Unbarred } from '../../model/performance';
import type { Score } from '../../model/score';
import { type Performed, performScore } from '../../perform';
import { MOST_TIMES } from '../../perform/bar-order';
import { ALL_PLAYED, type PerformSettings } from '../../perform/settings';
import { applied, type Change } from './changes';
import { encodeXml } from './encoding';
import { type KeptNames, type PartNames, playedOut } from './played';
import { readMusicXmlInSteps, readPartsAgain } from './read';
import type { KeptDocument } from './splice';

/** A score as a source: what is read, and what is heard when it is played. */
export interface ScoreReading {
  source: SourceId;
  /** The document as it came, plain or packed. */
  bytes: Uint8Array;
  document: KeptDocument;
  /** The id in the document of each part. */
  xmlIds: ReadonlyMap<PartId, string>;
  score: Score;
  /** As the document has it, before notes were named by what is played of them. */
  asRead: Score;
  /** The same with its names. */
  original: Score;
  /** What each note is called in the document's places, by its id in the score; for each part. */
  readAs: readonly ReadonlyMap<string, string>[];
  names: readonly PartNames[];
  /** As it is played, before its bars are decided. */
  played: Unbarred;
  performed: Performed;
  /** What its parts and notes were called in the version before. */
  kept: KeptNames | null;
  mends: Mend[];
  /** Where the playing ends before the repeats do. */
  cut: readonly Mend[];
  /** Elements of the document that the score has no place for, by name, with how often. */
  lost: ReadonlyMap<string, number>;
}

/** Reads a score and plays it. @throws BadSourceError with a sentence for people */
export function* readScore(bytes: Uint8Array, source: SourceId): Steps<ScoreReading> {
  const { score: asRead, document, partIds, mends, lost } = yield* readMusicXmlInSteps(bytes, source);
  return played({ source, bytes, document, mends, lost, asRead, partIds, kept: null }, ALL_PLAYED, asRead);
}

/** The same score played in another way, or with notes of it edited. @param edited by the names of `asRead` */
export const playedAgain = (
  reading: ScoreReading,
  settings: PerformSettings,
  edited: Score = reading.asRead,
): ScoreReading => ({
  ...played({ ...reading, partIds: [...reading.xmlIds.values()] }, settings, edited),
  original: reading.original,
});

/** The same score, its parts and notes called as they were in the version before. */
export const calledAs = (reading: ScoreReading, kept: KeptNames): ScoreReading =>
  played({ ...reading, kept, partIds: [...reading.xmlIds.values()] }, ALL_PLAYED, reading.asRead);

/**
 * The same score as its document says it with some changes in its text. What was mended and lost is told of the
 * document as it came.
 *
 * @param changes by the index of the part
 * @param named what its parts and notes are called, by how they are read
 */
export function readAgain(
  before: ScoreReading,
  changes: ReadonlyMap<number, readonly Change[]>,
  named: (now: Pick<ScoreReading, 'asRead' | 'document'>) => KeptNames,
): ScoreReading {
  const { document, asRead, source } = before;
  const some = readPartsAgain({ document, score: asRead }, source, changes);
  const text =
    some?.document.text ?? applied(document.text, [...changes.values()].flat(), 0, document.text.length);
  const bytes = encodeXml(text);
  const all = some ? null : finished(readMusicXmlInSteps(bytes, source));
  const now = { asRead: some?.score ?? all!.score, document: some?.document ?? all!.document };
  return played(
    { ...before, ...now, bytes, kept: named(now), partIds: [...before.xmlIds.values()] },
    ALL_PLAYED,
    now.asRead,
  );
}

type Read = Pick<ScoreReading, 'source' | 'bytes' | 'document' | 'mends' | 'lost' | 'asRead' | 'kept'> & {
  partIds: readonly string[];
};

function played({ partIds, ...read }: Read, settings: PerformSettings, score: Score): ScoreReading {
  const performed = performScore(score, settings);
  const made = playedOut(score, performed, read.source, read.kept);
  const xmlIds = new Map(made.score.parts.map(({ id }, index) => [id, partIds[index]!]));
  return { ...read, xmlIds, original: made.score, ...made, performed, cut: cutsOf(score, performed) };
}

/** Where playing the score out would go on for longer than any piece does. */
function cutsOf({ bars }: Score, { order }: Performed): Mend[] {
  const most = MOST_BARS.toLocaleString('en');
  const absurd = bars.filter(({ right }) => (right?.repeat?.times ?? 0) > MOST_TIMES);
  return [
    ...absurd.map(({ number, right }) => ({
      at: 0,
      what: `The repeat at the end of bar ${number} is to be played ${(right?.repeat?.times ?? 0).toLocaleString('en')} times.`,
      done: `Played ${MOST_TIMES} times; the score is whole.`,
    })),
    ...(order.length < MOST_BARS
      ? []
      : [
          {
            at: 0,
            what: `Played out, this score goes on for ${most} bars or more.`,
            done: `Played to bar ${bars[order.at(-1)!.bar]!.number}, ${most} bars in all; the score is whole.`,
          },
        ]),
  ];
}
