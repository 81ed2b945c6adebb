import { instrumentOf } from '../instruments/catalogue';
import type { ChordMark } from '../model/marks';
import type { Part, Score } from '../model/score';
import type { Moment } from '../model/time';

/** What a player does with bow, mute or tongue; each holds until words take it back. */
const MANNERS = ['bow', 'tongue', 'mute'] as const;
type Manner = (typeof MANNERS)[number];

/**
 * Words for techniques in the languages of scores, and what they begin; null
 * for what ends them (common practice; the words as in orchestration handbooks,
 * from memory). The first that fits counts.
 */
const WORDS: readonly (readonly [words: RegExp, manner: Manner, technique: string | null])[] = [
  [/^(senza sord|ohne dämpfer|sans sourd|mutes? off|without mute|unmuted)/i, 'mute', null],
  [/^(open|offen|ouvert|aperto)\b/i, 'mute', null],
  [/harmon/i, 'mute', 'harmon mute'],
  [/\bcup\b/i, 'mute', 'cup mute'],
  [/\bbucket\b/i, 'mute', 'bucket mute'],
  [/plunger/i, 'mute', 'plunger'],
  [/straight mute|\bst\. mute/i, 'mute', 'straight mute'],
  [/^(stopped|gest(opft|\.)|bouché|chiuso)/i, 'mute', 'stopped'],
  [/con sord|mit dämpfer|gedämpft|avec sourd|\bmuted?\b|^sord/i, 'mute', 'muted'],
  [/pizz/i, 'bow', 'pizzicato'],
  [/col legno/i, 'bow', 'col legno'],
  [/sul pont|am steg/i, 'bow', 'sul ponticello'],
  [/sul tasto|flautando|am griffbrett/i, 'bow', 'sul tasto'],
  [/^arco\b/i, 'bow', null],
  [/^(flutter|flatterz|flz|frull)/i, 'tongue', 'flutter-tonguing'],
];
/** Takes back whatever is done. */
const ORDINARY = /^(ord\b|ordinario|nat\b|naturale|normal|norm\.|modo ord|gewöhnlich)/i;

/** Marks at a chord that are techniques by themselves. */
const MARKS: Partial<Record<string, string>> = {
  stopped: 'stopped',
  'snap-pizzicato': 'snap pizzicato',
  harmonic: 'harmonics',
};

/** What words say from a moment on; without a manner they take all back. */
interface Said {
  at: Moment;
  staff: number | undefined;
  manner: Manner | null;
  technique: string | null;
}

/** Whether words are about a technique of pitched instruments. */
export const isTechniqueWord = (text: string): boolean => {
  const said = text.trim();
  return ORDINARY.test(said) || WORDS.some(([words]) => words.test(said));
};

/** The technique that a chord mark is, if it is one. */
export const techniqueOfMark = (mark: ChordMark): string | undefined =>
  mark.kind === 'technique' ? MARKS[mark.name] : undefined;

/**
 * How the notes of a part are played beyond the ordinary, by their written
 * moments: what words say from then on, what marks say of their chord. Words
 * without a staff hold for all staves.
 */
export function techniquesOf(
  score: Score,
  part: Part,
): (at: Moment, staff: number, marks: readonly ChordMark[] | undefined) => string | undefined {
  if (instrumentOf(part.instrument).unpitched) return () => undefined;
  const said = part.bars.flatMap((bar, index) =>
    (bar.marks ?? []).flatMap((mark): Said[] => {
      if (mark.kind !== 'words') return [];
      const text = mark.text.trim();
      const place = { at: score.bars[index]!.start + mark.at, staff: mark.staff };
      if (ORDINARY.test(text)) return [{ ...place, manner: null, technique: null }];
      const found = WORDS.find(([words]) => words.test(text));
      return found ? [{ ...place, manner: found[1], technique: found[2] }] : [];
    }),
  );
  const hasMarks = part.bars.some(({ voices }) =>
    voices.some(({ items }) =>
      items.some((item) => item.kind === 'chord' && item.marks?.some((mark) => techniqueOfMark(mark))),
    ),
  );
  if (said.length === 0 && !hasMarks) return () => undefined;
  return (at, staff, marks) => {
    const holding = new Map<Manner, string>();
    for (const each of said) {
      if (each.at > at || (each.staff !== undefined && each.staff !== staff)) continue;
      if (each.manner === null) holding.clear();
      else if (each.technique === null) holding.delete(each.manner);
      else holding.set(each.manner, each.technique);
    }
    const own = marks?.map(techniqueOfMark).find((technique) => technique !== undefined);
    const all = [...(own ? [own] : []), ...MANNERS.flatMap((manner) => holding.get(manner) ?? [])].filter(
      (technique, index, techniques) => techniques.indexOf(technique) === index,
    );
    return all.length > 0 ? all.join(', ') : undefined;
  };
}
