/**
 * How well the hands of a keyboard are told apart when both are on one strand: `npm run bench:hands`.
 *
 * Data: the keyboard works among those of bench/corpus.ts, public-domain works, performed at default settings, handed
 * over as a MIDI file with both staves on one track, and read as any other. A note is right where it stands on the
 * staff on which the work has it. Two were tuned on; the others are only reported. Beside it a cut at middle C. WORK=name picks some,
 * SHOW=1 lists the bars with notes on the wrong staff.
 */

import { readFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { finished } from '../src/core/basics/steps';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import { DEFAULT_HAND_OVER } from '../src/core/decisions/kinds/hand-over';
import { deliverMidi } from '../src/core/deliver';
import type { Part, Score } from '../src/core/model/score';
import { Workbench } from '../src/core/workbench/workbench';
import { corpusFolder, WORKS } from './corpus';

const TUNED = /maple_leaf|prayer_of/;
const MIDDLE_C = 60;

/** The staves of each note of a part, by when it begins and its key; tied-on notes are no beginnings. */
function stavesOf(score: Score, part: Part): Map<string, number> {
  const staves = new Map<string, number>();
  part.bars.forEach(({ voices }, bar) => {
    for (const { items, staff } of voices)
      for (const item of items)
        if (item.kind === 'chord' && !item.cue)
          for (const { key, tieStop } of item.notes)
            if (!tieStop) staves.set(`${(score.bars[bar]?.start ?? 0) + item.onset} ${key}`, staff);
  });
  return staves;
}

const workbenchOf = (name: string, bytes: Uint8Array) =>
  new Workbench([{ id: '1', version: 1, name, bytes }]);

interface Row {
  notes: number;
  right: number;
  plain: number;
  /** Notes that another voice of the same staff was needed for, in the work and as read. */
  voices: number;
  'voices in the work': number;
}

const empty = (): Row => ({ notes: 0, right: 0, plain: 0, voices: 0, 'voices in the work': 0 });

const secondsIn = (part: Part): number =>
  part.bars.reduce(
    (sum, { voices }) =>
      sum +
      voices
        .filter(({ voice }) => voice > 1)
        .reduce((own, { items }) => own + items.filter(({ kind }) => kind === 'chord').length, 0),
    0,
  );

const rows = { tuned: empty(), 'not tuned on': empty() };
for (const work of WORKS) {
  const name = basename(work);
  if (/^bwv/.test(name) || (process.env.WORK && !name.includes(process.env.WORK))) continue;
  const bytes = new Uint8Array(readFileSync(join(corpusFolder(), 'corpus', work)));
  const before = workbenchOf(name, bytes);
  before.layOut(0, { ...EMPTY_BRIEF, directives: [{ kind: 'perform', repeats: false }] });
  const written = finished(before.write(0)).transcription.score;
  const keyboards = written.parts.filter(({ clefs }) => clefs.length === 2);
  if (keyboards.length === 0) continue;
  const midi = deliverMidi(before.at(0).desk, { ...DEFAULT_HAND_OVER, times: 'written' }, null);
  const after = workbenchOf(`${name}.mid`, midi);
  // What it is called is another question.
  const strands = after.layOut(0, EMPTY_BRIEF).desk.performance.strands.map(({ id }) => id);
  after.layOut(0, {
    ...EMPTY_BRIEF,
    directives: strands.map((strand) => ({ kind: 'cast' as const, strand, instrument: 'piano' })),
  });
  const read = finished(after.write(0)).transcription.score;
  for (const part of keyboards) {
    const truth = stavesOf(written, part);
    const found = read.parts
      .map((each) => ({ part: each, staves: stavesOf(read, each) }))
      .sort((a, b) => shared(truth, b.staves) - shared(truth, a.staves))[0];
    if (!found) continue;
    const row = TUNED.test(name) ? rows.tuned : rows['not tuned on'];
    row.voices += secondsIn(found.part);
    row['voices in the work'] += secondsIn(part);
    const wrong: string[] = [];
    for (const [place, staff] of truth) {
      const own = found.staves.get(place);
      if (own === undefined) continue;
      const key = Number(place.split(' ')[1]);
      row.notes++;
      if (own === staff) row.right++;
      else wrong.push(place);
      if ((key >= MIDDLE_C ? 1 : 2) === staff) row.plain++;
    }
    console.log(`${name}: ${wrong.length} of ${truth.size} on the other staff`);
    if (process.env.SHOW) console.log(wrong.slice(0, 40).join(', '));
  }
}

function shared(one: ReadonlyMap<string, number>, other: ReadonlyMap<string, number>): number {
  let count = 0;
  for (const place of one.keys()) if (other.has(place)) count++;
  return count;
}

const percent = (count: number, of: number) => `${((100 * count) / Math.max(1, of)).toFixed(2)} %`;
console.table(
  Object.fromEntries(
    Object.entries(rows).map(([half, row]) => [
      half,
      {
        notes: row.notes,
        'by middle C': percent(row.plain, row.notes),
        ours: percent(row.right, row.notes),
        'notes of second voices': row.voices,
        'in the works': row['voices in the work'],
      },
    ]),
  ),
);
