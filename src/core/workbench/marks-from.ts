import { Graph, steppedNode } from '../basics/graph';
import { rememberedInSteps } from '../basics/remember';
import { lastAtOrBefore } from '../basics/search';
import type { Steps } from '../basics/steps';
import { type Brief, EMPTY_BRIEF } from '../decisions/brief';
import type { PlainDirective } from '../decisions/kinds';
import { beatWords } from '../model/beat-words';
import { type EventId, eventOfNote, type SourceId } from '../model/ids';
import type { Spanner } from '../model/marks';
import type { Chord, Note, Part, Score } from '../model/score';
import type { Sign } from '../model/signs';
import type { Moment } from '../model/time';
import type { ReadNote } from '../reconcile/reading';
import { performanceOf, type Reading } from '../sources';
import { type Transcription, transcribe } from '../transcribe';
import { laidOver } from './compare';
import type { Workbench, Written } from './workbench';

/** Kinds of marks that a score takes from a performance of it. */
export const TAKEN_MARKS = ['dynamics', 'hairpins', 'accents', 'staccato', 'slurs', 'fermatas'] as const;
export type TakenMark = (typeof TAKEN_MARKS)[number];

/** A mark that another source of the job speaks for, at a note of the score. */
export interface MarkFrom {
  id: string;
  kind: TakenMark;
  /** A dynamic, `crescendo`, `diminuendo`, or the name of the kind's sign. */
  mark: string;
  /** Index of the part of the score, and of the bar; the place in it in words. */
  part: number;
  bar: number;
  words: string;
  /** Where a hairpin or a slur ends, as the index of a bar. */
  until?: number;
  directive: PlainDirective;
}

/** What a source speaks for in the score. */
export interface MarksFrom {
  marks: readonly MarkFrom[];
  /** Marks that found no note of the score where they stand, by kind. */
  homeless: Record<TakenMark, number>;
  /** Marks of which the score has one at the same note, by kind. */
  there: Record<TakenMark, number>;
}

const noneOf = (): Record<TakenMark, number> => ({
  dynamics: 0,
  hairpins: 0,
  accents: 0,
  staccato: 0,
  slurs: 0,
  fermatas: 0,
});

/** A mark at events of the performance. */
interface Heard {
  kind: TakenMark;
  sign: Sign;
  text?: string;
  /** The events at which it stands: any of them will do. */
  at: readonly EventId[];
  until?: readonly EventId[];
}

/**
 * The marks that another source of the job speaks for, at the notes of the score that it plays: both are laid over
 * each other, and what is told of its own page stands at the notes that are the same.
 *
 * @throws RangeError for a source that the job has not, or that is a score
 */
export function* marksFrom(
  bench: Workbench,
  written: Written,
  which: { source: SourceId; version: number },
): Steps<MarksFrom> {
  const reading = bench.readingOf(which.source, which.version);
  if (!reading || reading.kind === 'score')
    throw new RangeError('Marks are taken from a performance that the job has.');
  const { brief } = written.desk;
  const heard = yield* rememberedInSteps(reading, HEARD_MARKS, { reading, choices: choicesOf(brief) });
  const { ledger } = yield* laidOver(bench, written, [{ kind: 'score' }, { kind: 'source', ...which }]);
  return atNotes(written.transcription.score, heard, ledger?.entries ?? []);
}

/** How readily marks are heard, as it was decided for all parts. */
const choicesOf = ({ directives }: Brief): PlainDirective[] =>
  directives.filter((each) => each.kind === 'marks' && each.strand === undefined);

const HEARD_MARKS = steppedNode(
  'marks heard',
  function* (of: { reading: Reading; choices: readonly PlainDirective[] }): Steps<Heard[]> {
    const brief: Brief = { ...EMPTY_BRIEF, directives: of.choices };
    return heardMarks(yield* quietly(transcribe(performanceOf(of.reading), brief, new Graph())));
  },
);

function* quietly<T>(steps: Generator<unknown, T>): Steps<T> {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    yield;
  }
}

/** The marks of a transcription: those that were set or heard, and staccato and slurs that stand on its page. */
function heardMarks({ told, readings, score }: Transcription): Heard[] {
  const found: Heard[] = [];
  score.parts.forEach((part, index) => {
    const starting = new Map<Moment, EventId[]>();
    for (const [event, { start }] of readings[index]!.notes) {
      const here = starting.get(start);
      if (here) here.push(event);
      else starting.set(start, [event]);
    }
    const starts = [...starting.keys()].sort((one, other) => one - other);
    const last = (until: Moment): EventId[] =>
      starting.get(starts[lastAtOrBefore(starts, until, (start) => start)] ?? -1) ?? [];
    for (const { kind, mark, from, to } of told?.offers[index] ?? []) {
      const at = starting.get(from) ?? [];
      if (kind === 'dynamics') found.push({ kind, sign: 'dynamic', text: mark, at });
      if (kind === 'accents') found.push({ kind, sign: 'accent', at });
      if (kind === 'fermatas') found.push({ kind, sign: 'fermata', at });
      if (kind === 'hairpins' && to !== undefined && (mark === 'crescendo' || mark === 'diminuendo'))
        found.push({ kind, sign: mark, at, until: last(to) });
    }
    found.push(...onPage(part));
  });
  return found;
}

/** Staccato and slurs of a part as it is written. */
function onPage({ bars, spanners = [] }: Part): Heard[] {
  const found: Heard[] = [];
  const sources = new Map<string, readonly EventId[]>();
  for (const { voices } of bars)
    for (const { items } of voices)
      for (const item of items) {
        if (item.kind === 'rest') continue;
        for (const note of item.notes) sources.set(note.id, note.sources);
        if (item.marks?.some((mark) => mark.kind === 'articulation' && mark.name === 'staccato'))
          found.push({ kind: 'staccato', sign: 'staccato', at: item.notes.flatMap((note) => note.sources) });
      }
  for (const { kind, from, to } of spanners)
    if (kind === 'slur' && 'note' in from && 'note' in to)
      found.push({
        kind: 'slurs',
        sign: 'slur',
        at: sources.get(from.note) ?? [],
        until: sources.get(to.note) ?? [],
      });
  return found;
}

/** A note where it stands in the score. */
interface Stand {
  part: number;
  bar: number;
  onset: Moment;
  chord: Chord;
  event: EventId;
}

function atNotes(
  score: Score,
  heard: readonly Heard[],
  entries: readonly { one: ReadNote | null; two: ReadNote | null }[],
): MarksFrom {
  const stands = standsOf(score);
  const partners = new Map<EventId, Stand>();
  for (const { one, two } of entries) {
    const stand = one && stands.get(one.id);
    if (stand && two && !partners.has(two.id as EventId)) partners.set(two.id as EventId, stand);
  }
  const spans = spansOf(score);
  const marks = new Map<string, MarkFrom>();
  const [homeless, there] = [noneOf(), noneOf()];
  for (const { kind, sign, text, at, until } of heard) {
    const stand = at.map((event) => partners.get(event)).find((each) => each !== undefined);
    const end = until?.map((event) => partners.get(event)).find((each) => each?.part === stand?.part);
    const isLost = !stand || (until !== undefined && (!end || end === stand));
    if (isLost) {
      homeless[kind]++;
      continue;
    }
    if (hasAlready(score, spans, stand, sign)) {
      there[kind]++;
      continue;
    }
    const { part, bar, onset, event } = stand;
    const id = `${part} ${bar} ${onset} ${sign}`;
    if (marks.has(id)) continue;
    marks.set(id, {
      id,
      kind,
      mark: text ?? sign,
      part,
      bar,
      words: beatWords(score.bars[bar]!, onset),
      ...(end && { until: end.bar }),
      directive: {
        kind: 'sign',
        note: event,
        sign,
        put: true,
        ...(text !== undefined && { text }),
        ...(end && { until: end.event }),
      },
    });
  }
  const inOrder = [...marks.values()].sort((one, other) => one.part - other.part || one.bar - other.bar);
  return { marks: inOrder, homeless, there };
}

function standsOf({ parts }: Score): Map<string, Stand> {
  const found = new Map<string, Stand>();
  parts.forEach((part, index) => {
    part.bars.forEach(({ voices }, bar) => {
      for (const { items } of voices)
        for (const chord of items) {
          if (chord.kind === 'rest') continue;
          const stand = (note: Note) => {
            const event = note.sources[0] ?? eventOfNote(note.id);
            if (event) found.set(note.id, { part: index, bar, onset: chord.onset, chord, event });
          };
          chord.notes.forEach(stand);
        }
    });
  });
  return found;
}

/** The notes at which what stretches begins, by kind. */
function spansOf({ parts }: Score): Map<Spanner['kind'], Set<string>> {
  const found = new Map<Spanner['kind'], Set<string>>();
  parts.forEach(({ spanners = [] }, part) => {
    for (const { kind, from } of spanners) {
      const own = found.get(kind) ?? new Set<string>();
      own.add('note' in from ? from.note : `${part} ${from.bar} ${from.at}`);
      found.set(kind, own);
    }
  });
  return found;
}

/** Whether the score says it at this note already. */
function hasAlready(
  { parts }: Score,
  spans: ReadonlyMap<Spanner['kind'], ReadonlySet<string>>,
  { part, bar, onset, chord }: Stand,
  sign: Sign,
): boolean {
  const begins = (kind: Spanner['kind']) =>
    spans.get(kind)?.has(`${part} ${bar} ${onset}`) || chord.notes.some(({ id }) => spans.get(kind)?.has(id));
  if (sign === 'slur') return begins('slur') === true;
  if (sign === 'crescendo' || sign === 'diminuendo') return begins('wedge') === true;
  if (sign === 'dynamic')
    return parts[part]!.bars[bar]!.marks?.some(({ kind, at }) => kind === 'dynamic' && at === onset) === true;
  return (
    chord.marks?.some((mark) => (mark.kind === 'articulation' ? mark.name === sign : mark.kind === sign)) ===
    true
  );
}
