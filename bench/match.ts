/**
 * How well two readings are laid over each other: `npm run bench:match`.
 *
 * Data: the works of works.json, public-domain works (scripts/rhythm-facts.py), and
 * what a seeded hand did to a copy of each (tests/helpers/damage.ts). `played`: attacks
 * of the copy differ by 12 ms, releases by 40 ms, as a player's do. A note
 * counts as found where the ledger gives just what was done to it, and as false where it
 * says something of a note that nothing was done to. Beside it the simple way:
 * the same track, the same moment, the same key.
 */
import { seeded } from '../src/core/basics/random';
import { finished } from '../src/core/basics/steps';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import type { Performance } from '../src/core/model/performance';
import { QUARTER } from '../src/core/model/time';
import type { CheckId, Finding } from '../src/core/proof/finding';
import { reconcile } from '../src/core/reconcile';
import { carryOver } from '../src/core/reconcile/carry';
import type { Difference } from '../src/core/reconcile/ledger';
import type { ReadNote, Side } from '../src/core/reconcile/reading';
import type { SmfEvent, SmfTrack } from '../src/core/sources/smf/events';
import { readPerformance } from '../src/core/sources/smf/performance';
import { readSmf } from '../src/core/sources/smf/read';
import { writeSmf } from '../src/core/sources/smf/write';
import { proofOf } from '../src/core/workbench/proof';
import { Workbench } from '../src/core/workbench/workbench';
import { DAMAGES, type Damage, type Damaged, damage } from '../tests/helpers/damage';
import { loadWorks, type Work } from './rhythm/works';

const seed = Number(process.env.SEED ?? 1);

function sideOf(work: Work): Side {
  return {
    kind: 'score',
    lines: work.parts.map(({ name, notes }, line) => ({
      id: `${line}`,
      name: `${name} ${line}`,
      unpitched: false,
      notes: notes
        .filter(({ grace }) => !grace)
        .map(({ start, end, key }, index): ReadNote => ({ id: `${line}/${index}`, line, key, start, end }))
        .sort((a, b) => a.start - b.start || a.key - b.key),
    })),
    bars: work.bars.map(({ start, length, numerator, denominator }, index) => ({
      start,
      length,
      written: index,
      number: String(index + 1),
      meter: `${numerator}/${denominator}`,
      groups: [],
      missing: 0,
      fifths: 0,
      tempo: work.quartersPerMinute,
    })),
  };
}

/** The same as a player has it. */
function played({ side, ...others }: Damaged, quartersPerMinute: number, random: () => number): Damaged {
  const normal = () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
  const second = (quartersPerMinute / 60) * QUARTER;
  const lines = side.lines.map((line) => ({
    ...line,
    notes: line.notes
      .map((note) => {
        const start = Math.max(0, note.start + 0.012 * second * normal());
        const end = Math.max(
          start + 1,
          note.start + 0.92 * (note.end - note.start) + 0.04 * second * normal(),
        );
        return { ...note, start, end };
      })
      .sort((a, b) => a.start - b.start || a.key - b.key),
  }));
  return { side: { ...side, kind: 'performance', lines }, ...others };
}

interface Count {
  planted: number;
  found: number;
  clean: number;
  false: number;
}

const isSame = (one: readonly Difference[], two: readonly Difference[]): boolean =>
  one.length === two.length && one.every((each) => two.includes(each));

/** Lengths as they are played say nothing. */
const heard = (kinds: readonly Difference[], isPlayed: boolean): Difference[] =>
  kinds.filter((kind) => !isPlayed || kind !== 'length');

function judged(one: Side, { side, planted, added }: Damaged, isPlayed: boolean): Count {
  const count: Count = { planted: 0, found: 0, clean: 0, false: 0 };
  const entries = reconcile(one, side)?.entries ?? [];
  const says = new Map(entries.flatMap(({ one: note, differs }) => (note ? [[note.id, differs]] : [])));
  const alone = new Set(entries.flatMap(({ one: a, two: b }) => (a || !b ? [] : [b.id])));
  const judge = (id: string, own: readonly Difference[], truth: readonly Difference[]) => {
    const isRight = isSame(own, truth);
    if (truth.length > 0) count.planted++;
    else count.clean++;
    if (truth.length > 0 && isRight) count.found++;
    if (truth.length === 0 && !isRight) count.false++;
    if (process.env.BY && !isRight)
      console.log(id, truth.join(' ') || 'clean', '→', own.join(' ') || 'agrees');
  };
  for (const { notes } of one.lines)
    for (const { id } of notes)
      judge(id, heard(says.get(id) ?? [], isPlayed), heard(planted.get(id) ?? [], isPlayed));
  for (const [id, copied] of added)
    judge(id, alone.has(id) || (copied && alone.has(copied)) ? ['added'] : [], ['added']);
  return count;
}

/** The same place, key and track, or nothing. */
function plainly(one: Side, { side, planted }: Damaged): [number, number] {
  const there = new Set(
    side.lines.flatMap(({ notes }, line) => notes.map(({ start, key }) => `${line} ${start} ${key}`)),
  );
  let wrong = 0;
  let clean = 0;
  for (const { notes } of one.lines)
    for (const { id, line, start, key } of notes) {
      if (planted.has(id)) continue;
      clean++;
      if (!there.has(`${line} ${start} ${key}`)) wrong++;
    }
  return [wrong, clean];
}

const works = loadWorks().filter(({ bars }) => bars.length >= 8);
const table: Record<string, object> = {};
const NOTES = DAMAGES.slice(0, 6);
const LISTS: [string, readonly Damage[]][] = [
  ...DAMAGES.slice(0, -2).map((kind): [string, Damage[]] => [kind, [kind]]),
  ['all of notes', NOTES],
  ['all', DAMAGES.slice(0, -3)],
  ['notes, other bar lines', [...NOTES, 'other bar lines']],
  ['notes, free time', [...NOTES.filter((kind) => kind !== 'moved' && kind !== 'lengths'), 'free time']],
];
/** All damage at once needs room. */
const LONG = 20;
const only = process.env.ONLY;
for (const [name, kinds] of LISTS) {
  if (only && name !== only) continue;
  for (const isPlayed of [false, true]) {
    const random = seeded(seed);
    const sum: Count = { planted: 0, found: 0, clean: 0, false: 0 };
    let plain = 0;
    let plainOf = 0;
    for (const work of works) {
      if (name === 'all' && work.bars.length < LONG) continue;
      const one = sideOf(work);
      const done = damage(one, kinds, random);
      if (process.env.BY) console.log(`# ${work.name} ${name}`);
      const made = isPlayed ? played(done, work.quartersPerMinute, random) : done;
      const [wrong, clean] = plainly(one, made);
      plain += wrong;
      plainOf += clean;
      for (const [key, value] of Object.entries(judged(one, made, isPlayed)))
        sum[key as keyof Count] += value;
    }
    table[`${name}${isPlayed ? ', played' : ''}`] = {
      planted: sum.planted,
      'found %': sum.planted ? ((100 * sum.found) / sum.planted).toFixed(2) : '',
      'false %': ((100 * sum.false) / sum.clean).toFixed(3),
      'false % plainly': ((100 * plain) / plainOf).toFixed(1),
    };
  }
}
console.log(`seed ${seed}, ${works.length} works`);
console.table(table);

const TICKS = 480;
/** Of clean works, one in so many bars may be told by a check without need. */
const PER_BARS = 20;

/** A work as a file, its parts named as they are, or with a note of its own put in. */
function fileOf({ parts, bars, quartersPerMinute }: Work, planted: readonly Planted[] = []): Uint8Array {
  const tick = (moment: number) => Math.round((moment / QUARTER) * TICKS);
  const clock: SmfEvent[] = [
    { kind: 'tempo', tick: 0, microsPerQuarter: Math.round(60e6 / quartersPerMinute) },
    ...bars
      .filter(
        (bar, at) =>
          at === 0 ||
          bar.numerator !== bars[at - 1]!.numerator ||
          bar.denominator !== bars[at - 1]!.denominator,
      )
      .map(
        ({ start, numerator, denominator }): SmfEvent => ({
          kind: 'timeSignature',
          tick: tick(start),
          numerator,
          denominator,
          clocks: 24,
          thirtySeconds: 8,
        }),
      ),
  ];
  const tracks = parts.map(({ name, notes }, index): SmfTrack => {
    const channel = index % 9;
    const own = planted.filter(({ part }) => part === index);
    const events: SmfEvent[] = [
      { kind: 'trackName', tick: 0, type: 3, bytes: new TextEncoder().encode(name) },
      ...notes
        .filter(({ grace }) => !grace)
        .flatMap(({ start, end, key }) => struck(channel, tick(start), tick(end), key)),
      ...own.flatMap(({ start, end, key }) => struck(channel, tick(start), tick(end), key)),
    ];
    const rank = ({ kind }: SmfEvent) => (kind === 'noteOn' ? 2 : kind === 'noteOff' ? 1 : 0);
    events.sort((a, b) => a.tick - b.tick || rank(a) - rank(b));
    return { events: [...events, { kind: 'endOfTrack', tick: events.at(-1)!.tick }] };
  });
  return writeSmf({
    format: 1,
    division: { kind: 'quarter', ticks: TICKS },
    tracks: [{ events: [...clock, { kind: 'endOfTrack', tick: clock.at(-1)!.tick }] }, ...tracks],
  });
}

const struck = (channel: number, on: number, off: number, key: number): SmfEvent[] => [
  { kind: 'noteOn', tick: on, channel, key, velocity: 80 },
  { kind: 'noteOff', tick: Math.max(on + 1, off), channel, key, velocity: 64, asNoteOn: false },
];

interface Planted {
  /** Any of these finds it: what transposes has room for what others have not. */
  checks: CheckId[];
  part: number;
  bar: number;
  start: number;
  end: number;
  key: number;
}

function provedOf(bytes: Uint8Array): Finding[] {
  const bench = new Workbench([{ id: '1', version: 1, name: 'work.mid', bytes }]);
  bench.layOut(1, EMPTY_BRIEF);
  return finished(proofOf(finished(bench.write(1)))).findings;
}

/** A note far too high, and one that no staff has room for, each in a bar of a part. */
function plantIn(work: Work, random: () => number): Planted[] {
  const kinds: [CheckId[], number, number][] = [
    [['ranges'], 118, QUARTER],
    [['agreement', 'ranges'], 1, QUARTER / 2],
  ];
  return kinds.flatMap(([checks, key, length]): Planted[] => {
    const part = Math.floor(random() * work.parts.length);
    const notes = work.parts[part]!.notes.filter(({ grace, key: own }) => !grace && own < 90 && own > 40);
    const at = notes[Math.floor(random() * notes.length)];
    if (!at) return [];
    const bar = work.bars.findLastIndex(({ start }) => start <= at.start);
    return [
      {
        checks,
        part,
        bar,
        start: at.start,
        end: at.start + length,
        key,
      },
    ];
  });
}

/** Findings on works as they are printed, and how many of what was planted in them is found. */
function proofs(): void {
  const random = seeded(seed);
  const counts = new Map<CheckId, number>();
  let bars = 0;
  let planted = 0;
  let found = 0;
  for (const work of works) {
    bars += work.bars.length * work.parts.length;
    for (const { check, weight } of provedOf(fileOf(work)))
      if (weight !== 'remark') counts.set(check, (counts.get(check) ?? 0) + 1);
    const faults = plantIn(work, random);
    const findings = provedOf(fileOf(work, faults));
    for (const fault of faults) {
      planted++;
      if (
        findings.some(
          ({ check, bar }) => fault.checks.includes(check) && bar !== null && Math.abs(bar - fault.bar) <= 1,
        )
      )
        found++;
      else if (process.env.BY) console.log(work.name, fault);
    }
  }
  console.log(
    `proof of ${works.length} clean works, ${bars} bars of parts; findings a check for ${PER_BARS} bars:`,
  );
  console.table(
    Object.fromEntries(
      [...counts].map(([check, count]) => [
        check,
        { found: count, 'per 20 bars': ((PER_BARS * count) / bars).toFixed(3) },
      ]),
    ),
  );
  console.log(`planted faults found: ${found} of ${planted}`);
}

/** A reading as a file again. */
function fileOfSide({ lines, bars }: Side): Uint8Array {
  const work: Work = {
    name: '',
    quartersPerMinute: 120,
    bars: bars.map(({ start, length, meter }) => {
      const [numerator, denominator] = meter.split('/').map(Number) as [number, number];
      return { start, length, numerator, denominator };
    }),
    parts: lines.map(({ name, notes }) => ({
      name,
      staves: 1,
      symbols: 0,
      notes: notes.map(({ start, end, key }) => ({
        start,
        end,
        key,
        staff: 1,
        voice: 1,
        grace: false,
        tuplet: false,
      })),
    })),
  };
  return fileOf({ ...work, parts: work.parts });
}

/**
 * A new version of each work, with notes changed, bars cut and put in: notes that
 * survive keep their ids, and no id goes to another note.
 */
function versions(): void {
  const random = seeded(seed);
  const count = { survive: 0, kept: 0, wrong: 0 };
  for (const work of works) {
    const one = sideOf(work);
    const { side: two, added, planted } = damage(one, [...NOTES, 'bar cut', 'bar inserted'], random);
    const [old, now] = [one, two].map((side) => readPerformance(readSmf(fileOfSide(side)))) as [
      Performance,
      Performance,
    ];
    const { performance } = carryOver(old, now, 2);
    const nameOf = (track: number, on: number, key: number) => `${track} ${on} ${key}`;
    const idsOf = ({ strands: all }: Performance) =>
      new Map(
        all.flatMap(({ track, notes }) => notes.map(({ id, on, key }) => [nameOf(track, on, key), id])),
      );
    const [before, after] = [idsOf(old), idsOf(performance)];
    const tick = (moment: number) => Math.round((moment / QUARTER) * TICKS);
    const own = new Map(one.lines.flatMap(({ notes }) => notes.map((note) => [note.id, note])));
    const known = new Set(before.values());
    for (const { notes } of two.lines)
      for (const { id, line, start, key } of notes) {
        const is = after.get(nameOf(line + 1, tick(start), key));
        const was = own.get(id);
        if (!is) continue;
        if (!was || added.has(id)) {
          if (known.has(is)) count.wrong++;
          continue;
        }
        count.survive++;
        if (is === before.get(nameOf(was.line + 1, tick(was.start), was.key))) count.kept++;
        else {
          if (process.env.BY)
            console.log(
              work.name,
              'bar',
              work.bars.findLastIndex((b) => b.start <= was.start),
              id,
              planted.get(id)?.join() ?? 'clean',
              known.has(is) ? 'wrong' : 'new',
            );
          if (known.has(is)) count.wrong++;
        }
      }
  }
  console.log(
    `new versions of ${works.length} works: of ${count.survive} notes that survive ${((100 * count.kept) / count.survive).toFixed(2)} % keep what was decided of them; ${count.wrong} ids went to other notes`,
  );
}

/** 200,000 notes in 40 lines: made scales against the same with a bar cut and 1 % of wrong notes. */
function speed(): void {
  const bars = Array.from({ length: 500 }, (_, index) => ({
    start: index * 4 * QUARTER,
    length: 4 * QUARTER,
    written: index,
    number: String(index + 1),
    meter: '4/4',
    groups: [],
    missing: 0,
    fifths: 0,
    tempo: 120,
  }));
  const random = seeded(seed);
  const lines = Array.from({ length: 40 }, (_, line) => ({
    id: `${line}`,
    name: `Part ${line}`,
    unpitched: false,
    notes: Array.from({ length: 5_000 }, (_, index): ReadNote => {
      const start = (index * 2 * QUARTER) / 5;
      const key = 40 + line + Math.floor(random() * 12);
      return { id: `${line}/${index}`, line, key, start, end: start + QUARTER / 4 };
    }),
  }));
  const one: Side = { kind: 'score', lines, bars };
  const { side } = damage(one, ['pitches', 'bar cut'], random);
  const began = performance.now();
  const ledger = reconcile(one, side);
  console.log(
    `200,000 notes against 200,000 in ${((performance.now() - began) / 1000).toFixed(1)} s (budget 5 s), ${ledger?.entries.length} entries`,
  );
}

if (!only || only === 'speed') speed();
if (!only || only === 'proof') proofs();
if (!only || only === 'versions') versions();
