import type { Desk } from '../clean/desk';
import type { ScoreFormChoice } from '../decisions/kinds/score-form';
import { instrumentOf } from '../instruments/catalogue';
import type { Score } from '../model/score';
import { concertScore } from '../notate/transpose';
import { withoutLayout } from '../sources/musicxml/layout';
import { isZip, packMxl, unpackMxl } from '../sources/musicxml/mxl';
import type { ScoreReading } from '../sources/musicxml/source';
import { spliced, type Wanted } from '../sources/musicxml/splice';
import { musicChanges } from '../sources/musicxml/splice-music';
import { writeMusicXml } from '../sources/musicxml/write';

/** MusicXML as text, or packed. */
export type ScoreFormat = 'musicxml' | 'mxl';

/**
 * A score as a MusicXML document. One that was read goes out as it came, with
 * what was decided written into its text and nothing else touched: byte for
 * byte where nothing was. In concert pitch, and without layout, on request.
 */
export function deliverScore(
  desk: Desk,
  score: Score,
  format: ScoreFormat,
  { pitch, layout }: ScoreFormChoice = desk.decisions.scoreForm,
): Uint8Array {
  const given = pitch === 'concert' ? concertScore(score) : score;
  const document = desk.written
    ? changed(desk.written, given, layout)
    : new TextEncoder().encode(writeMusicXml(given));
  if (desk.written && document === desk.written.bytes) {
    const isPacked = isZip(document);
    if (isPacked === (format === 'mxl')) return document;
    return isPacked ? unpackMxl(document) : packMxl(document);
  }
  return format === 'mxl' ? packMxl(document) : document;
}

/** The document of a score that was read, as the score is now; the very bytes where it is the same. */
function changed(written: ScoreReading, score: Score, layout: ScoreFormChoice['layout']): Uint8Array {
  const before = new Map(written.original.parts.map((part) => [part.id, part]));
  const { document, readAs } = written;
  const parts = score.parts.map((part): Wanted['parts'][number] => {
    const { id, name, abbreviation, instrument } = part;
    const own = before.get(id);
    const xmlId = written.xmlIds.get(id) ?? '';
    const places = document.places.get(xmlId);
    return {
      id: xmlId,
      ...(own &&
        places && {
          music: musicChanges(
            document.text,
            places,
            { score: written.original, part: own },
            { score, part },
            readAs,
          ),
        }),
      ...(own?.name !== name && { name }),
      ...(own?.abbreviation !== abbreviation && { abbreviation }),
      ...(own?.instrument !== instrument && { instrument: instrumentOf(instrument) }),
    };
  });
  const wanted: Wanted = { ...(score.title !== written.original.title && { title: score.title }), parts };
  const same = spliced(document, wanted);
  const now = layout === 'kept' ? same : withoutLayout(same);
  if (now === document.text) return written.bytes;
  // Whatever it was in, it is UTF-8 from now on, and says so.
  return new TextEncoder().encode(now.replace(/^(<\?xml[^>]*\bencoding\s*=\s*["'])[^"']+/, '$1UTF-8'));
}
