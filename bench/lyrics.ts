/**
 * How words are divided and laid under tunes: `npm run bench:lyrics -- [--faults]`.
 *
 * Data: the sung lines of the MusicXML documents that bench/corpus.ts names, as they are printed: chorales in German (those of
 * odd number, looked at last, stand by themselves), a song in English. Divided: words of two syllables and more whose letters are
 * given whole, against the print. Laid: the words of a line in one line of text, without hyphens of held or empty notes,
 * under its notes; a syllable is right under the note that has it in print. The same by lines, that begin after the rests of the tune. Beside it a syllable a note, slurs not heeded. Kept: the words as
 * they are read from the page, laid again, change nothing (but where the document's
 * syllables contradict each other).
 */
import { divideText, layLyrics, lyricsText } from '../src/core/edit/lyrics';
import type { WordLanguage } from '../src/core/edit/syllables';
import type { EventId } from '../src/core/model/ids';
import { readScores } from './corpus';

interface Row {
  lines: number;
  words: number;
  divided: number;
  counted: number;
  syllables: number;
  laid: number;
  byLines: number;
  inTurn: number;
  kept: number;
}
const rows = new Map<string, Row>();
const VERSES = [1, 2, 3];
const faults: string[] = [];

/** Whose words they are, and in which language; null where the document is not one of those. */
function kindOf(name: string): { row: string; language: WordLanguage } | null {
  const [, number] = /^bwv(\d+)/.exec(name) ?? [];
  if (number)
    return {
      row: Number(number) % 2 ? 'German, chorales of odd number' : 'German, chorales',
      language: 'de',
    };
  return name.startsWith('prayer') ? { row: 'English, a song', language: 'en' } : null;
}

for (const { name, reading } of readScores('')) {
  const kind = kindOf(name);
  const { score } = reading;
  if (!kind) continue;
  const row = rows.get(kind.row) ?? {
    lines: 0,
    words: 0,
    divided: 0,
    counted: 0,
    syllables: 0,
    laid: 0,
    byLines: 0,
    inTurn: 0,
    kept: 0,
  };
  rows.set(kind.row, row);
  const lines = score.parts.flatMap((_, part) => VERSES.map((verse) => ({ part, verse })));
  lines.forEach(({ part, verse }) => {
    const line = { part, notes: [] as EventId[], verse, slurs: true, fit: true };
    const text = lyricsText(score, line);
    if (text.replace(/[*\s]/g, '') === '') return;
    row.lines++;
    const again = layLyrics(score, { ...line, text, fit: false });
    if (again.directives.length === 0) row.kept++;
    else
      faults.push(
        `${name} part ${part + 1} verse ${verse}: laid again ${again.directives.length} notes change`,
      );
    const bare = text.replace(/_/g, '').replace(/\*/g, ' ').replace(/-+/g, '-');
    for (const printed of bare.split(/\s+/)) {
      const whole = printed.replaceAll('-', '');
      if (!/^[\p{L}’']+[.,;:!?]*$/u.test(whole)) continue;
      const ours = divideText(whole, kind.language);
      const count = (word: string) => word.split('-').filter(Boolean).length;
      if (count(printed) < 2 && count(ours) < 2) continue;
      row.words++;
      if (count(ours) === count(printed)) row.counted++;
      if (ours === printed.replace(/^-|-$/g, '')) row.divided++;
      else faults.push(`${printed} is divided ${ours}`);
    }
    const truth = new Map(again.laid.map(({ note, text: own }) => [note, plain(own)]));
    row.syllables += truth.size;
    const right = (laid: readonly { note: EventId; text: string }[]) =>
      laid.filter(({ note, text: own }) => truth.get(note) === plain(own)).length;
    const got = layLyrics(score, { ...line, text: bare.replace(/\s+/g, ' ') });
    row.laid += right(got.laid);
    row.byLines += right(layLyrics(score, { ...line, text: bare }).laid);
    row.inTurn += right(
      layLyrics(score, { ...line, slurs: false, fit: false, text: bare.replace(/\s+/g, ' ') }).laid,
    );
    if (right(got.laid) < truth.size)
      faults.push(`${name} part ${part + 1} verse ${verse}: ${right(got.laid)} of ${truth.size} in place`);
  });
}

/** What is printed, hyphens and held lines aside. */
function plain(typed: string): string {
  return typed.replace(/[-_]/g, '');
}

const share = (some: number, all: number) => `${((100 * some) / Math.max(1, all)).toFixed(1)} %`;
console.table(
  [...rows].map(([words, row]) => ({
    words,
    lines: row.lines,
    kept: `${row.kept} of ${row.lines}`,
    'long words': row.words,
    'as many syllables': share(row.counted, row.words),
    'divided as in print': share(row.divided, row.words),
    syllables: row.syllables,
    'in place': share(row.laid, row.syllables),
    'in place, by lines': share(row.byLines, row.syllables),
    'a note each': share(row.inTurn, row.syllables),
  })),
);
if (process.argv.includes('--faults')) for (const fault of faults) console.log(fault);
else if (faults.length > 0) console.log(`${faults.length} faults: --faults prints them`);
