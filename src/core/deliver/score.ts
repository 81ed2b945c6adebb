import { arrangedScore } from '../cast/arrange-score';
import type { Desk } from '../clean/desk';
import type { ScoreFormChoice } from '../decisions/kinds/score-form';
import { instrumentOf } from '../instruments/catalogue';
import type { PartId } from '../model/ids';
import type { Score } from '../model/score';
import { concertScore } from '../notate/transpose';
import { withoutLayout } from '../sources/musicxml/layout';
import { madePart } from '../sources/musicxml/made-part';
import { isZip, packMxl, unpackMxl } from '../sources/musicxml/mxl';
import { saidOnce } from '../sources/musicxml/said-once';
import type { ScoreReading } from '../sources/musicxml/source';
import { placesIn, spliced, type Wanted } from '../sources/musicxml/splice';
import { musicChanges } from '../sources/musicxml/splice-music';
import { writeMusicXml } from '../sources/musicxml/write';

/** Thrown where there is no part to write; the message is a sentence for people. */
export class EmptyScoreError extends Error {
  override name = 'EmptyScoreError';
  constructor() {
    super('No part is in the score: everything is left out, so there is no MusicXML to write.');
  }
}

/** MusicXML as text, or packed. */
export type ScoreFormat = 'musicxml' | 'mxl';

/**
 * A score as a MusicXML document. One that was read goes out as it came, with
 * what was decided written into its text and nothing else touched: byte for
 * byte where nothing was. In concert pitch, and without layout, on request.
 * @throws EmptyScoreError for a score without parts, which MusicXML cannot tell
 */
export function deliverScore(
  desk: Desk,
  score: Score,
  format: ScoreFormat,
  { pitch, layout }: ScoreFormChoice = desk.decisions.scoreForm,
): Uint8Array {
  if (score.parts.length === 0) throw new EmptyScoreError();
  const given = pitch === 'concert' ? concertScore(score) : score;
  const document = desk.written
    ? changed(desk.written, given, madeParts(desk, desk.written, given), layout)
    : new TextEncoder().encode(writeMusicXml(given));
  if (desk.written && document === desk.written.bytes) {
    const isPacked = isZip(document);
    if (isPacked === (format === 'mxl')) return document;
    return isPacked ? unpackMxl(document) : packMxl(document);
  }
  return format === 'mxl' ? packMxl(document) : document;
}

/** Parts that the document does not have as they are now. */
const madeParts = (
  { performance, decisions }: Desk,
  written: ScoreReading,
  { parts }: Score,
): ReadonlySet<PartId> =>
  new Set([
    ...arrangedScore(written, performance, decisions).made,
    ...parts.flatMap(({ id, anew }) => (anew ? [id] : [])),
  ]);

/** The document of a score that was read, as the score is now; the very bytes where it is the same. */
function changed(
  written: ScoreReading,
  score: Score,
  made: ReadonlySet<PartId>,
  layout: ScoreFormChoice['layout'],
): Uint8Array {
  const before = new Map(written.original.parts.map((part, index) => [part.id, { own: part, index }]));
  const { document, readAs, original } = written;
  const ids = new Set(written.xmlIds.values());
  // Tempos and rehearsal marks stand in the first part; where its text goes, another has them.
  const [leading] = original.parts;
  const isLeadKept = score.parts.some(({ id }) => id === leading?.id && !made.has(id));
  let isFirst = !isLeadKept && score.parts.some(({ id }) => made.has(id));
  const heir = isLeadKept || isFirst ? undefined : score.parts[0];
  const parts = score.parts.map((part): Wanted['parts'][number] => {
    const { id, name, abbreviation, instrument } = part;
    if (made.has(id)) {
      const xmlId = written.xmlIds.get(id) ?? freeId(ids);
      const anew = madePart(score, part, xmlId, isFirst);
      isFirst = false;
      return { id: xmlId, made: anew };
    }
    const { own, index = 0 } = before.get(id) ?? {};
    const xmlId = written.xmlIds.get(id) ?? '';
    const places = placesIn(document, xmlId);
    return {
      id: xmlId,
      ...(own &&
        places && {
          music: [
            ...musicChanges(
              document.text,
              places,
              { score: original, part: own },
              { score, part },
              readAs[index]!,
            ),
            ...(part === heir && leading
              ? saidOnce(document.text, places, {
                  marks: leading.bars.map(({ marks = [] }) => marks),
                  tempos: score.tempos,
                })
              : []),
          ],
        }),
      ...(own?.name !== name && { name }),
      ...(own?.abbreviation !== abbreviation && { abbreviation }),
      ...(own?.instrument !== instrument && { instrument: instrumentOf(instrument) }),
    };
  });
  const { groups = [] } = score;
  const isRegrouped = JSON.stringify(groups) !== JSON.stringify(original.groups ?? []);
  const wanted: Wanted = {
    ...(score.title !== original.title && { title: score.title }),
    ...(score.composer !== original.composer && { composer: score.composer ?? '' }),
    ...(score.copyright !== original.copyright && { copyright: score.copyright ?? '' }),
    parts,
    ...(isRegrouped && { groups }),
  };
  const same = spliced(document, wanted);
  const now = layout === 'kept' ? same : withoutLayout(same);
  if (now === document.text) return written.bytes;
  // Whatever it was in, it is UTF-8 from now on, and says so.
  return new TextEncoder().encode(now.replace(/^(<\?xml[^>]*\bencoding\s*=\s*["'])[^"']+/, '$1UTF-8'));
}

/** An id for one part more in a document. */
function freeId(taken: Set<string>): string {
  let number = 1;
  while (taken.has(`P${number}`)) number++;
  taken.add(`P${number}`);
  return `P${number}`;
}
