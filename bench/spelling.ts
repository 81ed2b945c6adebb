/**
 * How well notes are spelled: `npm run bench:spelling`.
 *
 * Data: works.json, keys.json and spelling.json (scripts/rhythm-facts.py,
 * key-facts.py and spelling-facts.py): public-domain works, played to the tick.
 * Every other work was tuned on, the table is of the rest (HALF=tune shows the
 * tuned half). Each is read with its signatures given and without. Beside it
 * Meredith's ps13s1 (2006) as a reference library has it, which knows no key.
 */
import type { KeyChange } from '../src/core/model/performance';
import { pitchFifths } from '../src/core/model/pitch';
import type { Score } from '../src/core/model/score';
import { QUARTER } from '../src/core/model/time';
import { readSmf } from '../src/core/sources/smf/read';
import { transcribeNow } from '../src/core/transcribe';
import { layOutFile } from '../tests/helpers/desk';
import signatures from './keys.json';
import { briefFor, strandAt } from './rhythm/brief';
import { perform } from './rhythm/perform';
import { loadWorks, type TrueNote, type Work } from './rhythm/works';
import facts from './spelling.json';

const half = process.env.HALF === 'tune' ? 0 : 1;
const wanted = process.env.WORK ?? '';
const works = loadWorks().filter((work, index) => index % 2 === half && work.name.includes(wanted));
const written = signatures as unknown as Record<string, [quarter: number, fifths: number][]>;
const spellings = facts as Record<string, { truth: string[]; ps13: string[] }>;

/** F is N, C is O … */
const placeOf = (letter: string): number => letter.charCodeAt(0) - 'A'.charCodeAt(0) - 15;

/** The spelling of each source note, as a place on the line of fifths. */
function spelled(score: Score): Map<string, number> {
  const out = new Map<string, number>();
  for (const part of score.parts)
    for (const { voices } of part.bars)
      for (const { items } of voices)
        for (const item of items)
          if (item.kind === 'chord')
            for (const note of [...(item.graces ?? []), ...item.notes])
              for (const id of note.sources) out.set(id, pitchFifths(note.pitch));
  return out;
}

interface Counts {
  notes: number;
  given: number;
  found: number;
  ps13: number;
}

/** Signatures as a file would tell them; of the mode files know little, and nothing is told. */
const told = (work: Work, ticksPerQuarter: number): KeyChange[] =>
  (written[work.name] ?? []).map(([quarter, fifths]) => ({
    tick: Math.round(quarter * ticksPerQuarter),
    fifths,
    minor: false,
  }));

/** How each note of a work is spelled, with its written signatures told or not. */
function read(work: Work, isTold: boolean): Map<TrueNote, number> {
  const performed = perform(work, 0, 1);
  const { brief } = briefFor(performed, work);
  const { performance } = layOutFile(readSmf(performed.bytes), brief);
  const keys = isTold ? told(work, performance.clock.ticksPerQuarter) : [];
  const places = spelled(transcribeNow({ ...performance, keys }, brief).score);
  const out = new Map<TrueNote, number>();
  performed.tracks.forEach((track, index) => {
    const strand = performance.strands.find((each) => each.id === strandAt(index))!;
    const ids = strand.notes.toSorted((a, b) => a.on - b.on || a.key - b.key).map(({ id }) => id);
    track.notes.forEach(({ truth }, at) => {
      const place = places.get(ids[at]!);
      if (place !== undefined) out.set(truth, place);
    });
  });
  return out;
}

function measure(work: Work): Counts {
  const { truth, ps13 } = spellings[work.name]!;
  const [letters, others] = [truth.join(''), ps13.join('')];
  const [given, found] = [read(work, true), read(work, false)];
  const counts = { notes: 0, given: 0, found: 0, ps13: 0 };
  work.parts
    .flatMap(({ notes }) => notes)
    .forEach((note, at) => {
      const place = placeOf(letters[at]!);
      // What another part strikes at the same time on one track is no note of its own.
      if (!given.has(note)) return;
      counts.notes++;
      if (given.get(note) === place) counts.given++;
      else if (process.env.SHOW)
        console.log(work.name, note.start / QUARTER, note.key, 'is', place, 'read', given.get(note));
      if (found.get(note) === place) counts.found++;
      if (placeOf(others[at]!) === place) counts.ps13++;
    });
  return counts;
}

const percent = (count: number, of: number): string => ((100 * count) / of).toFixed(2);
const row = ({ notes, given, found, ps13 }: Counts) => ({
  notes,
  'signature told %': percent(given, notes),
  'not told %': percent(found, notes),
  'ps13s1 %': percent(ps13, notes),
});
const counts = works.map(measure);
const all = counts.reduce((sum, each) => ({
  notes: sum.notes + each.notes,
  given: sum.given + each.given,
  found: sum.found + each.found,
  ps13: sum.ps13 + each.ps13,
}));
const behind = works.filter((_, at) => counts[at]!.given < counts[at]!.ps13).map(({ name }) => name);
console.log(`${works.length} works (${half === 0 ? 'the half that was tuned on' : 'not tuned on'})`);
const table: Record<string, ReturnType<typeof row>> = {};
works.forEach((work, at) => {
  if (process.env.BY || counts[at]!.given < counts[at]!.notes * 0.99) table[work.name] = row(counts[at]!);
});
table.all = row(all);
console.table(table);
console.log(behind.length === 0 ? 'No work is behind ps13s1.' : `Behind ps13s1: ${behind.join(', ')}`);
