/**
 * How well played rhythm is read: `npm run bench:rhythm`. Works of the open
 * corpus named in scripts/rhythm-facts.py, performed by the seeded player of
 * rhythm/perform.ts. Constants were tuned on every other work; the table is of
 * the rest. HALF=tune shows the tuned half, WORK=name some works, SEED another
 * player, BY=work a line for each work.
 */

import { readSmf } from '../src/core/sources/smf/read';
import { transcribeNow } from '../src/core/transcribe';
import { layOutFile } from '../tests/helpers/desk';
import { briefFor, strandAt } from './rhythm/brief';
import { add, countSymbols, emptyTally, judge, readNotes, roundAll, type Tally } from './rhythm/judge';
import { LEVELS, type Level, perform } from './rhythm/perform';
import reference from './rhythm/reference.json';
import { measureSpeed } from './rhythm/speed';
import { loadWorks, type Work } from './rhythm/works';

if (!process.env.WORK && !process.env.LEVELS) measureSpeed();

const half = process.env.HALF === 'tune' ? 0 : 1;
const seed = Number(process.env.SEED ?? 1);
const wanted = process.env.WORK ?? '';
const levels = LEVELS.filter((level) => (process.env.LEVELS ?? '012345').includes(String(level)));
const works = loadWorks().filter((work, index) => index % 2 === half && work.name.includes(wanted));

interface Row {
  tally: Tally;
  rounded: Tally;
  early: number;
  leadsRight: number;
  /** Early parts whose jitter leaves their average that near to their lead. */
  leadsKnowable: number;
  swung: number;
  swingsFound: number;
  straight: number;
  swingsInvented: number;
}

const emptyRow = (): Row => ({
  tally: emptyTally(),
  rounded: emptyTally(),
  early: 0,
  leadsRight: 0,
  leadsKnowable: 0,
  swung: 0,
  swingsFound: 0,
  straight: 0,
  swingsInvented: 0,
});

function run(work: Work, level: Level): Row {
  const row = emptyRow();
  const performed = perform(work, level, seed);
  const { brief, leaders } = briefFor(performed, work);
  const { performance } = layOutFile(readSmf(performed.bytes), brief);
  const { score, plans, readings, swings } = transcribeNow(performance, brief);
  const read = readNotes(score);
  const { tally } = row;
  performed.tracks.forEach((track, index) => {
    const strand = performance.strands.find((each) => each.id === strandAt(index))!;
    const ids = strand.notes.toSorted((a, b) => a.on - b.on || a.key - b.key).map((note) => note.id);
    const isKeyboard = work.parts[track.part]!.staves === 2;
    judge(
      tally,
      track.notes.map((note, at) => [note.truth, read.get(ids[at]!)]),
      isKeyboard,
    );
    if (track.ahead > 0 && leaders.get(track.part) === strand.id) {
      row.early++;
      if (Math.abs(track.heardAhead - track.ahead) <= 0.01) row.leadsKnowable++;
      const at = plans.findIndex((plan) => plan.strands.includes(strand.id));
      const lead = readings[at]!.leads[plans[at]!.strands.indexOf(strand.id)]!;
      if (!lead.other && Math.abs(lead.seconds - track.ahead) <= 0.01) row.leadsRight++;
      else if (process.env.BY)
        console.log(work.name, work.parts[track.part]!.name, 'ahead', track.ahead, 'found', lead);
    }
  });
  tally.symbols = countSymbols(score);
  tally.symbolsOf = work.parts.reduce((sum, part) => sum + part.symbols, 0);
  const isSwung = performed.swing !== 0.5;
  if (isSwung) {
    row.swung++;
    if (swings.length > 0) row.swingsFound++;
  } else {
    row.straight++;
    if (swings.length > 0) row.swingsInvented++;
  }
  if (process.env.BY && isSwung) console.log(work.name, 'swing', performed.swing, 'found', swings);
  row.rounded = roundAll(performed);
  return row;
}

function sum(rows: readonly Row[]): Row {
  const total = emptyRow();
  for (const row of rows) {
    add(total.tally, row.tally);
    add(total.rounded, row.rounded);
    for (const key of [
      'early',
      'leadsRight',
      'leadsKnowable',
      'swung',
      'swingsFound',
      'straight',
      'swingsInvented',
    ] as const)
      total[key] += row[key];
  }
  return total;
}

const percent = (count: number, of: number): string => (of === 0 ? '–' : ((100 * count) / of).toFixed(2));

function line(row: Row, level: Level) {
  const { tally, rounded } = row;
  const library = (reference as { level: number; positions: number; lengths: number }[]).find(
    (each) => each.level === level,
  );
  return {
    notes: tally.notes,
    'position %': percent(tally.positions, tally.notes),
    rounded: percent(rounded.positions, rounded.notes),
    library: library?.positions.toFixed(2) ?? '–',
    'length %': percent(tally.lengths, tally.notes),
    'rounded ': percent(rounded.lengths, rounded.notes),
    'library ': library?.lengths.toFixed(2) ?? '–',
    'symbols %': percent(tally.symbols, tally.symbolsOf),
    'tuplets %': percent(tally.tuplets, tally.tupletsOf),
    'graces %': percent(tally.graces, tally.gracesOf),
    'staff %': percent(tally.staves, tally.keyboardNotes),
    'staff by middle C': percent(tally.middleC, tally.keyboardNotes),
    'voice %': percent(tally.voices, tally.keyboardNotes),
    leads: `${row.leadsRight}/${row.early}`,
    'by true places': `${row.leadsKnowable}/${row.early}`,
    swung: `${row.swingsFound}/${row.swung}`,
    'straight swung': `${row.swingsInvented}/${row.straight}`,
  };
}

console.log(
  `${works.length} works (${half === 0 ? 'the half that was tuned on' : 'not tuned on'}), seed ${seed}. ` +
    'Rounded: nearest slot of the best single grid for each work. Library: its own quantizer on quarters of 4 and 3.',
);
const table: Record<string, ReturnType<typeof line>> = {};
for (const level of levels) {
  const rows = works.map((work) => run(work, level));
  if (process.env.BY)
    works.forEach((work, index) => {
      table[`${level} ${work.name}`] = line(rows[index]!, level);
    });
  table[level] = line(sum(rows), level);
}
console.table(table);
