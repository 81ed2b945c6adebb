/**
 * How scores full of scraps come out when they are written again: `npm run bench:again`.
 *
 * Data: bench/rhythm/more.json, performed by the seeded players of rhythm/players.ts (SEED, LOOSE as in bench:lengths)
 * and written naively as MusicXML: all as it falls on 64ths, tied from value to value, with rests between. Every
 * part of that is written again; beside it what the same performance gives as a MIDI file, and the naive document
 * as it is. Every other work was tuned on; the halves stand side by side.
 */
import { finished } from '../src/core/basics/steps';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import { withDirectives } from '../src/core/decisions/decisions';
import { barsOfPiece, type Clock } from '../src/core/model/clock';
import { pitchAt } from '../src/core/model/pitch';
import { readSmf } from '../src/core/sources/smf/read';
import { transcribeNow } from '../src/core/transcribe';
import { Workbench } from '../src/core/workbench/workbench';
import { layOutFile } from '../tests/helpers/desk';
import { briefFor, strandAt } from './rhythm/brief';
import { add, emptyTally, judge, readNotes, type Tally } from './rhythm/judge';
import { type PlayedTrack, TICKS } from './rhythm/perform';
import { PLAYERS, type PlayerName, play } from './rhythm/players';
import { loadMore, type Work } from './rhythm/works';

const seed = Number(process.env.SEED ?? 1);
const loose = (process.env.LOOSE ?? '0,1').split(',').map(Number);
const wanted = process.env.WORK ?? '';

/** Ticks of a 64th: what a naive writer rounds to. */
const GRID = TICKS / 16;
/** Values in 64ths, the longest first. */
const VALUES: readonly [number, string][] = [
  [64, 'whole'],
  [32, 'half'],
  [16, 'quarter'],
  [8, 'eighth'],
  [4, '16th'],
  [2, '32nd'],
  [1, '64th'],
];

type Note = PlayedTrack['notes'][number];

/** A track as the music of a part; and for each note its place among the written ones. */
function naively(
  notes: readonly Note[],
  clock: Clock,
  end: number,
): { music: string; places: Map<Note, number> } {
  const at = (tick: number) => Math.round(tick / GRID);
  const spans = notes
    .map((note) => ({ note, on: at(note.on), off: Math.max(at(note.on) + 1, at(note.off)) }))
    .sort((a, b) => a.on - b.on || a.note.truth.key - b.note.truth.key);
  // A key that is struck again is let go before.
  spans.forEach((span, index) => {
    const next = spans.slice(index + 1).find(({ note }) => note.truth.key === span.note.truth.key);
    if (next && next.on < span.off) span.off = Math.max(span.on + 1, next.on);
  });
  const places = new Map<Note, number>();
  let written = 0;
  let music = '';
  barsOfPiece(clock, end).forEach((bar, index) => {
    const from = at(bar.start);
    const to = at(bar.start + bar.length);
    const { numerator, denominator } = bar.meter;
    music += `<measure number="${index + 1}">`;
    if (index === 0) music += '<attributes><divisions>16</divisions></attributes>';
    music += `<attributes><time><beats>${numerator}</beats><beat-type>${denominator}</beat-type></time></attributes>`;
    const cuts = new Set([from, to]);
    const here = spans.filter(({ on, off }) => on < to && off > from);
    for (const { on, off } of here) for (const cut of [on, off]) if (cut > from && cut < to) cuts.add(cut);
    const edges = [...cuts].sort((a, b) => a - b);
    edges.slice(1).forEach((until, nth) => {
      let now = edges[nth]!;
      const sounding = here.filter(({ on, off }) => on < until && off > now);
      while (now < until) {
        const [length, type] = VALUES.find(([size]) => size <= until - now)!;
        const shape = `<duration>${length}</duration>`;
        if (sounding.length === 0)
          music += `<note><rest/>${shape}<voice>1</voice><type>${type}</type></note>`;
        sounding.forEach(({ note, on, off }, index) => {
          if (!places.has(note)) places.set(note, written);
          written++;
          const { step, alter, octave } = pitchAt(((note.truth.key * 7 + 3) % 12) - 3, note.truth.key);
          const ties = [...(on < now ? ['stop'] : []), ...(off > now + length ? ['start'] : [])];
          music += `<note>${index > 0 ? '<chord/>' : ''}<pitch><step>${step}</step><alter>${alter}</alter><octave>${octave}</octave></pitch>${shape}${ties.map((tie) => `<tie type="${tie}"/>`).join('')}<voice>1</voice><type>${type}</type></note>`;
        });
        now += length;
      }
    });
    music += '</measure>';
  });
  return { music, places };
}

interface Row {
  again: Tally;
  midi: Tally;
  naive: Tally;
}

function run(work: Work, player: PlayerName, looseness: number): Row {
  const row: Row = { again: emptyTally(), midi: emptyTally(), naive: emptyTally() };
  const performed = play(work, player, looseness, seed);
  const { brief } = briefFor(performed, work);
  const { performance } = layOutFile(readSmf(performed.bytes), brief);
  const fromMidi = readNotes(transcribeNow(performance, brief).score);
  const parts = performed.tracks.map(({ notes }) => naively(notes, performance.clock, performance.end));
  const document = `<score-partwise version="4.0"><part-list>${parts.map((_, index) => `<score-part id="P${index + 1}"><part-name>${work.parts[performed.tracks[index]!.part]!.name || `Part ${index + 1}`}</part-name></score-part>`).join('')}</part-list>${parts.map(({ music }, index) => `<part id="P${index + 1}">${music}</part>`).join('')}</score-partwise>`;
  const workbench = new Workbench([
    { id: '1', version: 1, name: 'x.musicxml', bytes: new TextEncoder().encode(document) },
  ]);
  workbench.layOut(1, EMPTY_BRIEF);
  const naive = readNotes(finished(workbench.write(1)).transcription.score);
  const { desk } = workbench.layOut(2, withDirectives(EMPTY_BRIEF, [{ kind: 'again', again: true }]));
  const { transcription } = finished(workbench.write(2));
  for (const why of transcription.undone) console.log(`${work.name}: ${why}`);
  const again = readNotes(transcription.score);
  performed.tracks.forEach(({ notes }, index) => {
    const strand = performance.strands.find((each) => each.id === strandAt(index));
    const ids = (strand?.notes ?? []).toSorted((a, b) => a.on - b.on || a.key - b.key).map(({ id }) => id);
    const home = desk.performance.strands.find(({ track }) => track === index + 1)?.id ?? '';
    const idOf = (note: Note) => `${home}/${parts[index]!.places.get(note)}`;
    judge(
      row.midi,
      notes.map(({ truth }, at) => [truth, fromMidi.get(ids[at] ?? '')]),
      false,
    );
    judge(
      row.again,
      notes.map((note) => [note.truth, again.get(idOf(note))]),
      false,
    );
    judge(
      row.naive,
      notes.map((note) => [note.truth, naive.get(idOf(note))]),
      false,
    );
  });
  return row;
}

const percent = (count: number, of: number): string => (of === 0 ? '–' : ((100 * count) / of).toFixed(1));

const works = loadMore();
const table: Record<string, Record<string, string | number>> = {};
for (const player of PLAYERS)
  for (const looseness of loose) {
    const line: Record<string, string | number> = {};
    for (const [label, half] of [
      ['tuned', 0],
      ['not', 1],
    ] as const) {
      const sum: Row = { again: emptyTally(), midi: emptyTally(), naive: emptyTally() };
      works.forEach((work, index) => {
        if (index % 2 !== half || !work.name.includes(wanted)) return;
        const row = run(work, player, looseness);
        for (const key of ['again', 'midi', 'naive'] as const) add(sum[key], row[key]);
      });
      const { notes } = sum.again;
      line[`notes, ${label}`] = notes;
      for (const key of ['again', 'midi', 'naive'] as const)
        line[`${key}, ${label}`] =
          `${percent(sum[key].positions, notes)} / ${percent(sum[key].lengths, notes)}`;
    }
    table[`${player} ${looseness}`] = line;
  }
console.log(
  `more.json, seed ${seed}: places / lengths right, in percent; written again, as MIDI, and as it was written naively`,
);
console.table(table);
