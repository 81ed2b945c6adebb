import { notesUnderLines, withOctaves } from './octaves';
import { laterSignatures, withSignatures } from './signatures';

/**
 * The engraver's own document (MEI) with what it does not read of MusicXML as the document says it.
 *
 * @param document MusicXML as `writeMusicXml` makes it
 * @param readAs says what the engraver made of it; asked only where something is to be mended
 * @returns null where nothing is
 */
export function mendedMei(document: string, readAs: () => string): string | null {
  const later = laterSignatures(document);
  const under = notesUnderLines(document);
  return later.length === 0 && under.size === 0 ? null : withOctaves(withSignatures(readAs(), later), under);
}
