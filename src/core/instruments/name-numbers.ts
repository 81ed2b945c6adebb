import type { NameWord } from './name-words';

const ROMAN: Record<string, number> = { i: 1, ii: 2, iii: 3, iv: 4, v: 5, vi: 6, vii: 7, viii: 8 };
const ORDINAL = /^([1-9]\d?)(st|nd|rd|th|er|e|o|a)$/;
const WORDS: Record<string, number> = {
  erste: 1,
  zweite: 2,
  dritte: 3,
  first: 1,
  second: 2,
  third: 3,
  primo: 1,
  prima: 1,
  primi: 1,
  secondo: 2,
  secondi: 2,
  premier: 1,
  premiers: 1,
  deuxieme: 2,
  seconds: 2,
};
/** What may stand between an instrument and its number: keys, and the words before them. */
const BETWEEN =
  /^(in|en|a|b|bb|eb|es|f|fa|sib|si|mib|mi|c|do|g|sol|orch|section|solo|lead|bass|alto|tenor|the)$/;
/** What joins the numbers of several players. */
const JOINS = /^\s*[+&/.,]\s*$|^\s*[-–]\s*$/;
const JOINING = new Set(['et', 'und', 'and', 'e', 'y']);
/** More players than this are not meant by a number before their instrument. */
const MOST = 12;

/** A number in figures, Roman ones or words; what begins with a nought counts takes, not players. */
function numberOf({ text, isMeasure }: NameWord): number | null {
  if (isMeasure) return null;
  if (/^[1-9]\d?$/.test(text)) return Number(text);
  return ROMAN[text] ?? ordinalOf({ text });
}

function ordinalOf({ text }: Pick<NameWord, 'text'>): number | null {
  const ordinal = ORDINAL.exec(text);
  return ordinal ? Number(ordinal[1]) : (WORDS[text] ?? null);
}

/**
 * The players that a name tells: "2" and "II" for the second, "1+2" and
 * "1-3" for several, "4 Horns" for that many. Numbers count only beside the
 * instrument's own words; those of tracks, takes, strings and feet do not.
 *
 * @param from @param to where in the words the instrument is told, `to` not included
 */
export function playersIn(words: readonly NameWord[], from: number, to: number): number[] {
  const after = runFrom(words, behind(words, to));
  if (after.length > 0) return after;
  const before = words[from - 1];
  if (!before) return [];
  const next = words[from]!;
  const ordinal = ordinalOf(before);
  if (ordinal !== null) return [ordinal];
  const number = numberOf(before);
  // "[3] Horns" and "02 - Oboe" number the track.
  if (number === null || /[\])\-:]/.test(next.before) || /[[(#]/.test(before.before)) return [];
  if (next.before.includes('.') || next.before.includes('°')) return [number];
  const isPlural = /(s|er|i|en)$/.test(words[to - 1]!.text);
  return isPlural && number > 1 && number <= MOST
    ? Array.from({ length: number }, (_, index) => index + 1)
    : [];
}

/** Where a number after the instrument may stand: behind its key. */
function behind(words: readonly NameWord[], to: number): number {
  let at = to;
  while (at < words.length && at < to + 3) {
    const { text, before } = words[at]!;
    // "a2" is both; "in A 2" is the second.
    const isBoth = text === 'a' && !/^(in|en)$/.test(words[at - 1]!.text) && !before.includes('(');
    if (isBoth || !BETWEEN.test(text)) break;
    at++;
  }
  return at;
}

function runFrom(words: readonly NameWord[], at: number): number[] {
  const first = words[at];
  if (!first) return [];
  const number = numberOf(first);
  // In brackets stands which copy it is, or which string.
  if (number === null || first.before.includes('(')) return [];
  const numbers = [number];
  for (let index = at + 1; index < words.length; index++) {
    const isJoined = JOINING.has(words[index]!.text);
    const word = words[isJoined ? index + 1 : index];
    const next = word && numberOf(word);
    const join = words[index]!.before;
    if (next === null || next === undefined || !(isJoined || JOINS.test(join) || join === ' ')) break;
    if (next <= numbers.at(-1)!) break;
    if (/[-–]/.test(join))
      for (let between = numbers.at(-1)! + 1; between < next; between++) numbers.push(between);
    numbers.push(next);
    if (isJoined) index++;
  }
  return numbers;
}
