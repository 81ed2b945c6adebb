/**
 * Whether a part that comes as several strands says on paper where its playing
 * changes: `npm run bench:techniques`.
 *
 * Data: works.json (scripts/rhythm-facts.py): the parts of quartet movements and
 * of chorales, which here get passages of two to eight bars played ordinarily,
 * plucked, muted or at the bridge (one strand each), or by two players who take
 * turns, differ and play together (a strand each); seeded. They are performed
 * by the player of bench:rhythm and merged again. A text counts as right where
 * it stands at the very note that begins its passage, in these words (common
 * practice of scores). Nothing was tuned on it. Beside it the plain rule: a
 * text wherever the next stroke comes from another strand.
 */
import { seeded } from '../src/core/basics/random';
import { finished } from '../src/core/basics/steps';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import { withDirectives } from '../src/core/decisions/decisions';
import type { PlainDirective } from '../src/core/decisions/kinds';
import { strandId } from '../src/core/model/ids';
import { type Moment, QUARTER } from '../src/core/model/time';
import { Workbench } from '../src/core/workbench/workbench';
import { type Level, perform } from './rhythm/perform';
import { loadWorks, type TrueNote, type TruePart, type Work } from './rhythm/works';

const seed = Number(process.env.SEED ?? 7);

interface Case {
  work: Work;
  /** Texts by the moments at which they must stand. */
  texts: Map<Moment, string>;
}

const WAYS = ['', 'pizz', 'con sord', 'sul pont'] as const;
type Way = (typeof WAYS)[number];

/** What is printed from one way of playing to the next. */
const PRINTED: Record<Way, { on: string; off: string; kind: string }> = {
  '': { on: '', off: '', kind: '' },
  pizz: { on: 'pizz.', off: 'arco', kind: 'bow' },
  'con sord': { on: 'con sord.', off: 'senza sord.', kind: 'mute' },
  'sul pont': { on: 'sul pont.', off: 'ord.', kind: 'bow' },
};
const printed = (from: Way, to: Way): string =>
  [PRINTED[from].kind === PRINTED[to].kind ? '' : PRINTED[from].off, PRINTED[to].on]
    .filter(Boolean)
    .join(', ');

/** Where passages of so many bars begin. */
function passages(work: Work, random: () => number): Moment[] {
  const starts: Moment[] = [];
  for (let bar = 0; bar < work.bars.length; bar += 2 + Math.floor(7 * random()))
    starts.push(work.bars[bar]!.start);
  return starts;
}

const bySource = <T>(notes: readonly TrueNote[], starts: readonly Moment[], ways: readonly T[]): T[] =>
  notes.map(({ start }) => ways[starts.findLastIndex((each) => each <= start)]!);

const one = (name: string, notes: readonly TrueNote[]): TruePart => ({
  name,
  staves: 1,
  notes: [...notes],
  symbols: 0,
});

/** A line in passages of several techniques, one strand each. */
function techniques(work: Work, part: TruePart, random: () => number): Case {
  const notes = part.notes.filter(({ grace }) => !grace);
  const starts = passages(work, random);
  let before: Way = '';
  const ways = starts.map((_, at): Way => {
    const others = WAYS.filter((way) => way !== before);
    before = at === 0 ? '' : others[Math.floor(random() * others.length)]!;
    return before;
  });
  const wayOf = bySource(notes, starts, ways);
  const texts = new Map<Moment, string>();
  let holding: Way = '';
  notes.forEach(({ start }, at) => {
    const way = wayOf[at]!;
    if (way !== holding) texts.set(start, printed(holding, way));
    holding = way;
  });
  const strands = WAYS.flatMap((way) => {
    const own = notes.filter((_, at) => wayOf[at] === way);
    return own.length > 0 ? [one(`Violin 1 ${way}`.trim(), own)] : [];
  });
  return { work: { ...work, parts: strands }, texts };
}

const STATES = ['apart', 'together', 'alone'] as const;

/** Two players on a staff, who differ, play together, or of whom one rests. */
function players(work: Work, [upper, lower]: readonly TruePart[], random: () => number): Case {
  const starts = passages(work, random);
  const states = starts.map((_, at) => STATES[at === 0 ? 0 : Math.floor(3 * random())]!);
  const plain = (part: TruePart) => part.notes.filter(({ grace }) => !grace);
  const [first, second] = [plain(upper!), plain(lower!)];
  const stateOfFirst = bySource(first, starts, states);
  const stateOfSecond = bySource(second, starts, states);
  // A note held into the next passage would be struck again there by nobody.
  const until = (start: Moment) => starts.find((each) => each > start) ?? Number.POSITIVE_INFINITY;
  const cut = (note: TrueNote): TrueNote => ({ ...note, end: Math.min(note.end, until(note.start)) });
  const own = [
    ...second.filter((_, at) => stateOfSecond[at] === 'apart'),
    ...first.filter((_, at) => stateOfFirst[at] === 'together'),
  ]
    .map(cut)
    .sort((a, b) => a.start - b.start);
  const texts = new Map<Moment, string>();
  let holding = 'apart';
  first.forEach(({ start }, at) => {
    const state = stateOfFirst[at]!;
    if (state !== holding && state !== 'apart') texts.set(start, state === 'together' ? 'a2' : '1.');
    holding = state;
  });
  return {
    work: { ...work, parts: [one('Horn 1', first.map(cut)), one('Horn 2', own)] },
    texts,
  };
}

interface Tally {
  texts: number;
  right: number;
  written: number;
  plain: number;
}

function run({ work, texts }: Case, level: Level, tally: Tally): void {
  const { bytes, tracks } = perform(work, level, seed);
  const strands = tracks.map((_, index) => strandId('1', index + 1, index));
  const [lead, ...others] = strands;
  const joins = others.map((strand): PlainDirective => ({ kind: 'join', strand, into: lead! }));
  const workbench = new Workbench([{ id: '1', version: 1, name: 'x.mid', bytes }]);
  workbench.layOut(1, withDirectives(EMPTY_BRIEF, joins));
  const { score } = finished(workbench.write(1)).transcription;
  const [part] = score.parts;
  const found = new Map(
    part!.bars.flatMap(({ marks = [] }, bar) =>
      marks.flatMap((mark): [Moment, string][] =>
        mark.kind === 'words' ? [[score.bars[bar]!.start + mark.at, mark.text]] : [],
      ),
    ),
  );
  tally.texts += texts.size;
  tally.written += found.size;
  for (const [at, text] of texts) if (found.get(at) === text) tally.right++;
  if (process.env.BY)
    for (const [at, text] of texts)
      if (found.get(at) !== text) console.log(work.name, level, at / QUARTER, text, found.get(at));
  if (process.env.BY)
    for (const [at, text] of found)
      if (texts.get(at) !== text) console.log(work.name, level, at / QUARTER, 'too many:', text);
  // Every stroke that comes from another strand than the one before.
  const strokes = tracks
    .flatMap(({ notes }, strand) => notes.map(({ on }) => ({ on, strand })))
    .sort((a, b) => a.on - b.on);
  tally.plain += strokes.filter(({ strand }, at) => at > 0 && strokes[at - 1]!.strand !== strand).length;
}

const works = loadWorks();
const quartets = works.filter(({ name }) => name.startsWith('beethoven') || name.startsWith('mozart/k458'));
const chorales = works.filter(({ name, parts }) => name.startsWith('bach/') && parts.length === 4);
const table: Record<string, object> = {};
for (const level of [0, 2, 3] as const)
  for (const [label, make] of [
    [
      'techniques',
      () =>
        quartets.flatMap((work) =>
          work.parts.map((part, at) => techniques(work, part, seeded(seed * 1000 + at))),
        ),
    ],
    [
      'players',
      () => chorales.map((work, at) => players(work, work.parts.slice(0, 2), seeded(seed * 1000 + at))),
    ],
  ] as const) {
    const tally: Tally = { texts: 0, right: 0, written: 0, plain: 0 };
    for (const each of make()) run(each, level, tally);
    table[`${label}, level ${level}`] = {
      texts: tally.texts,
      'at its place': `${((100 * tally.right) / tally.texts).toFixed(1)} %`,
      'too many': tally.written - tally.right,
      'plain rule writes': tally.plain,
    };
  }
console.log(`seed ${seed}`);
console.table(table);
