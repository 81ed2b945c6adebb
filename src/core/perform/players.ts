import { instrumentOf } from '../instruments/catalogue';
import type { Chord, Part, PartBar, Score, VoiceLine } from '../model/score';
import type { Moment } from '../model/time';

/** Who plays from a part with several players: all, one of them, or each a line of their own. */
type Share = 'all' | 'divided' | number;

/** Words on who plays (common practice of scores). */
const WORDS: readonly (readonly [words: RegExp, share: Share])[] = [
  [/^(a ?2|à ?2|a ?due|zu ?2|zu zweit|a ?3|zu ?3|unis\b|unis\.|unison|non div|tutti|alle\b)/i, 'all'],
  [/^(div\b|div\.|divisi|geteilt)/i, 'divided'],
  [/^(1\.|1º|1°|i\.|1\. solo|solo)$/i, 1],
  [/^(2\.|2º|2°|ii\.|2\. solo)$/i, 2],
  [/^(3\.|3º|3°|iii\.)$/i, 3],
];

const shareOf = (text: string): Share | undefined => WORDS.find(([words]) => words.test(text.trim()))?.[1];

/** Whether words are about who plays. */
export const isPlayerWord = (text: string): boolean => shareOf(text) !== undefined;

/** Numbers of several players in a name: "Horns 1 & 2", "Flute I, II", "Trombone 1.2.3", "Horn 1–4". */
const NUMBERS = /(?:\b(?:[1-9]|i{1,3}|iv)\b[\s.,&+/–-]*){2,}/i;

/** The numbers of the players that a name tells, as they are written there; null for a name that tells less than two. */
export function numbersIn(name: string): { text: string; numbers: string[] } | null {
  const text = NUMBERS.exec(name)?.[0].trim();
  const written = text?.match(/\d|[iv]+/gi) ?? [];
  if (!text || written.length < 2) return null;
  const [first, last] = written.map(Number);
  const isRange = written.length === 2 && /[–-]/.test(text) && last! > first! + 1;
  if (!isRange) return { text, numbers: written };
  return { text, numbers: Array.from({ length: last! - first! + 1 }, (_, index) => String(first! + index)) };
}

/** "Horns 1 & 2" for its second player is "Horns 2"; a name without numbers gets one. */
export function nameOfPlayer(name: string, player: number): string {
  const told = numbersIn(name);
  const own = told?.numbers[player - 1] ?? String(player);
  return told ? name.replace(told.text, own) : `${name} ${own}`;
}

/** How many play from a part, as its name says and its words need. */
export function playerCount(part: Part): number {
  const byName = numbersIn(part.name)?.numbers.length ?? 1;
  const shares = part.bars.flatMap(({ marks = [] }) =>
    marks.flatMap((mark) => (mark.kind === 'words' ? (shareOf(mark.text) ?? []) : [])),
  );
  const byWords = Math.max(
    0,
    ...shares.map((share) => (typeof share === 'number' ? share : share === 'divided' ? 2 : 0)),
  );
  const isShared = part.bars.some(({ marks = [] }) =>
    marks.some((mark) => mark.kind === 'words' && /^(a ?2|à ?2|zu ?2)\b/i.test(mark.text.trim())),
  );
  return Math.max(1, byName, byWords, isShared ? 2 : 1);
}

/**
 * Which players (from 1) play each note of a part for several: all where it
 * says "a2", the one that it names, and else each voice or note of a chord its
 * own from the top down; a single note without a word is for all. Bowed
 * strings divide only where they are told to (common practice).
 */
export function playersOf(
  score: Score,
  part: Part,
): ((bar: number, line: VoiceLine, chord: Chord) => number[][]) | null {
  const count = playerCount(part);
  const { family, unpitched } = instrumentOf(part.instrument);
  if (count < 2 || unpitched) return null;
  const said = part.bars.flatMap((bar, index) =>
    (bar.marks ?? []).flatMap((mark) => {
      const share = mark.kind === 'words' ? shareOf(mark.text) : undefined;
      return share === undefined ? [] : [{ at: score.bars[index]!.start + mark.at, share }];
    }),
  );
  const all = Array.from({ length: count }, (_, index) => index + 1);
  const usual: Share = family === 'strings' ? 'all' : 'divided';
  return (bar, line, chord) => {
    const at: Moment = score.bars[bar]!.start + chord.onset;
    const share = said.findLast((each) => each.at <= at)?.share ?? usual;
    if (share === 'all') return chord.notes.map(() => all);
    if (typeof share === 'number') return chord.notes.map(() => [share]);
    if (hasTwoVoices(part.bars[bar]!, line.staff))
      return chord.notes.map(() => [Math.min(line.voice, count)]);
    if (chord.notes.length === 1) return [all];
    // Notes stand from low to high; the first player has the highest.
    return chord.notes.map((_, index) => [Math.min(count, chord.notes.length - index)]);
  };
}

const hasTwoVoices = ({ voices }: PartBar, staff: number): boolean =>
  voices.filter((line) => line.staff === staff && line.items.some(({ kind }) => kind === 'chord')).length > 1;
