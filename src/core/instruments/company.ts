import { wordsOf } from './name-words';

/** Words by which singers are told, in the languages and times that have them (common practice). */
const VOICES =
  /^(soprano|sopran|sop|sopr|soprani|alto|alt|altus|alti|contralto|tenor|tenore|ten|tenori|basso|bassus|bass|canto|cantus|superius|discantus|quinto|quintus|sesto|sextus|treble|mezzo|baritono|contratenor)$/;
/** Words that may stand beside those. */
const BESIDE = /^([1-8]|i{1,3}|iv|v|vi|voice|vox|voce|solo|primo|secondo|chorus|choir|coro)$/;
/** So many singers of different names make a company, and such a share of all. */
const FEWEST = 3;
const SHARE = 0.6;

/** Whether names are those of a company of singers, so that "Basso" among them is no double bass. */
export function areVoices(names: readonly string[]): boolean {
  const told = names.flatMap((name) => {
    const words = wordsOf(name).filter((word) => !BESIDE.test(word));
    return words.length === 1 && VOICES.test(words[0]!) ? words : [];
  });
  return new Set(told).size >= FEWEST && told.length >= SHARE * names.length;
}
