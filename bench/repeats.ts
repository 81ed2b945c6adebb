/**
 * How well repeats that were played out are found again: `npm run bench:repeats`.
 *
 * Data: the works of form.json (scripts/form-facts.py: public-domain works with printed repeats, and the order in
 * which a reference library plays their bars), their notes from works.json, played out in that order by the seeded
 * players of rhythm/players.ts, who play the second time otherwise than the first; LOOSE 0, half, 1, 2. Every other
 * work was tuned on. SEED another player, WORK=name for some.
 *
 * Found: works in which a repeat of the length of the first printed one is found. Bars: bars of the score once all that is found is folded,
 * of those that are printed. Places and lengths: notes of the score that stand where and as long as printed.
 */

import { foldedScore } from '../src/core/deliver/folded';
import { unitStart } from '../src/core/infer/form/units';
import { readSmf } from '../src/core/sources/smf/read';
import { transcribeNow } from '../src/core/transcribe';
import { layOutFile } from '../tests/helpers/desk';
import form from './form.json';
import { briefFor, strandAt } from './rhythm/brief';
import { emptyTally, judge, readNotes } from './rhythm/judge';
import { PLAYERS, type PlayerName, play } from './rhythm/players';
import { joinBars, loadWorks, printedBars, type TrueBar, type Work } from './rhythm/works';

const seed = Number(process.env.SEED ?? 1);
const LOOSE = (process.env.LOOSE ?? '0,0.5,1,2').split(',').map(Number);

/** A work with its printed bars in the order in which they are played. */
function playedOut(work: Work, printed: readonly TrueBar[], order: readonly number[]): Work {
  let at = 0;
  const bars = order.map((bar) => {
    const start = at;
    at += printed[bar]!.length;
    return { ...printed[bar]!, start };
  });
  return {
    ...work,
    bars: joinBars(bars),
    parts: work.parts.map((part) => ({
      ...part,
      notes: order
        .flatMap((bar, index) => {
          const { start, length } = printed[bar]!;
          const later = bars[index]!.start - start;
          return part.notes
            .filter((note) => note.start >= start && note.start < start + length)
            .map((note) => ({ ...note, start: note.start + later, end: note.end + later }));
        })
        .sort((a, b) => a.start - b.start),
    })),
  };
}

interface Sum {
  works: number;
  found: number;
  bars: number;
  printed: number;
  notes: ReturnType<typeof emptyTally>;
}

function run(work: Work, order: readonly number[], player: PlayerName, loose: number, sum: Sum): void {
  const printed = printedBars(work.name);
  const whole = playedOut(work, printed, order);
  const performed = play(whole, player, loose, seed);
  const { brief } = briefFor(performed, whole);
  const { performance } = layOutFile(readSmf(performed.bytes), brief);
  const { score, told } = transcribeNow(performance, brief);
  const offers = told?.form ?? [];
  const lengths = offers.flatMap(({ repeat, upbeat }) => {
    const startOf = (bar: number) => unitStart(score.bars, upbeat, bar);
    return repeat ? [startOf(repeat.from + repeat.length) - startOf(repeat.from)] : [];
  });
  const again = order.findIndex((bar, at) => at > 0 && bar <= order[at - 1]!);
  const pass = order
    .slice(order.indexOf(order[again]!), again)
    .reduce((sum, bar) => sum + printed[bar]!.length, 0);
  sum.works++;
  if (lengths.includes(pass)) sum.found++;
  sum.printed += work.bars.length;
  sum.bars += (foldedScore({ score, folded: offers })?.score ?? score).bars.filter(
    ({ missing }, at) => at === 0 || missing === 0,
  ).length;
  const read = readNotes(score);
  performed.tracks.forEach(({ notes }, index) => {
    const strand = performance.strands.find((each) => each.id === strandAt(index));
    const ids = (strand?.notes ?? []).toSorted((a, b) => a.on - b.on || a.key - b.key).map(({ id }) => id);
    judge(
      sum.notes,
      notes.map(({ truth }, at) => [truth, read.get(ids[at] ?? '')]),
      false,
    );
  });
}

const works = loadWorks().filter(({ name }) => name in form && name.includes(process.env.WORK ?? ''));
const percent = (count: number, of: number): string => (of === 0 ? '–' : ((100 * count) / of).toFixed(2));
const table: Record<string, Record<string, string | number>> = {};
for (const player of PLAYERS)
  for (const loose of player === 'sequencer' ? [0] : LOOSE) {
    const line: Record<string, string | number> = {};
    for (const [label, half] of [
      ['tuned', 0],
      ['not', 1],
    ] as const) {
      const sum: Sum = { works: 0, found: 0, bars: 0, printed: 0, notes: emptyTally() };
      works.forEach((work, index) => {
        if (index % 2 === half) run(work, form[work.name as keyof typeof form].order, player, loose, sum);
      });
      const { notes } = sum;
      line[`found, ${label}`] = `${sum.found} of ${sum.works}`;
      line[`bars, ${label}`] = `${sum.bars} of ${sum.printed}`;
      line[`places, ${label}`] = percent(notes.positions, notes.notes);
      line[`lengths, ${label}`] = percent(notes.lengths, notes.notes);
    }
    table[`${player} ${loose}`] = line;
  }
console.log(`form.json, seed ${seed}; the half that was tuned on, and the other.`);
console.table(table);
