/**
 * How bars of read scores get their signs in their own text: `npm run bench:bar-signs -- [SIGNS] [--faults] [--only=NAME]`.
 *
 * Data: the MusicXML documents that bench/corpus.ts names. At random bars of each (seed 1) a rehearsal mark, a tempo,
 * a key, a bar line, a repeat and an ending are put and taken off, each by itself. The document is read again and compared:
 * what stands at the bar with what was wanted, the notes with those that were there, bars that no sign was about with
 * their very characters, and all of it with the facts of the MusicXML 4.0 schema that the document itself kept.
 */
import { seeded } from '../src/core/basics/random';
import type { BarSign, BarSignChoice } from '../src/core/model/bar-signs';
import type { Score } from '../src/core/model/score';
import { withBarSigns } from '../src/core/rewrite/bar-signs';
import type { ScoreReading } from '../src/core/sources/musicxml/source';
import { placesIn } from '../src/core/sources/musicxml/splice';
import { barsSaid } from '../src/core/workbench/bars-said';
import { parseXml, schemaFaults } from '../tests/helpers/schema';
import { readScores } from './corpus';

const TRIED = [
  'rehearsal',
  'tempo',
  'key',
  'bar-line',
  'repeat-from',
  'repeat-to',
  'ending',
] as const satisfies readonly BarSign[];
type Tried = (typeof TRIED)[number];

const most = Number(process.argv.find((each) => /^\d+$/.test(each)) ?? 20);
const only = process.argv.find((each) => each.startsWith('--only='))?.slice(7) ?? '';
const rows = new Map<
  Tried,
  {
    tried: number;
    refused: number;
    asWanted: number;
    rest: number;
    notes: number;
    invalid: number;
    ms: number;
  }
>(TRIED.map((what) => [what, { tried: 0, refused: 0, asWanted: 0, rest: 0, notes: 0, invalid: 0, ms: 0 }]));
const faults: string[] = [];
let documents = 0;

/** Whether a bar says what was wanted of it. */
function isSaid(
  { bars, ...score }: Score,
  index: number,
  { what, put, ...wanted }: BarSignChoice & { what: Tried },
): boolean {
  const said = barsSaid({ bars, ...score }).find(({ bar }) => bar === index);
  switch (what) {
    case 'rehearsal':
      return put ? said?.rehearsal === wanted.text : said?.rehearsal === undefined;
    case 'tempo':
      return put
        ? said?.tempo?.text === wanted.text && said?.tempo?.quartersPerMinute === wanted.quartersPerMinute
        : said?.tempo === undefined;
    case 'key': {
      const key = score.keys.find(({ bar }) => bar === index);
      return put
        ? key?.fifths === wanted.fifths && key?.minor === wanted.minor
        : key === undefined || index === 0;
    }
    case 'bar-line':
      // A repeat has its own line, which stays.
      return bars[index]?.right?.repeat !== undefined || said?.line === (put ? wanted.style : undefined);
    case 'repeat-from':
      return (said?.repeatsFrom === true) === put;
    case 'repeat-to':
      return said?.repeatsTo === (put ? wanted.times : undefined);
    case 'ending':
      return put
        ? said?.ending?.text === wanted.text && said?.ending?.bars === wanted.bars
        : said?.ending === undefined;
  }
}

/** The text of each bar of each part. */
const textsOf = ({ document, xmlIds }: ScoreReading): string[][] =>
  [...xmlIds.values()].map((id) =>
    (placesIn(document, id)?.bars ?? []).map(({ from, to }) => document.text.slice(from, to)),
  );

/** The notes as they are read: what is played of them may come more often, or less. */
const notesOf = ({ asRead }: ScoreReading): string =>
  JSON.stringify(asRead.parts.map(({ bars }) => bars.map(({ voices }) => voices)));
/** The same without accidentals, which another key asks for. */
const plain = (notes: string): string => notes.replace(/,"(?:accidental|courtesy)":(?:"[^"]*"|true)/g, '');

for (const { name, reading } of readScores(only)) {
  documents++;
  const { bars } = reading.asRead;
  const random = seeded(1);
  const known = schemaFaults(parseXml(reading.document.text)).length;
  const texts = textsOf(reading);
  const notes = notesOf(reading);
  for (const [what, row] of rows)
    for (let count = 0; count < most; count++) {
      const index = Math.floor(random() * bars.length);
      const put = random() < 0.7;
      const choice: BarSignChoice & { what: Tried } = {
        at: bars[index]!.start,
        what,
        put,
        ...(what === 'rehearsal' && { text: 'R9' }),
        ...(what === 'tempo' && { text: 'Con brio', quartersPerMinute: 96 }),
        ...(what === 'key' && { fifths: Math.floor(random() * 11) - 5, minor: random() < 0.3 }),
        ...(what === 'bar-line' && { style: 'light-light' as const }),
        ...(what === 'repeat-to' && { times: 3 }),
        ...(what === 'ending' && { text: '7', bars: 1 }),
      };
      row.tried++;
      const begun = performance.now();
      let made: ReturnType<typeof withBarSigns>;
      try {
        made = withBarSigns(reading, [choice]);
      } catch (error) {
        faults.push(`${name} ${what} bar ${index}: ${(error as Error).message}`);
        continue;
      }
      row.ms += performance.now() - begun;
      const where = `${name} ${what} ${put ? 'put at' : 'off'} bar ${index}`;
      if (made.refused.length > 0) row.refused++;
      const { reading: after } = made;
      if (isSaid(after.score, index, choice)) row.asWanted++;
      else faults.push(`${where}: not as wanted`);
      const isSameMusic = what === 'key' ? plain(notesOf(after)) === plain(notes) : notesOf(after) === notes;
      if (isSameMusic) row.notes++;
      else faults.push(`${where}: notes stand otherwise`);
      const others = textsOf(after).flatMap((part, at) =>
        part.flatMap((text, bar) => (text === texts[at]![bar] || bar === index ? [] : [bar])),
      );
      // An ending that is taken off has its other end in another bar; a key holds from its bar on.
      const isAfter = what === 'key' && others.every((bar) => bar > index);
      if (others.length === 0 || isAfter || (what === 'ending' && !put)) row.rest++;
      else faults.push(`${where}: other bars changed: ${others.slice(0, 3).join(', ')}`);
      if (count < 4) {
        const now = schemaFaults(parseXml(after.document.text));
        if (now.length > known) {
          row.invalid++;
          faults.push(`${where}: ${now[0]}`);
        }
      }
    }
}
console.log(`${documents} documents, up to ${most} signs of each kind in each, seed 1`);
console.table(
  [...rows].map(([what, { tried, refused, asWanted, rest, notes, invalid, ms }]) => ({
    what,
    tried,
    refused,
    'stands as wanted': asWanted,
    'notes as they were': notes,
    'all else to the byte': rest,
    'against the schema': invalid,
    'ms each': Math.round(ms / Math.max(1, tried)),
  })),
);
if (process.argv.includes('--faults')) for (const fault of faults.slice(0, 60)) console.log(fault);
else if (faults.length > 0) console.log(`${faults.length} faults: --faults prints them`);
