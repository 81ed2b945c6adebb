/**
 * How real sequenced files are read: `npm run bench:real`.
 *
 * Data: bench/real-files.ts. There is no truth about them; what is printed is
 * counted in their scores, a thousand written notes, as a copyist would find
 * fault with it. FILES=name picks some, BY=1 prints a line a file.
 */
import { finished } from '../src/core/basics/steps';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import { instrumentOf } from '../src/core/instruments/catalogue';
import type { Clef } from '../src/core/model/clefs';
import { diatonicHeight } from '../src/core/model/pitch';
import { type Item, type Part, type Score, tupletsFrom, type VoiceLine } from '../src/core/model/score';
import { QUARTER } from '../src/core/model/time';
import { LINES } from '../src/core/notate/clefs';
import { writeMusicXml } from '../src/core/sources/musicxml/write';
import { stockOf } from '../src/core/workbench/stock';
import { Workbench } from '../src/core/workbench/workbench';
import { readClosed } from '../tests/helpers/closure';
import { parseXml } from '../tests/helpers/schema';
import { realFiles } from './real-files';

const COUNTS = [
  'notes',
  'tuplets',
  'tuplets for releases',
  'sparse tuplets',
  'lone fine attacks',
  'drum notes',
  'drum ties',
  'ties',
  'rests under a 16th',
  'specks',
  'accidentals',
  'ledger lines',
  'out of range',
  'windows',
  'bad signatures',
  'open faults',
  'swung bars',
  'bars',
  'leads',
  'strands',
] as const;
type Tally = Record<(typeof COUNTS)[number], number> & { oddities: Map<string, number> };

const empty = (): Tally => ({
  ...(Object.fromEntries(COUNTS.map((name) => [name, 0])) as Record<(typeof COUNTS)[number], number>),
  oddities: new Map(),
});

/** Groups of items that share a tuplet, from its start to its stop. */
function* groupsIn({ items }: VoiceLine): Generator<Item[]> {
  let group: Item[] = [];
  for (const item of items) {
    const [outer] = [...tupletsFrom(item.tuplet)].slice(-1);
    if (!outer) {
      group = [];
      continue;
    }
    if (outer.edge === 'start') group = [];
    group.push(item);
    if (outer.edge === 'stop') {
      yield group;
      group = [];
    }
  }
}

const begins = (item: Item): boolean => item.kind === 'chord' && item.notes.some(({ tieStop }) => !tieStop);

function countTuplets(line: VoiceLine, tally: Tally): void {
  for (const group of groupsIn(line)) {
    tally.tuplets++;
    const [first] = group;
    const [outer] = [...tupletsFrom(first!.tuplet)].slice(-1);
    const inside = group.slice(1).filter(begins).length;
    if (inside === 0) tally['tuplets for releases']++;
    const slots = outer!.actual;
    if (slots >= 5 && group.filter(begins).length <= slots / 2) tally['sparse tuplets']++;
  }
}

/** Attacks on 32nds and finer that are no part of a run of such. */
function countFine(line: VoiceLine, tally: Tally): void {
  const attacks = line.items.filter(begins);
  const isFine = ({ tuplet, onset }: Item) =>
    !tuplet && onset % (QUARTER / 4) !== 0 && onset % (QUARTER / 3) !== 0;
  const isNear = (one: Item | undefined, other: Item | undefined) =>
    one !== undefined && other !== undefined && other.onset - one.onset <= QUARTER / 8;
  attacks.forEach((item, at) => {
    if (isFine(item) && !(isNear(attacks[at - 1], item) && isNear(item, attacks[at + 1])))
      tally['lone fine attacks']++;
  });
}

/** Notes shorter than an eighth with a rest after them. */
function countSpecks({ items }: VoiceLine, tally: Tally): void {
  items.forEach((item, at) => {
    const next = items[at + 1];
    if (
      item.kind === 'chord' &&
      begins(item) &&
      item.duration < QUARTER / 2 &&
      next?.kind === 'rest' &&
      !next.hidden
    )
      tally.specks++;
  });
}

function ledgersOf(score: Score, part: Part, tally: Tally): void {
  const { unpitched } = instrumentOf(part.instrument);
  if (unpitched) return;
  const clefAt = (staff: number, bar: number, at: number): Clef =>
    (part.changes ?? []).findLast(
      (change): change is typeof change & { kind: 'clef'; clef: Clef } =>
        change.kind === 'clef' &&
        change.staff === staff &&
        (change.bar < bar || (change.bar === bar && change.at <= at)),
    )?.clef ?? part.clefs[staff - 1]!;
  const lines = (part.spanners ?? []).flatMap((each) =>
    each.kind === 'octave' && 'bar' in each.from && 'bar' in each.to
      ? [
          {
            from: score.bars[each.from.bar]!.start + each.from.at,
            to: score.bars[each.to.bar]!.start + each.to.at,
            staff: each.from.staff ?? 1,
            octaves: each.octaves,
          },
        ]
      : [],
  );
  part.bars.forEach(({ voices }, bar) => {
    for (const { staff, items } of voices)
      for (const item of items) {
        if (item.kind !== 'chord') continue;
        const moment = score.bars[bar]!.start + item.onset;
        const shift = lines.find((each) => each.staff === staff && moment >= each.from && moment < each.to);
        const [bottom, top] = LINES[clefAt(staff, bar, item.onset)];
        for (const note of item.notes) {
          const height = diatonicHeight(note.pitch) - 7 * (shift?.octaves ?? 0);
          tally['ledger lines'] += Math.max(0, (bottom - height) >> 1) + Math.max(0, (height - top) >> 1);
        }
      }
  });
}

const SCALE = [0, 2, 4, 5, 7, 9, 11];

/** Windows of sixteen bars whose notes another signature holds far better than the printed one. */
function signaturesOf(score: Score, tally: Tally): void {
  const weights = score.bars.map(() => new Float64Array(12));
  for (const part of score.parts) {
    if (instrumentOf(part.instrument).unpitched) continue;
    part.bars.forEach(({ voices }, bar) => {
      for (const { items } of voices)
        for (const item of items)
          if (item.kind === 'chord')
            for (const { key } of item.notes) weights[bar]![key % 12]! += item.duration / QUARTER;
    });
  }
  for (let from = 0; from < weights.length; from += 16) {
    const sum = new Float64Array(12);
    for (const own of weights.slice(from, from + 16))
      for (const [pitch, weight] of own.entries()) sum[pitch]! += weight;
    const all = sum.reduce((a, b) => a + b, 0);
    if (all < 16) continue;
    tally.windows++;
    const inside = (fifths: number) =>
      SCALE.reduce((total, step) => total + sum[(((step + 7 * fifths) % 12) + 12) % 12]!, 0) / all;
    const printed = score.keys.findLast(({ bar }) => bar <= from)?.fifths ?? 0;
    const best = Math.max(...Array.from({ length: 12 }, (_, at) => inside(at - 6)));
    if (best - inside(printed) > 0.08) tally['bad signatures']++;
  }
}

function measure(bytes: Uint8Array): Tally {
  const tally = empty();
  const bench = new Workbench([{ id: '1', version: 1, name: 'x.mid', bytes }]);
  const state = bench.layOut(1, EMPTY_BRIEF);
  const { inventory } = finished(stockOf(state));
  for (const { kind } of inventory.oddities) tally.oddities.set(kind, (tally.oddities.get(kind) ?? 0) + 1);
  const { transcription } = finished(bench.write(1));
  const { score } = transcription;
  tally.bars += score.bars.length;
  tally['swung bars'] += transcription.swings.reduce((sum, { from, to }) => sum + to - from, 0);
  for (const { leads } of transcription.readings)
    for (const lead of leads) {
      tally.strands++;
      if (Math.abs(lead.seconds) > 0.005) tally.leads++;
    }
  for (const part of score.parts) {
    const { unpitched, lowest, highest } = instrumentOf(part.instrument);
    for (const { voices } of part.bars)
      for (const line of voices) {
        countTuplets(line, tally);
        countFine(line, tally);
        if (!unpitched) countSpecks(line, tally);
        for (const item of line.items) {
          if (item.kind === 'rest') {
            if (item.duration < QUARTER / 4 && !item.hidden) tally['rests under a 16th']++;
            continue;
          }
          for (const note of item.notes) {
            if (note.tieStart) tally.ties++;
            if (note.tieStart && unpitched) tally['drum ties']++;
            if (note.tieStop) continue;
            tally.notes++;
            if (unpitched) tally['drum notes']++;
            if (note.accidental && !note.courtesy) tally.accidentals++;
            if (!unpitched && (note.key < lowest || note.key > highest)) tally['out of range']++;
          }
        }
      }
    ledgersOf(score, part, tally);
  }
  signaturesOf(score, tally);
  tally['open faults'] += readClosed(parseXml(writeMusicXml(score))).faults.length;
  return tally;
}

function add(total: Tally, one: Tally): void {
  for (const name of COUNTS) total[name] += one[name];
  for (const [kind, count] of one.oddities) total.oddities.set(kind, (total.oddities.get(kind) ?? 0) + count);
}

const row = (tally: Tally) => {
  const thousand = (name: (typeof COUNTS)[number], of: (typeof COUNTS)[number] = 'notes') =>
    tally[of] === 0 ? '–' : ((1000 * tally[name]) / tally[of]).toFixed(1);
  return {
    notes: tally.notes,
    tuplets: thousand('tuplets'),
    'for releases': thousand('tuplets for releases'),
    sparse: thousand('sparse tuplets'),
    'lone fine': thousand('lone fine attacks'),
    'drum ties': thousand('drum ties', 'drum notes'),
    ties: thousand('ties'),
    'short rests': thousand('rests under a 16th'),
    specks: thousand('specks'),
    accidentals: thousand('accidentals'),
    'ledgers a note': (tally['ledger lines'] / Math.max(1, tally.notes - tally['drum notes'])).toFixed(2),
    'out of range': thousand('out of range'),
    'bad keys': `${tally['bad signatures']}/${tally.windows}`,
    faults: tally['open faults'],
    swung: `${tally['swung bars']}/${tally.bars}`,
    leads: `${tally.leads}/${tally.strands}`,
  };
};

const files = realFiles().filter(({ name }) => name.includes(process.env.FILES ?? ''));
if (files.length === 0)
  console.log('None of the packages is installed: openttd-openmsx, freedoom, simutrans-data.');
else {
  const sets = new Map<string, Tally>();
  const lines: Record<string, object> = {};
  for (const { name, bytes } of files) {
    const set = name.includes('/')
      ? 'freedoom'
      : /^\d/.test(name) && name.includes('-')
        ? 'simutrans'
        : 'openmsx';
    const tally = measure(bytes);
    for (const of of [set, 'all']) {
      const total = sets.get(of) ?? empty();
      sets.set(of, total);
      add(total, tally);
    }
    if (process.env.BY) lines[name] = row(tally);
  }
  if (process.env.BY) console.table(lines);
  console.log(`${files.length} files, counts for a thousand written notes`);
  console.table(Object.fromEntries([...sets].map(([name, tally]) => [name, row(tally)])));
  console.table(Object.fromEntries(sets.get('all')!.oddities));
}
