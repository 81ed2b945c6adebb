/**
 * How well lengths are read under players that differ: `npm run bench:lengths`.
 *
 * Data: bench/rhythm/more.json (dance tunes, folk songs, masses, madrigals, a trio sonata) and
 * works.json, performed by the seeded players of rhythm/players.ts. Every other work of each was
 * tuned on; the halves stand side by side. SEED another player, WORK=name some works, LOOSE=0,1,2.
 * Beside it the plain rule: a note lasts until the next of its hand, or as long as it sounded
 * on the finest grid where that is less than half of it.
 */
import { QUARTER } from '../src/core/model/time';
import { readSmf } from '../src/core/sources/smf/read';
import { transcribeNow } from '../src/core/transcribe';
import { layOutFile } from '../tests/helpers/desk';
import { briefFor, strandAt } from './rhythm/brief';
import { add, emptyTally, judge, type ReadNote, readNotes, type Tally } from './rhythm/judge';
import { TICKS } from './rhythm/perform';
import { PLAYERS, type PlayerName, play } from './rhythm/players';
import { loadMore, loadWorks, type Work } from './rhythm/works';

const seed = Number(process.env.SEED ?? 1);
const loose = (process.env.LOOSE ?? '0,1,2').split(',').map(Number);
const wanted = process.env.WORK ?? '';

interface Row {
  ours: Tally;
  plain: Tally;
}

/** The plain rule, on places that are given to it. */
function plainly(notes: readonly { on: number; off: number; truth: { start: number } }[]): ReadNote[] {
  const step = QUARTER / 4;
  const starts = [...new Set(notes.map(({ truth }) => truth.start))].sort((a, b) => a - b);
  return notes.map(({ on, off, truth: { start } }) => {
    const next = starts.find((other) => other > start) ?? start + QUARTER;
    const sounded = Math.max(step, Math.round((((off - on) / TICKS) * QUARTER) / step) * step);
    const end = sounded > next - start || 2 * sounded >= next - start ? next : start + sounded;
    return { start, end, staff: 1, voice: 1, tuplet: false, grace: false };
  });
}

function run(work: Work, player: PlayerName, looseness: number): Row {
  const row: Row = { ours: emptyTally(), plain: emptyTally() };
  const performed = play(work, player, looseness, seed);
  const { brief } = briefFor(performed, work);
  const { performance } = layOutFile(readSmf(performed.bytes), brief);
  const read = readNotes(transcribeNow(performance, brief).score);
  performed.tracks.forEach(({ notes }, index) => {
    const strand = performance.strands.find((each) => each.id === strandAt(index));
    const ids = (strand?.notes ?? []).toSorted((a, b) => a.on - b.on || a.key - b.key).map(({ id }) => id);
    const plain = plainly(notes);
    judge(
      row.ours,
      notes.map(({ truth }, at) => [truth, read.get(ids[at] ?? '')]),
      false,
    );
    judge(
      row.plain,
      notes.map(({ truth }, at) => [truth, plain[at]]),
      false,
    );
  });
  return row;
}

const percent = (count: number, of: number): string => (of === 0 ? '–' : ((100 * count) / of).toFixed(2));

for (const [name, works] of [
  ['more.json', loadMore()],
  ['works.json', loadWorks()],
] as const) {
  const table: Record<string, Record<string, string | number>> = {};
  for (const player of PLAYERS)
    for (const looseness of loose) {
      const line: Record<string, string | number> = {};
      for (const [label, half] of [
        ['tuned', 0],
        ['not', 1],
      ] as const) {
        const sum: Row = { ours: emptyTally(), plain: emptyTally() };
        works.forEach((work, index) => {
          if (index % 2 !== half || !work.name.includes(wanted)) return;
          const { ours, plain } = run(work, player, looseness);
          add(sum.ours, ours);
          add(sum.plain, plain);
        });
        line[`notes, ${label}`] = sum.ours.notes;
        line[`places, ${label}`] = percent(sum.ours.positions, sum.ours.notes);
        line[`lengths, ${label}`] = percent(sum.ours.lengths, sum.ours.notes);
        line[`plain, ${label}`] = percent(sum.plain.lengths, sum.plain.notes);
      }
      table[`${player} ${looseness}`] = line;
    }
  console.log(
    `${name}, seed ${seed}; the half that was tuned on, and the other. Plain: on places that are given to it.`,
  );
  console.table(table);
}
