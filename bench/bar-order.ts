/**
 * How bars of read scores are put in, taken out, repeated and moved: `npm run bench:bar-order -- [EDITS] [--faults] [--only=NAME]`.
 *
 * Data: the MusicXML documents that bench/corpus.ts names. Each has so many edits of each kind at random bars (seed 1), each
 * by itself. The document is read again: every bar must have the notes that it had, the schema of MusicXML 4.0 must be
 * kept where it was, bars that follow the one that they followed must stay to the character but for their numbers, and what is
 * put in and taken out again must leave the very text.
 */
import { seeded } from '../src/core/basics/random';
import { finished } from '../src/core/basics/steps';
import { type BarsEdit, BarsEditError, orderAfter } from '../src/core/rewrite/bar-order';
import { checkBars, rebarred } from '../src/core/rewrite/rebarred';
import { readScore, type ScoreReading } from '../src/core/sources/musicxml/source';
import { parseXml, schemaFaults } from '../tests/helpers/schema';
import { readScores } from './corpus';

const KINDS = ['insert', 'remove', 'copy', 'move'] as const satisfies readonly BarsEdit['what'][];

const most = Number(process.argv.find((each) => /^\d+$/.test(each)) ?? 5);
const only = process.argv.find((each) => each.startsWith('--only='))?.slice(7) ?? '';
const rows = new Map(
  KINDS.map((what) => [what, { tried: 0, refused: 0, failed: 0, invalid: 0, undone: 0, back: 0, ms: 0 }]),
);
const faults: string[] = [];
let documents = 0;

const read = (bytes: Uint8Array): ScoreReading => finished(readScore(bytes, '1'));
const textOf = (bytes: Uint8Array) => new TextDecoder().decode(bytes);

function editOf(what: BarsEdit['what'], bars: number, random: () => number): BarsEdit {
  const below = (limit: number) => Math.floor(random() * limit);
  const from = below(bars);
  const to = Math.min(bars, from + 1 + below(4));
  if (what === 'insert') return { what, at: below(bars + 1), count: 1 + below(3) };
  if (what === 'remove') return { what, from, to };
  const at = below(bars + 1);
  if (what === 'move') return { what, from, to, at: at >= from && at <= to ? (to < bars ? bars : 0) : at };
  return { what, from, to, at };
}

for (const { name, reading } of readScores(only)) {
  documents++;
  const { bars } = reading.asRead;
  const random = seeded(1);
  const known = schemaFaults(parseXml(reading.document.text)).length;
  for (const [what, row] of rows)
    for (let count = 0; count < most; count++) {
      const edit = editOf(what, bars.length, random);
      if (edit.what !== 'insert' && edit.to - edit.from === bars.length) continue;
      const where = `${name} ${JSON.stringify(edit)}`;
      row.tried++;
      const begun = performance.now();
      try {
        const order = orderAfter(edit, bars.length);
        const { bytes, told } = rebarred(reading, order);
        row.ms += performance.now() - begun;
        checkBars(reading.asRead, read(bytes).asRead, order);
        const against = schemaFaults(parseXml(textOf(bytes)));
        // What it had from the start may come more often, or be gone.
        if (against.length > known && what !== 'copy') {
          row.invalid++;
          faults.push(`${where}: ${against.at(-1)}`);
        }
        // What was over the edge is gone, as it is told.
        if (edit.what === 'insert' && edit.at > 0 && told.length === 0) {
          row.undone++;
          const out: BarsEdit = { what: 'remove', from: edit.at, to: edit.at + edit.count };
          const back = rebarred(read(bytes), orderAfter(out, bars.length + edit.count));
          if (textOf(back.bytes) === reading.document.text) row.back++;
          else faults.push(`${where}: not the very text after it is taken out`);
        }
      } catch (error) {
        if (error instanceof BarsEditError) row.refused++;
        else row.failed++;
        faults.push(`${where}: ${(error as Error).message}`);
      }
    }
}

console.log(`${documents} documents, ${most} edits of each kind, seed 1`);
console.table(
  Object.fromEntries(
    [...rows].map(([what, { tried, refused, failed, invalid, undone, back, ms }]) => [
      what,
      {
        tried,
        done: tried - refused - failed,
        refused,
        failed,
        'against the schema': invalid,
        'undone to the byte': undone > 0 ? `${back} of ${undone}` : '',
        'ms each': (ms / tried).toFixed(0),
      },
    ]),
  ),
);
if (process.argv.includes('--faults')) console.log(faults.join('\n'));
