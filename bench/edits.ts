/**
 * How notes of read scores are edited in their own text: `npm run bench:edits -- [EDITS] [--faults] [--only=NAME]`.
 *
 * Data: the MusicXML documents that bench/corpus.ts names. In each, random notes (seed 1) are taken out, made
 * shorter and longer, moved, made a third of a quarter long, put into a second voice, and notes are added; each edit by itself. The document
 * is read again and compared: what stands in it with what was wanted, bars that no edit was about with their very
 * characters, and all of it with the facts of the MusicXML 4.0 schema that the document itself kept.
 */
import { seeded } from '../src/core/basics/random';
import { rewrittenScore } from '../src/core/rewrite';
import { differing, EDIT_KINDS, editOf, expected, otherBars, standing } from '../tests/helpers/edited-score';
import { parseXml, schemaFaults } from '../tests/helpers/schema';
import { readScores } from './corpus';

const most = Number(process.argv.find((each) => /^\d+$/.test(each)) ?? 20);
const rows = new Map(
  EDIT_KINDS.map((kind) => [
    kind,
    { tried: 0, refused: 0, asWanted: 0, rest: 0, mended: 0, invalid: 0, ms: 0 },
  ]),
);
const faults: string[] = [];
const whys = new Map<string, number>();
let documents = 0;
const only = process.argv.find((each) => each.startsWith('--only='))?.slice(7) ?? '';
for (const { name, reading } of readScores(only)) {
  documents++;
  const before = standing(reading.score);
  const events = [...before.keys()];
  if (events.length === 0) continue;
  const random = seeded(1);
  const known = schemaFaults(parseXml(reading.document.text)).length;
  for (const [kind, row] of rows)
    for (let count = 0; count < most; count++) {
      const event = events[Math.floor(random() * events.length)]!;
      const edits = editOf(kind, event, before.get(event)!, reading.score);
      if (!edits) continue;
      row.tried++;
      const begun = performance.now();
      let made: ReturnType<typeof rewrittenScore>;
      try {
        made = rewrittenScore(reading, edits);
      } catch (error) {
        faults.push(`${name} ${kind} ${event}: ${(error as Error).message}`);
        continue;
      }
      row.ms += performance.now() - begun;
      const { reading: after, touched, refused } = made;
      if (refused.length > 0) {
        row.refused++;
        const why = refused[0]!.replace(/^.*: /, '');
        whys.set(why, (whys.get(why) ?? 0) + 1);
        continue;
      }
      const differ = differing(expected(before, edits, reading.score), standing(after.score));
      if (differ.length === 0) row.asWanted++;
      else
        faults.push(
          `${name} ${kind} ${event}: ${differ.length} notes stand otherwise (${differ.slice(0, 3).join(' ')})`,
        );
      const others = otherBars(reading, after, touched);
      if (others.length === 0) row.rest++;
      else faults.push(`${name} ${kind} ${event}: other bars changed: ${others.slice(0, 3).join(', ')}`);
      if (after.mends.length > reading.mends.length) {
        row.mended++;
        const were = new Set(reading.mends.map(({ what }) => what.replace(/line \d+/, '')));
        faults.push(
          `${name} ${kind} ${event}: ${after.mends.find(({ what }) => !were.has(what.replace(/line \d+/, '')))?.what}`,
        );
      }
      if (count < 4) {
        const now = schemaFaults(parseXml(after.document.text));
        if (now.length > known) {
          row.invalid++;
          faults.push(`${name} ${kind} ${event}: ${now[0]}`);
        }
      }
    }
}
console.log(`${documents} documents, up to ${most} edits of each kind in each, seed 1`);
console.table(
  [...rows].map(([kind, { tried, refused, asWanted, rest, mended, invalid, ms }]) => ({
    kind,
    tried,
    refused,
    'stands as wanted': asWanted,
    'all else to the byte': rest,
    'needs mending': mended,
    'against the schema': invalid,
    'ms each': Math.round(ms / Math.max(1, tried)),
  })),
);
for (const [why, count] of whys) console.log(`refused ${count} ×: ${why}`);
if (process.argv.includes('--faults')) for (const fault of faults.slice(0, 60)) console.log(fault);
else if (faults.length > 0) console.log(`${faults.length} faults: --faults prints them`);
