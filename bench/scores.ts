/**
 * How scores are read: `npm run bench:scores`.
 *
 * Data: MusicXML that ships with the Python library music21 (PyPI): of its
 * corpus the works that scripts/rhythm-facts.py names and its `demos` folder;
 * of its MusicXML test files, one feature each, those whose number is followed
 * by a, c or e. The others stay unseen. Set MUSIC21 to the installed package,
 * or have `python3` find it.
 *
 * Each document is read into the score, written again by the model alone, and
 * compared fact by fact with what its own elements say (tests/helpers/score-facts).
 * Speed stands beside musicxml-io (npm), which reads the same documents.
 *
 * Each score is then performed, and its attacks (moment and sounding key) are
 * compared with what verovio plays of the same document: grace notes,
 * ornaments, arpeggios and tempo aside, which it plays in ways of its own.
 */
import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { parse as parseElsewhere } from 'musicxml-io';
import { VerovioToolkit } from 'verovio/esm';
import createVerovioModule from 'verovio/wasm';
import { seeded } from '../src/core/basics/random';
import { finished } from '../src/core/basics/steps';
import { FIRST_SOURCE, type PartId } from '../src/core/model/ids';
import type { Unbarred } from '../src/core/model/performance';
import type { Interval } from '../src/core/model/pitch';
import { type Transposing, transposeScore } from '../src/core/notate/transpose';
import { performScore } from '../src/core/perform';
import { ALL_PLAYED } from '../src/core/perform/settings';
import { decodeXml } from '../src/core/sources/musicxml/encoding';
import { withoutLayout } from '../src/core/sources/musicxml/layout';
import { isZip, unpackMxl } from '../src/core/sources/musicxml/mxl';
import { playedOut } from '../src/core/sources/musicxml/played';
import { readMusicXml } from '../src/core/sources/musicxml/read';
import { readScore } from '../src/core/sources/musicxml/source';
import { writeMusicXml } from '../src/core/sources/musicxml/write';
import { unbarredOf } from '../src/core/sources/smf/performance';
import { readSmf } from '../src/core/sources/smf/read';
import { parseXml, schemaFaults } from '../tests/helpers/schema';
import { differences, factsOf } from '../tests/helpers/score-facts';
import { disagreements, writtenInto } from '../tests/helpers/written-into';
import { corpusFolder, scoresOf } from './corpus';

const files = scoresOf(corpusFolder());

interface Row {
  facts: number;
  missing: number;
  added: number;
  files: number;
}
const rows = new Map<string, Row>();
const rowOf = (category: string): Row => {
  const row = rows.get(category) ?? { facts: 0, missing: 0, added: 0, files: 0 };
  rows.set(category, row);
  return row;
};
const lost = new Map<string, number>();
let same = 0;
let mends = 0;
let invalid = 0;
const texts: string[] = [];
for (const file of files) {
  const bytes = new Uint8Array(readFileSync(file));
  const text = decodeXml(isZip(bytes) ? unpackMxl(bytes) : bytes).text;
  texts.push(text);
  const read = readMusicXml(bytes);
  const document = parseXml(writeMusicXml(read.score));
  if (schemaFaults(document).length > 0) invalid++;
  const said = factsOf(parseXml(text));
  const differ = differences(said, factsOf(document));
  for (const [category, facts] of Object.entries(said)) rowOf(category).facts += facts.length;
  for (const [category, { missing, added }] of Object.entries(differ)) {
    const row = rowOf(category);
    row.missing += missing.length;
    row.added += added.length;
    row.files++;
  }
  if (Object.keys(differ).length === 0) same++;
  mends += read.mends.length;
  for (const [name, count] of read.lost) lost.set(name, (lost.get(name) ?? 0) + count);
}
console.log(
  `${files.length} documents read and written by the model alone; ${same} say the same in every category.`,
);
console.log(
  `${mends} mends told, ${invalid} documents not valid against the facts of the MusicXML 4.0 schema.`,
);
console.table(Object.fromEntries(rows));
console.log(
  `No place in the model: ${[...lost]
    .sort((a, b) => b[1] - a[1])
    .map(([name, count]) => `${name} ${count}`)
    .join(', ')}`,
);

/** Each score is transposed in its own text, its parts this way and that (seed 1), and once left without layout. */
const TRANSPOSITIONS: Interval[] = [
  [0, 0],
  [-1, -2],
  [-4, -7],
  [-5, -9],
  [-2, -3],
  [2, 3],
  [-8, -14],
  [1, 1],
].map(([diatonic = 0, chromatic = 0]) => ({ diatonic, chromatic }));
const random = seeded(1);
const always = (to: Interval) => () => to;
const anyOf = <T>(all: readonly T[]): T => all[Math.floor(random() * all.length)]!;
const texted: Record<string, object> = {};
let tries = 0;
let agreed = 0;
let plain = 0;
files.forEach((file, index) => {
  const reading = finished(readScore(new Uint8Array(readFileSync(file)), '1'));
  for (let round = 0; round < 3; round++) {
    const wanted = new Map(
      reading.score.parts.map(({ id }): [PartId, Transposing] => [
        id,
        {
          ...(random() < 0.6 && { to: always(anyOf(TRANSPOSITIONS)) }),
          ...(random() < 0.4 && { by: anyOf(TRANSPOSITIONS) }),
        },
      ]),
    );
    const { score } = transposeScore(reading.score, wanted);
    const differ = disagreements(writtenInto(reading, score), score);
    tries++;
    if (differ.length === 0) agreed++;
    else texted[`${basename(file)} ${round}`] = { parts: differ.length, first: differ[0] };
  }
  const said = factsOf(parseXml(texts[index]!));
  const left = factsOf(parseXml(withoutLayout(reading.document.text)));
  if (Object.keys(differences(said, left)).length === 0) plain++;
});
console.log(
  `Transposed in the text: ${agreed} of ${tries} tries say what the score says; ${plain} of ${files.length} documents say the same without their layout.`,
);
console.table(texted);

/** Attacks of a file as moment and key, to a 48th of a quarter. */
const attacksOf = ({ ticksPerQuarter, strands }: Unbarred): string[] =>
  strands.flatMap(({ notes }) =>
    notes.map(({ on, key }) => `${(Math.round((on / ticksPerQuarter) * 48) / 48).toFixed(3)} ${key}`),
  );

const toolkit = new VerovioToolkit(await createVerovioModule());
toolkit.setOptions({ breaks: 'none' });
const PLAIN = {
  ...ALL_PLAYED,
  articulation: false,
  graces: false,
  fermatas: false,
  ornaments: false,
  glides: false,
  swing: false,
  slurOverlap: 0,
};
const told: Record<string, object> = {};
let alike = 0;
let attacks = 0;
files.forEach((file, index) => {
  const { score } = readMusicXml(new Uint8Array(readFileSync(file)));
  const ours = attacksOf(playedOut(score, performScore(score, PLAIN), FIRST_SOURCE).played);
  toolkit.loadData(texts[index]!.replace(/encoding="[^"]*"/, 'encoding="UTF-8"'));
  const theirs = attacksOf(
    unbarredOf(readSmf(new Uint8Array(Buffer.from(toolkit.renderToMIDI(), 'base64'))), FIRST_SOURCE),
  );
  const { attacks: differ } = differences({ attacks: theirs }, { attacks: ours });
  attacks += ours.length;
  if (!differ) alike++;
  else
    told[basename(file)] = {
      ours: ours.length,
      theirs: theirs.length,
      'only ours': differ.added.length,
      'only theirs': differ.missing.length,
    };
});
console.log(
  `Performed: ${attacks} attacks; ${alike} of ${files.length} scores attack as verovio plays them. The others:`,
);
console.table(told);

/** Milliseconds for all documents, the best of three. */
function best(run: (text: string) => unknown): number {
  const times = [0, 1, 2].map(() => {
    const begun = performance.now();
    for (const text of texts) run(text);
    return performance.now() - begun;
  });
  return Math.round(Math.min(...times));
}
const encoder = new TextEncoder();
const ours = best((text) => readMusicXml(encoder.encode(text)));
const theirs = best((text) => parseElsewhere(text));
const size = texts.reduce((sum, text) => sum + text.length, 0) / 1e6;
console.table({
  [`all documents, ${size.toFixed(1)} MB`]: {
    'ours, ms': ours,
    'musicxml-io, ms': theirs,
    ratio: (theirs / ours).toFixed(2),
  },
});

/** Ten megabytes of the longest quartet, bars repeated. Budget: 3 s. */
const long = texts.toSorted((a, b) => b.length - a.length)[0]!;
const bars = /<measure[\s\S]*<\/measure>/.exec(long.slice(0, long.indexOf('</part>')))![0];
const large =
  long.slice(0, long.indexOf('<measure')) +
  bars.repeat(Math.ceil(1e7 / bars.length)) +
  '</part></score-partwise>';
const begun = performance.now();
const { score } = readMusicXml(encoder.encode(large));
console.log(
  `${(large.length / 1e6).toFixed(1)} MB, ${score.bars.length} bars: ${Math.round(performance.now() - begun)} ms (budget 3000)`,
);
