import type { Desk } from '../clean/desk';
import type { Score } from '../model/score';
import { isZip, packMxl, unpackMxl } from '../sources/musicxml/mxl';
import { writeMusicXml } from '../sources/musicxml/write';

/** MusicXML as text, or packed. */
export type ScoreFormat = 'musicxml' | 'mxl';

/**
 * A score as a MusicXML document. One that was read, and about which nothing
 * was decided, goes out byte for byte as it came, packed or unpacked as asked.
 */
export function deliverScore(desk: Desk, score: Score, format: ScoreFormat): Uint8Array {
  const kept = desk.written && desk.brief.directives.length === 0 ? desk.written.bytes : null;
  if (kept && isZip(kept)) return format === 'mxl' ? kept : unpackMxl(kept);
  const document = kept ?? new TextEncoder().encode(writeMusicXml(score));
  return format === 'mxl' ? packMxl(document) : document;
}
