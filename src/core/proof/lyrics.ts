import type { PlainDirective } from '../decisions/kinds';
import { momentOf } from '../model/frame';
import type { EventId } from '../model/ids';
import type { Lyric } from '../model/marks';
import type { Bar, Part } from '../model/score';
import { typedSyllable } from '../model/syllable';
import type { Moment } from '../model/time';
import type { Check, Found } from './finding';

/** Syllables that found no note, and words that are broken off. */
export const checkLyrics: Check = ({ result: { lostLyrics, frame, score } }) => [
  ...lostLyrics.map(({ tick, text }) => ({
    weight: 'doubtful' as const,
    at: momentOf(frame, tick),
    about: `${tick} ${text}`,
    what: `“${text.trim()}” has no note to be sung on.`,
  })),
  ...score.parts.flatMap((part, index) =>
    linesOf(part, score.bars).flatMap((line) => brokenIn(line).map((found) => ({ ...found, part: index }))),
  ),
];

interface Sung {
  at: Moment;
  note: EventId | undefined;
  lyric: Lyric;
}

/** What is sung in a part, each voice and verse by itself, in order. */
function linesOf({ bars }: Part, scoreBars: readonly Bar[]): Sung[][] {
  const lines = new Map<string, Sung[]>();
  bars.forEach(({ voices }, bar) => {
    for (const { voice, staff, items } of voices)
      for (const item of items) {
        if (item.kind === 'rest' || !item.lyrics) continue;
        for (const lyric of item.lyrics) {
          const line = `${staff} ${voice} ${lyric.verse ?? 1}`;
          const sung = { at: scoreBars[bar]!.start + item.onset, note: item.notes[0]?.sources[0], lyric };
          const own = lines.get(line);
          if (own) own.push(sung);
          else lines.set(line, [sung]);
        }
      }
  });
  return [...lines.values()];
}

const goesOn = ({ lyric: { syllabic } }: Sung): boolean => syllabic === 'begin' || syllabic === 'middle';
const comesFrom = ({ lyric: { syllabic } }: Sung): boolean => syllabic === 'end' || syllabic === 'middle';

/** Syllables whose word should go on and does not, or goes on from nothing. */
function brokenIn(line: readonly Sung[]): Found[] {
  return line.flatMap((sung, at): Found[] => {
    const before = line[at - 1];
    const next = line[at + 1];
    const found: Found[] = [];
    if (goesOn(sung) && !(next && comesFrom(next)))
      found.push(
        broken(
          sung,
          `“${sung.lyric.text}-” has a hyphen, and its word does not go on.`,
          'End the word here',
          {
            begin: 'single',
            middle: 'end',
          },
        ),
      );
    if (comesFrom(sung) && !(before && goesOn(before)))
      found.push(
        broken(sung, `“-${sung.lyric.text}” goes on from no syllable before it.`, 'Begin a word here', {
          end: 'single',
          middle: 'begin',
        }),
      );
    return found;
  });
}

function broken(
  { at, note, lyric }: Sung,
  what: string,
  label: string,
  instead: Partial<Record<Lyric['syllabic'], Lyric['syllabic']>>,
): Found {
  const { verse = 1, syllabic } = lyric;
  const text = typedSyllable({ ...lyric, syllabic: instead[syllabic] ?? syllabic });
  const directives: PlainDirective[] = note
    ? [{ kind: 'sign', note, sign: 'lyric', put: true, text, ...(verse !== 1 && { verse }) }]
    : [];
  return {
    weight: 'doubtful',
    at,
    notes: note ? [note] : [],
    about: `${verse} ${what}`,
    what,
    mends: directives.length > 0 ? [{ label, directives }] : [],
  };
}
