import { type MultiRest, withMultiRests } from './multi-rests';
import { notesUnderLines, withOctaves } from './octaves';
import { laterSignatures, withSignatures } from './signatures';

/**
 * The engraver's own document (MEI) with what it does not read of MusicXML as the document says it.
 *
 * @param document MusicXML as `writeMusicXml` makes it, rests over several measures taken out
 * @param readAs says what the engraver made of it; asked only where something is to be mended
 * @param rests those that were taken out
 * @returns null where nothing is
 */
export function mendedMei(
  document: string,
  readAs: () => string,
  rests: readonly MultiRest[] = [],
): string | null {
  const later = laterSignatures(document);
  const under = notesUnderLines(document);
  if (later.length === 0 && under.size === 0 && rests.length === 0) return null;
  const joined = rests.length > 0 ? withMultiRests(readAs(), rests) : readAs();
  return withOctaves(withSignatures(joined, movedUp(later, rests)), under);
}

/** Places of measures where those that were joined count as one. */
const movedUp = <T extends { measure: number }>(all: readonly T[], rests: readonly MultiRest[]): T[] =>
  all.map((each) => ({
    ...each,
    measure:
      each.measure -
      rests.reduce((sum, { measure, count }) => sum + (measure < each.measure ? count - 1 : 0), 0),
  }));
