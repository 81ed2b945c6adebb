import type { Part, Score } from '../../model/score';
import { writeMusicXml } from './write';

/** A part that a document is to have and does not: its entry in the list, and its measures as text. */
export interface MadePart {
  listed: string;
  measures: string[];
}

/**
 * Writes one part of a score for a document, under an id of its own there.
 *
 * @param isFirst it carries what is said once for all parts: tempos and rehearsal marks
 */
export function madePart(score: Score, part: Part, id: string, isFirst: boolean): MadePart {
  const alone: Score = {
    ...score,
    parts: [part],
    groups: [],
    ...(!isFirst && { tempos: [], rehearsals: [] }),
  };
  // Our own writing has one part of this name, and each of these once.
  const text = writeMusicXml(alone).replaceAll(/(\sid=")P1(?=[-"])/g, `$1${id}`);
  const inside = (open: string, close: string) => text.slice(text.indexOf(open), text.lastIndexOf(close));
  return {
    listed: `${inside('<score-part ', '</score-part>')}</score-part>`,
    measures: inside('<measure ', '</part>')
      .trim()
      .split(/(?<=<\/measure>)\s+(?=<measure )/),
  };
}

/** What stands between the tags of a measure. */
export const insideOfMeasure = (measure: string): string =>
  measure.slice(measure.indexOf('>') + 1, measure.lastIndexOf('</measure>'));
