/**
 * What comes back of a score that the product played itself: `npm run bench:returned`.
 *
 * Data: the works of music21's corpus that scripts/rhythm-facts.py names (bench/corpus.ts), public-domain works.
 * Each is read, performed at default settings without repeats, handed over as a MIDI file, and that is read as any
 * other, at default settings. Its marks and lengths are compared with those of the score. WORK=name for some.
 *
 * Asked is what the score has; back, what of it came back; made, what the reading has; right, what of that is in
 * the score. A dynamic is right within four quarter notes, a level off at most; a hairpin where it shares more than
 * half with one, words for one (cresc., dim.) counted; sf and the like come back as accents. A slur is right where
 * both of its ends are. No slur can come back that runs into another, or over a key that is struck again.
 */
import { readFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { finished } from '../src/core/basics/steps';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import { withDirectives } from '../src/core/decisions/decisions';
import { deliverMidi } from '../src/core/deliver';
import type { Anchor } from '../src/core/model/marks';
import type { Part, Score } from '../src/core/model/score';
import { QUARTER } from '../src/core/model/time';
import { ALL_PLAYED } from '../src/core/perform/settings';
import { Workbench } from '../src/core/workbench/workbench';
import { corpusFolder, WORKS } from './corpus';

const LEVELS = ['ppp', 'pp', 'p', 'mp', 'mf', 'f', 'ff', 'fff'];
const KINDS = ['dynamics', 'hairpins', 'accents', 'slurs', 'staccato', 'fermatas', 'trills'] as const;
type Kind = (typeof KINDS)[number];
/** How far a dynamic may stand from the printed one, and an accent drawn beside its note, in quarter notes. */
const BAR = 4;
const BESIDE = 0.26;

interface Fact {
  kind: Kind;
  part: number;
  /** Quarter notes from the first note of the piece. */
  at: number;
  to: number;
  text: string;
}

interface Facts {
  marks: Fact[];
  /** Quarter notes by part, key and place. */
  lengths: Map<string, number>;
}

const place = (moment: number): number => Math.round((1000 * moment) / QUARTER) / 1000;

/** Where each note of a part begins, the ties before it counted. */
function placesOf(score: Score, part: Part): Map<string, number> {
  const places = new Map<string, number>();
  const tied = new Map<string, number>();
  part.bars.forEach(({ voices }, bar) => {
    for (const { items, staff } of voices)
      for (const item of items)
        if (item.kind === 'chord')
          for (const note of [...(item.graces ?? []), ...item.notes, ...(item.gracesAfter ?? [])]) {
            const line = `${staff} ${note.key}`;
            const at =
              (note.tieStop ? tied.get(line) : undefined) ?? place(score.bars[bar]!.start + item.onset);
            places.set(note.id, at);
            if (note.tieStart) tied.set(line, at);
          }
  });
  return places;
}

function marksOf(score: Score, part: Part, index: number): Fact[] {
  const facts: Fact[] = [];
  const places = placesOf(score, part);
  const startOf = (bar: number) => score.bars[bar]?.start ?? score.bars.at(-1)!.start;
  const momentOf = (anchor: Anchor) =>
    'note' in anchor ? places.get(anchor.note)! : place(startOf(anchor.bar) + anchor.at);
  const put = (kind: Kind, at: number, to = at, text = '') => facts.push({ kind, part: index, at, to, text });
  const levels = part.bars.flatMap(({ marks = [] }, bar) =>
    marks.flatMap((mark) => (mark.kind === 'dynamic' ? [place(startOf(bar) + mark.at)] : [])),
  );
  /** Where words for a hairpin lead to. */
  const goalOf = (from: number) => Math.min(from + 4 * BAR, levels.find((at) => at > from) ?? from + 4 * BAR);
  part.bars.forEach(({ voices, marks = [] }, bar) => {
    for (const mark of marks) {
      const at = place(startOf(bar) + mark.at);
      if (mark.kind === 'dynamic')
        put(LEVELS.includes(mark.dynamic) ? 'dynamics' : 'accents', at, at, mark.dynamic);
      const worded = mark.kind === 'words' ? /^(?:poco a poco )?(cresc|dim|decresc)/i.exec(mark.text) : null;
      if (worded) put('hairpins', at, goalOf(at), /^cresc/i.test(worded[1]!) ? 'opens' : 'closes');
    }
    for (const { items } of voices)
      for (const item of items)
        for (const mark of (item.kind === 'chord' && item.marks) || []) {
          const at = place(startOf(bar) + item.onset);
          if (mark.kind === 'articulation' && /accent$/.test(mark.name)) put('accents', at);
          if (mark.kind === 'articulation' && /^(staccat|spiccato)/.test(mark.name)) put('staccato', at);
          if (mark.kind === 'fermata') put('fermatas', at);
          if (mark.kind === 'ornament' && mark.name === 'trill-mark') put('trills', at);
        }
  });
  for (const spanner of part.spanners ?? []) {
    const [from, to] = [momentOf(spanner.from), momentOf(spanner.to)];
    if (spanner.kind === 'slur' && to > from) put('slurs', from, to);
    if (spanner.kind === 'wedge') put('hairpins', from, to, spanner.opens ? 'opens' : 'closes');
  }
  return facts;
}

function lengthsOf(score: Score, part: Part, index: number, lengths: Map<string, number>): void {
  const places = placesOf(score, part);
  part.bars.forEach(({ voices }) => {
    for (const { items } of voices)
      for (const item of items)
        if (item.kind === 'chord')
          for (const { id, key } of item.notes) {
            const name = `${index} ${key} ${places.get(id)!}`;
            lengths.set(name, (lengths.get(name) ?? 0) + place(item.duration));
          }
  });
}

/** The keys of a part with the first places where they begin: what tells it from the others, whatever it is called. */
const beginningOf = (score: Score, part: Part): Set<string> => {
  const places = placesOf(score, part);
  const begun: string[] = [];
  for (const { voices } of part.bars)
    for (const { items } of voices)
      for (const item of items)
        if (item.kind === 'chord' && begun.length < 60)
          begun.push(...item.notes.map(({ id, key }) => `${key} ${places.get(id)!}`));
  return new Set(begun);
};

/** Index of the part of a score that each part of another is. */
function partsAlike(one: Score, other: Score): number[] {
  const known = one.parts.map((part) => beginningOf(one, part));
  const taken = new Set<number>();
  return other.parts.map((part) => {
    const own = beginningOf(other, part);
    const alike = known.map((each, at) =>
      taken.has(at) ? -1 : [...own].filter((begun) => each.has(begun)).length,
    );
    const best = alike.indexOf(Math.max(...alike));
    taken.add(best);
    return best;
  });
}

function factsOf(score: Score, indices: readonly number[]): Facts {
  const lengths = new Map<string, number>();
  const marks = score.parts.flatMap((part, at) => {
    lengthsOf(score, part, indices[at]!, lengths);
    return marksOf(score, part, indices[at]!);
  });
  return { marks, lengths };
}

function areAlike(one: Fact, two: Fact): boolean {
  if (one.kind !== two.kind || one.part !== two.part) return false;
  switch (one.kind) {
    case 'dynamics':
      return (
        Math.abs(one.at - two.at) <= BAR && Math.abs(LEVELS.indexOf(one.text) - LEVELS.indexOf(two.text)) <= 1
      );
    case 'hairpins': {
      const shared = Math.min(one.to, two.to) - Math.max(one.at, two.at);
      return one.text === two.text && shared > Math.min(one.to - one.at, two.to - two.at) / 2;
    }
    case 'accents':
      return Math.abs(one.at - two.at) <= BESIDE;
    default:
      return Math.abs(one.at - two.at) < 0.01 && Math.abs(one.to - two.to) < 0.01;
  }
}

const scoreOf = (name: string, bytes: Uint8Array, directives: Parameters<typeof withDirectives>[1]) => {
  const bench = new Workbench([{ id: '1', version: 1, name, bytes }]);
  const { desk } = bench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
  return { desk, score: finished(bench.write(1)).transcription.score };
};

interface Row {
  asked: number;
  back: number;
  made: number;
  right: number;
}
const sums = new Map<string, Row>();
const sumOf = (kind: string): Row => {
  const known = sums.get(kind) ?? { asked: 0, back: 0, made: 0, right: 0 };
  sums.set(kind, known);
  return known;
};

const folder = corpusFolder();
for (const work of WORKS.filter((name) => name.includes(process.env.WORK ?? ''))) {
  const bytes = new Uint8Array(readFileSync(join(folder, 'corpus', work)));
  const given = scoreOf(basename(work), bytes, [{ kind: 'perform', ...ALL_PLAYED, repeats: false }]);
  const returned = scoreOf('returned.mid', deliverMidi(given.desk), []);
  const truth = factsOf(given.score, [...given.score.parts.keys()]);
  const read = factsOf(returned.score, partsAlike(given.score, returned.score));
  for (const kind of KINDS) {
    const asked = truth.marks.filter((fact) => fact.kind === kind);
    const made = read.marks.filter((fact) => fact.kind === kind);
    const sum = sumOf(kind);
    sum.asked += asked.length;
    sum.made += made.length;
    sum.back += asked.filter((fact) => made.some((other) => areAlike(fact, other))).length;
    sum.right += made.filter((fact) => asked.some((other) => areAlike(fact, other))).length;
  }
  const lengths = sumOf('lengths');
  for (const [note, length] of truth.lengths) {
    lengths.asked++;
    if (Math.abs((read.lengths.get(note) ?? 0) - length) < 0.02) lengths.back++;
  }
  lengths.made += read.lengths.size;
  for (const [note, length] of read.lengths)
    if (Math.abs((truth.lengths.get(note) ?? 0) - length) < 0.02) lengths.right++;
}

const percent = (part: number, of: number) => (of === 0 ? '–' : ((100 * part) / of).toFixed(1));
console.log('Scores played at default settings and read again');
console.table(
  Object.fromEntries(
    [...sums].map(([kind, { asked, back, made, right }]) => [
      kind,
      { asked, 'back %': percent(back, asked), made, 'right %': percent(right, made) },
    ]),
  ),
);
