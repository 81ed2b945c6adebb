import type { Mend } from '../model/mend';

/** No name, marker or syllable is longer: what is gets cut, and the source keeps it. Characters. */
const LONGEST_TEXT = 500;

/** A name, a marker or a syllable of a source, cut where it is no such thing any more. @param track from 0 */
export function withinLength(text: string, mends: Mend[], track: number): string {
  if (text.length <= LONGEST_TEXT) return text;
  mends.push({
    at: 0,
    track,
    what: `A text of ${text.length.toLocaleString('en')} characters stands where a name or marker should.`,
    done: `Cut to ${LONGEST_TEXT} characters; the file itself is unchanged.`,
  });
  return text.slice(0, LONGEST_TEXT);
}
