import Papa from 'papaparse';
import { steppedNode } from '../basics/graph';
import { rememberedInSteps } from '../basics/remember';
import { lastAtOrBefore } from '../basics/search';
import type { Steps } from '../basics/steps';
import { sliceScore } from '../engrave/slice';
import { beatWords } from '../model/beat-words';
import { barOf, secondsAt } from '../model/clock';
import { type EventId, eventOfNote, type SourceId } from '../model/ids';
import { keyName, pitchName } from '../model/pitch';
import type { Score } from '../model/score';
import { type Moment, QUARTER, type Span } from '../model/time';
import { scoreSide } from '../proof/going-out';
import { reconcileInSteps } from '../reconcile';
import {
  agreement,
  type ClockDifference,
  type Difference,
  type Entry,
  type Ledger,
  totalsOf,
} from '../reconcile/ledger';
import { type ReadNote, type Side, sideOfPerformance } from '../reconcile/reading';
import type { Timeline } from '../sound/events';
import { timelineOf, timelineOfPerformance } from '../sound/timeline';
import { performanceOf, type Reading } from '../sources';
import { writeMusicXml } from '../sources/musicxml/write';
import type { Workbench, Written } from './workbench';

/** One of the readings of a job: the score as it is now, or a source as it came. */
export type Compared = { kind: 'score' } | { kind: 'source'; source: SourceId; version: number };

/** What differs in one bar of one line, in one way. */
export interface ComparedRow {
  id: string;
  kinds: Difference[];
  /** Index of the bar of each reading, and what it is called. */
  one: ComparedPlace | null;
  two: ComparedPlace | null;
  count: number;
  /** For people: the keys, or places, on both sides. */
  says: string;
  /** A note of the job's own reading, to look at. */
  note: EventId | null;
}

export interface ComparedPlace {
  line: number;
  name: string;
  bar: number;
  number: string;
  /** The place of the first of its notes. */
  words: string;
}

/** Bars that only one reading has, or plays again. */
export interface ComparedPassage {
  kind: 'only-one' | 'only-two' | 'again-one' | 'again-two';
  from: string;
  to: string;
  bars: number;
  /** Of what comes again: the bars that it is again. */
  of: string | null;
}

export interface Comparison {
  /** Null where they have nothing in common. */
  by: Ledger['by'] | null;
  agree: number;
  differ: number;
  share: number;
  kinds: Record<Difference, number>;
  lines: {
    one: string | null;
    two: string | null;
    transposed: number;
    whole: boolean;
    agree: number;
    differ: number;
  }[];
  passages: ComparedPassage[];
  clock: { kind: ClockDifference['kind']; bar: string; one: string; two: string }[];
  rows: ComparedRow[];
  /** Rows beyond those that are told. */
  more: number;
}

const MOST_ROWS = 5000;

/** What is compared: a score, or what is played. */
type Subject = { score: Score } | { reading: Reading };

/** A reading of the job. @throws RangeError for a source that is not here */
function subjectOf(bench: Workbench, written: Written, which: Compared): Subject {
  if (which.kind === 'score') return { score: written.transcription.score };
  const reading = bench.readingOf(which.source, which.version);
  if (!reading) throw new RangeError('The job has no such source.');
  return subjectOfReading(reading);
}

const scoreIn = (reading: Reading | undefined): Score | null =>
  reading?.kind === 'score' ? reading.written.score : null;

function subjectOfReading(reading: Reading): Subject {
  const score = scoreIn(reading);
  return score ? { score } : { reading };
}

const playedSide = (subject: Subject): Side =>
  'reading' in subject ? sideOfPerformance(performanceOf(subject.reading)) : scoreSide(subject.score);

const endOf = ({ bars }: Side): number => {
  const last = bars.at(-1);
  return last ? last.start + last.length : 0;
};

/**
 * Two readings as the sides of a comparison. A score has its repeats played out, unless what it is laid over is as
 * long as the score is without them.
 */
function sidesOf(one: Subject, two: Subject): [Side, Side] {
  const [first, second] = [playedSide(one), playedSide(two)];
  const beside = (subject: Subject, own: Side, other: Subject, played: Side): Side => {
    if (!('score' in subject) || 'score' in other) return own;
    const plain = scoreSide(subject.score, false);
    const away = (side: Side) => Math.abs(endOf(side) - endOf(played));
    return away(plain) < away(own) ? plain : own;
  };
  return [beside(one, first, two, second), beside(two, second, one, first)];
}

/** Two sources as they came, as the sides of a comparison. */
export const sidesOfReadings = (one: Reading, two: Reading): [Side, Side] =>
  sidesOf(subjectOfReading(one), subjectOfReading(two));

interface LaidOver {
  one: Side;
  two: Side;
  ledger: Ledger | null;
}

/** Two readings laid over each other; once for each state of the score. */
export function laidOver(bench: Workbench, written: Written, which: [Compared, Compared]): Steps<LaidOver> {
  const [one, two] = [subjectOf(bench, written, which[0]), subjectOf(bench, written, which[1])];
  return rememberedInSteps(written.transcription.score, LAID_OVER, { one, two });
}

const LAID_OVER = steppedNode('laid over', function* (of: { one: Subject; two: Subject }): Steps<LaidOver> {
  const [one, two] = sidesOf(of.one, of.two);
  yield;
  return { one, two, ledger: yield* reconcileInSteps(one, two) };
});

/** Two readings of a job, laid over each other, in figures and rows. */
export function* compare(bench: Workbench, written: Written, which: [Compared, Compared]): Steps<Comparison> {
  const laid = yield* laidOver(bench, written, which);
  const own = which.findIndex(({ kind }) => kind === 'score');
  return comparisonOf(laid, own < 0 ? null : own === 0 ? 'one' : 'two');
}

/**
 * What two readings that were laid over each other come to.
 *
 * @param own which of them is the job's score, if one is
 */
export function comparisonOf({ one, two, ledger }: LaidOver, own: 'one' | 'two' | null = null): Comparison {
  if (!ledger) {
    const count = ({ lines }: Side) => lines.reduce((sum, { notes }) => sum + notes.length, 0);
    return {
      by: null,
      ...totalsOf([]),
      differ: count(one) + count(two),
      share: 0,
      lines: [],
      passages: [],
      clock: [],
      rows: [],
      more: 0,
    };
  }
  const { entries, bars, clock, lines, by } = ledger;
  const totals = totalsOf(entries);
  const rows = rowsOf(entries, one, two, own);
  return {
    by,
    ...totals,
    share: agreement(totals),
    lines: lines.map((pair) => ({
      one: pair.one === null ? null : one.lines[pair.one]!.name,
      two: pair.two === null ? null : two.lines[pair.two]!.name,
      transposed: pair.transposed,
      whole: pair.whole,
      ...agreementOf(entries, pair),
    })),
    passages: passagesOf(bars, one, two),
    clock: clock.map(({ kind, one: bar, says }) => ({
      kind,
      bar: one.bars[bar]!.number,
      one: says[0],
      two: says[1],
    })),
    rows: rows.slice(0, MOST_ROWS),
    more: Math.max(0, rows.length - MOST_ROWS),
  };
}

function agreementOf(entries: readonly Entry[], pair: { one: number | null; two: number | null }) {
  const { agree, differ } = totalsOf(
    entries.filter(
      ({ one, two }) =>
        (one === null || one.line === pair.one) && (two === null || two.line === pair.two) && (one ?? two),
    ),
  );
  return { agree, differ };
}

/** Where in its reading a note stands. */
function placeIn(side: Side, { line, start }: Pick<ReadNote, 'line' | 'start'>): ComparedPlace {
  const bar = lastAtOrBefore(side.bars, start, (each) => each.start);
  const own = side.bars[bar]!;
  return {
    line,
    name: side.lines[line]!.name,
    bar,
    number: own.number,
    words: beatWords(own, Math.max(0, start - own.start)),
  };
}

/** What differs in one bar of one line, in one way. */
interface Group {
  entries: Entry[];
  one: ComparedPlace | null;
  two: ComparedPlace | null;
}

/** Differences by line, bar and kind, by the ids of their rows. */
export function groupsOf(entries: readonly Entry[], one: Side, two: Side): Map<string, Group> {
  const groups = new Map<string, Group>();
  for (const entry of entries) {
    if (entry.differs.length === 0) continue;
    const here = entry.one && placeIn(one, entry.one);
    const there = entry.two && placeIn(two, entry.two);
    const id = `${here?.bar ?? '-'} ${there?.bar ?? '-'} ${here?.line ?? '-'} ${there?.line ?? '-'} ${entry.differs.join('+')}`;
    const group = groups.get(id) ?? { entries: [], one: here, two: there };
    group.entries.push(entry);
    groups.set(id, group);
  }
  return groups;
}

/** The same as rows, in order of bars. */
function rowsOf(entries: readonly Entry[], one: Side, two: Side, own: 'one' | 'two' | null): ComparedRow[] {
  return [...groupsOf(entries, one, two)]
    .map(([id, group]): ComparedRow => {
      const [first] = group.entries;
      const note = own && first![own];
      return {
        id,
        kinds: first!.differs,
        one: group.one,
        two: group.two,
        count: group.entries.length,
        says: saysOf(group.entries, one, two),
        note: note && eventOfNote(note.id),
      };
    })
    .sort((a, b) => (a.one?.bar ?? a.two!.bar) - (b.one?.bar ?? b.two!.bar) || a.id.localeCompare(b.id));
}

/** So many notes of a row are named. */
const NAMED = 4;

function saysOf(entries: readonly Entry[], one: Side, two: Side): string {
  const named = entries.slice(0, NAMED).map((entry) => saysOfNote(entry, one, two));
  return `${named.join('; ')}${entries.length > NAMED ? ' …' : ''}`;
}

const nameOf = (note: ReadNote): string => (note.pitch ? pitchName(note.pitch) : keyName(note.key));

function saysOfNote({ one: a, two: b, differs }: Entry, one: Side, two: Side): string {
  if (!a || !b) return nameOf((a ?? b)!);
  const parts = differs.map((kind): string => {
    switch (kind) {
      case 'pitch':
      case 'octave':
      case 'spelling':
        return `${nameOf(a)} → ${nameOf(b)}`;
      case 'onset':
        return `${nameOf(a)} at ${placeIn(one, a).words} → ${placeIn(two, b).words}`;
      case 'length':
        return `${nameOf(a)} ${lengthWords(a.end - a.start)} → ${lengthWords(b.end - b.start)}`;
      case 'voice':
        return `${nameOf(a)} in voice ${a.voice} → ${b.voice}`;
      case 'part':
        return `${nameOf(a)} in ${one.lines[a.line]!.name} → ${two.lines[b.line]!.name}`;
      default:
        return nameOf(a);
    }
  });
  return parts.join(', ');
}

function lengthWords(span: Span): string {
  const quarters = Math.round((span / QUARTER) * 100) / 100;
  return `${quarters} ${quarters === 1 ? 'quarter' : 'quarters'}`;
}

/** Bars that have no partner, those that follow each other together. */
function passagesOf(bars: Ledger['bars'], one: Side, two: Side): ComparedPassage[] {
  const passages: (ComparedPassage & { last: number; lastOf: number | null })[] = [];
  for (const { one: a, two: b, again } of bars) {
    if (a !== null && b !== null) continue;
    const [side, own, index] = a === null ? (['two', two, b!] as const) : (['one', one, a] as const);
    const kind = `${again === undefined ? 'only' : 'again'}-${side}` as const;
    const { number } = own.bars[index]!;
    const of = again === undefined ? null : own.bars[again]!.number;
    const before = passages.at(-1);
    const goesOn =
      before?.kind === kind &&
      before.last === index - 1 &&
      (again === undefined || before.lastOf === again - 1);
    if (before && goesOn) {
      before.to = number;
      before.bars++;
      before.last = index;
      before.lastOf = again ?? null;
      if (before.of && of) before.of = `${before.of.split('–')[0]}–${of}`;
    } else passages.push({ kind, from: number, to: number, bars: 1, of, last: index, lastOf: again ?? null });
  }
  return passages.map(({ last: _, lastOf: __, ...passage }) => passage);
}

/** One of the readings to be heard, and when each bar that is compared begins and ends, in seconds. */
export interface ComparedSound {
  timeline: Timeline;
  from: Float64Array;
  until: Float64Array;
}

/** Lays one of two readings out in time for the synthesizer. @throws RangeError for a source that is not here */
export function* comparedSound(
  bench: Workbench,
  written: Written,
  pair: [Compared, Compared],
  index: 0 | 1,
): Steps<ComparedSound> {
  const which = pair[index];
  const laid = yield* laidOver(bench, written, pair);
  const reading = which.kind === 'source' ? bench.readingOf(which.source, which.version) : null;
  if (which.kind === 'source' && !reading) throw new RangeError('The job has no such source.');
  const performance = reading ? performanceOf(reading) : written.desk.performance;
  // What is compared without its repeats sounds with them: a bar is heard where it is first played.
  const played = playedSide(subjectOf(bench, written, which)).bars;
  const bars = (index === 0 ? laid.one : laid.two).bars.map((bar, at) =>
    played[at]?.written === bar.written ? at : played.findIndex(({ written: own }) => own === bar.written),
  );
  const begins = (bar: number) => secondsAt(performance.clock, barOf(performance.clock, bar).start);
  return {
    timeline: reading
      ? timelineOfPerformance(performance)
      : timelineOf(written.desk, 'score', written.transcription.score),
    from: Float64Array.from(bars, begins),
    until: Float64Array.from(bars, (bar) => begins(bar + 1)),
  };
}

/** A few bars of one line of one reading, to be drawn. Moments from the first of these bars. */
export interface ComparedBars {
  name: string;
  /** Index of the first bar, and of the one after the last. */
  from: number;
  to: number;
  bars: { start: Moment; number: string }[];
  length: Span;
  notes: { id: string; key: number; start: Moment; end: Moment; differs: boolean }[];
  /** MusicXML of the same bars, where the reading is a score. */
  document: string | null;
}

/** Bars around the one in question. */
const AROUND = 1;

/** The bars around a difference, of both readings; null where one has no such place. */
export function* comparedBars(
  bench: Workbench,
  written: Written,
  which: [Compared, Compared],
  at: { one: { line: number; bar: number } | null; two: { line: number; bar: number } | null },
): Steps<[ComparedBars | null, ComparedBars | null]> {
  const { one, two, ledger } = yield* laidOver(bench, written, which);
  const differing = new Set(
    ledger?.entries.flatMap(({ one: a, two: b, differs }) => (differs.length > 0 ? [a, b] : [])),
  );
  // What has no place of its own in the other reading is looked for where its bar lies there.
  const partner = (side: 'one' | 'two', { line, bar }: { line: number; bar: number }) => {
    const other = side === 'one' ? 'two' : 'one';
    const bars = ledger?.bars.find((pair) => pair[side] === bar)?.[other];
    const lines = ledger?.lines.find((pair) => pair[side] === line && pair.whole)?.[other];
    return bars === null || bars === undefined || lines === null || lines === undefined
      ? null
      : { line: lines, bar: bars };
  };
  const here = at.one ?? (at.two && partner('two', at.two));
  const there = at.two ?? (at.one && partner('one', at.one));
  const scoreOf = (of: Compared): Score | null =>
    of.kind === 'score' ? written.transcription.score : scoreIn(bench.readingOf(of.source, of.version));
  const drawn = (side: Side, of: Compared, place: { line: number; bar: number }): ComparedBars => {
    const from = Math.max(0, place.bar - AROUND);
    const bars = side.bars.slice(from, place.bar + AROUND + 1);
    const line = side.lines[place.line]!;
    const zero = bars[0]!.start;
    const last = bars.at(-1)!;
    const end = last.start + last.length;
    const score = scoreOf(of);
    const part = score?.parts[place.line];
    const to = last.written + 1;
    // Bars that are played after a jump do not stand beside each other.
    const isRun = bars.every(({ written: own }, index) => own === bars[0]!.written + index);
    return {
      name: line.name,
      from,
      to: from + bars.length,
      bars: bars.map(({ start, number }) => ({ start: start - zero, number })),
      length: end - zero,
      notes: line.notes
        .filter(({ start, end: until }) => start < end && until > zero)
        .map((note) => ({
          id: note.id,
          key: note.key,
          start: Math.max(0, note.start - zero),
          end: Math.min(end, note.end) - zero,
          differs: differing.has(note),
        })),
      document:
        score && part && isRun
          ? writeMusicXml(sliceScore(score, new Set([part.id]), bars[0]!.written, to), {
              goesOn: to < score.bars.length,
            })
          : null,
    };
  };
  return [here && drawn(one, which[0], here), there && drawn(two, which[1], there)];
}

/** The rows as a table for other programs: RFC 4180, one row a difference. */
export const comparisonCsv = ({ rows }: Comparison): string =>
  Papa.unparse(
    rows.map(({ kinds, one, two, count, says }) => ({
      'Part (first)': one?.name ?? '',
      'Bar (first)': one?.number ?? '',
      'Part (second)': two?.name ?? '',
      'Bar (second)': two?.number ?? '',
      Place: (one ?? two)?.words ?? '',
      Kind: kinds.join(', '),
      Notes: count,
      What: says,
    })),
    { escapeFormulae: true },
  );
