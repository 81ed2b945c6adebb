import {
  type EventId,
  indexOf,
  newNotesFrom,
  type PartId,
  partId,
  type StrandId,
  strandOf,
} from '../model/ids';
import type { Spanner } from '../model/marks';
import { type Pitch, pitchAt } from '../model/pitch';
import { barIndexOf, type Note, type Part, type Score, writtenKeys } from '../model/score';
import type { Moment } from '../model/time';
import { highestTrack } from '../reconcile/carry-names';
import type { Change } from '../sources/musicxml/changes';
import type { KeptNames, PartNames } from '../sources/musicxml/played';
import { readAgain, type ScoreReading } from '../sources/musicxml/source';
import { placesIn } from '../sources/musicxml/splice';
import { type NoteEdit, type RewrittenPart, rewrittenPart, transpositionIn } from './rewrite';

/** What is to be otherwise with the notes of a score, by the events that are played of them. Moments in score time. */
export interface ScoreEdits {
  dropped: ReadonlySet<EventId>;
  placed: ReadonlyMap<EventId, { start?: Moment; end?: Moment; grace?: boolean }>;
  added: ReadonlyMap<EventId, AddedNote>;
  /** Voice of its staff, and staff, from 1. */
  lines: ReadonlyMap<EventId, { voice?: number; staff?: number }>;
}

/** A note that a score is to have besides. */
export interface AddedNote {
  /** Of the part. */
  strand: StrandId;
  start: Moment;
  end: Moment;
  /** As it sounds. */
  key: number;
  /** From 1; absent for that of the note nearest in pitch. */
  staff?: number;
}

/** A score read from its document with the bars that were edited written anew in it. */
export interface RewrittenScore {
  reading: ScoreReading;
  /** Indices of the bars that are written anew, by the part’s index. */
  touched: ReadonlyMap<number, readonly number[]>;
  refused: readonly string[];
  /** What there is more or less of in a part than before, by the part's index. */
  changes: readonly { part: number; what: string; before: number; after: number }[];
}

/** A written note with what is tied to it. */
interface Standing {
  part: number;
  chain: Note[];
  start: Moment;
  end: Moment;
  isGrace: boolean;
}

/**
 * A score with notes of it moved, made longer or shorter, taken out and put in: the bars that change are
 * written anew in the text of its document, which is read again; what stays has the names that it had.
 */
export function rewrittenScore(reading: ScoreReading, edits: ScoreEdits): RewrittenScore {
  const refused: string[] = [];
  const byPart = editsByPart(reading, edits, refused);
  const { document } = reading;
  const done = new Map<number, RewrittenPart>();
  for (const [index, own] of byPart) {
    const part = reading.asRead.parts[index]!;
    const places = placesIn(document, reading.xmlIds.get(reading.score.parts[index]!.id) ?? '');
    if (!places) continue;
    const made = rewrittenPart({ document: document.text, places, part, bars: reading.asRead.bars }, own);
    refused.push(...made.refused);
    if (made.changes.length > 0) done.set(index, made);
  }
  if (done.size === 0) return { reading, touched: new Map(), refused, changes: [] };
  const changes = new Map([...done].map(([index, made]): [number, Change[]] => [index, made.changes]));
  const again = readAgain(reading, changes, (now) => keptNames(reading, now, done));
  return {
    reading: again,
    changes: [...done.keys()].flatMap((part) => {
      const [before, after] = [reading, again].map(({ asRead }) => countsOf(asRead.parts[part]!)) as [
        Map<string, number>,
        Map<string, number>,
      ];
      return [...new Set([...before.keys(), ...after.keys()])].flatMap((what) => {
        const [was, is] = [before.get(what) ?? 0, after.get(what) ?? 0];
        return was === is ? [] : [{ part, what, before: was, after: is }];
      });
    }),
    touched: new Map([...done].map(([index, { touched }]) => [index, touched])),
    refused,
  };
}

/** What stretches from note to note, for people. */
const SPANS: Partial<Record<Spanner['kind'], string>> = {
  slur: 'slurs',
  glissando: 'glissandos',
  slide: 'slides',
  'wavy-line': 'wavy lines',
};

/** How much of everything that hangs on notes a part has; a note and what is tied to it count once. */
function countsOf({ bars, spanners = [] }: Part): Map<string, number> {
  const counts = new Map<string, number>();
  const count = (what: string, many: number) => {
    if (many > 0) counts.set(what, (counts.get(what) ?? 0) + many);
  };
  for (const { voices } of bars)
    for (const { items } of voices)
      for (const item of items) {
        if (item.kind === 'rest') continue;
        count('notes', item.notes.filter(({ tieStop }) => !tieStop).length);
        count('grace notes', (item.graces?.length ?? 0) + (item.gracesAfter?.length ?? 0));
        count('syllables', item.lyrics?.length ?? 0);
        count('signs at notes', item.marks?.length ?? 0);
      }
  for (const { kind } of spanners) count(SPANS[kind] ?? '', SPANS[kind] ? 1 : 0);
  return counts;
}

/** What the notes of the document as it is now are called, by the places of those that it had. */
function keptNames(
  before: ScoreReading,
  now: Pick<ScoreReading, 'document'>,
  done: ReadonlyMap<number, RewrittenPart>,
): KeptNames {
  const parts = before.names.map((known, index): PartNames => {
    const own = done.get(index);
    // What was not rewritten is read under the same names.
    if (!own) return known;
    const id = before.xmlIds.get(before.score.parts[index]!.id) ?? '';
    const read = [...(placesIn(now.document, id)?.notes.keys() ?? [])];
    if (own.names.length !== read.length)
      throw new Error(`Of ${own.names.length} notes that were written, ${read.length} are read.`);
    const numbers = new Map<string, number>();
    read.forEach((note, at) => {
      const name = own.names[at];
      const number = name ? ('number' in name ? name.number : known.numbers.get(name.read)) : undefined;
      if (number !== undefined) numbers.set(note, number);
    });
    return { ...known, numbers };
  });
  return { parts, fresh: before.kept?.fresh ?? newNotesFrom(2), highest: highestTrack(before) };
}

/** What was decided about where one note stands. */
interface Wish {
  start?: Moment;
  end?: Moment;
  grace?: boolean;
  line?: { voice?: number; staff?: number };
}

function editsByPart(
  { score, asRead, readAs }: ScoreReading,
  { dropped, placed, added, lines }: ScoreEdits,
  refused: string[],
): Map<number, NoteEdit[]> {
  const standing = standingNotes(
    score,
    new Set([...dropped, ...placed.keys(), ...lines.keys()].map((id) => partId(strandOf(id)))),
  );
  const byPart = new Map<number, NoteEdit[]>();
  const put = (part: number, edit: NoteEdit) => {
    const known = byPart.get(part);
    if (known) known.push(edit);
    else byPart.set(part, [edit]);
  };
  const chainOf = ({ chain, part }: Standing) => chain.map(({ id }) => readAs[part]?.get(id) ?? id);
  // Several strokes may be of one note: what was said of any of them is said of that.
  const gone = new Set([...dropped].flatMap((event) => standing.get(event) ?? []));
  for (const note of gone) put(note.part, { chain: chainOf(note), to: null });
  const wanted = new Map<Standing, Wish>();
  for (const event of [...placed.keys(), ...lines.keys()]) {
    const note = standing.get(event);
    if (!note || gone.has(note)) continue;
    const line = lines.get(event);
    wanted.set(note, { ...wanted.get(note), ...placed.get(event), ...(line && { line }) });
  }
  const end = score.bars.at(-1)!.start + score.bars.at(-1)!.length;
  for (const [note, { start, end: until, grace, line }] of wanted) {
    if (note.isGrace || grace) {
      const bar = score.bars[barIndexOf(score.bars, note.start)];
      refused.push(
        `${score.parts[note.part]!.name}, bar ${bar?.number}: a grace note of a score stays where it is.`,
      );
      continue;
    }
    const from = Math.min(start ?? note.start, end - 1);
    const to = Math.min(until ?? from + note.end - note.start, end);
    if (to > from && (line || from !== note.start || to !== note.end))
      put(note.part, { chain: chainOf(note), to: { start: from, end: to }, ...(line && { line }) });
  }
  for (const [event, { strand, start, end: until, key, staff }] of added) {
    const index = score.parts.findIndex(({ id }) => id === partId(strand));
    const part = asRead.parts[index];
    if (!part || dropped.has(event) || start >= end) continue;
    const bar = barIndexOf(score.bars, start);
    const like = part.clefs.every((clef) => clef === 'percussion') ? strokeOf(part, key) : null;
    if (like === null && part.clefs.every((clef) => clef === 'percussion')) {
      refused.push(`${part.name} has no stroke of this kind: there is nothing to write another one by.`);
      continue;
    }
    put(index, {
      chain: [],
      to: { start, end: Math.min(until, end) },
      made: {
        number: indexOf(event),
        pitch: spelled(score, part, bar, key),
        staff: staff ?? nearestStaff(score, index, bar, key),
        like,
      },
    });
  }
  return byPart;
}

/** A note of a part on the same key: another stroke is written as it is. */
function strokeOf({ bars }: Part, key: number): string | null {
  for (const { voices } of bars)
    for (const { items } of voices)
      for (const item of items)
        if (item.kind === 'chord') for (const note of item.notes) if (note.key === key) return note.id;
  return null;
}

/** A pitch for a key by the signature that holds: from a minor third’s flat to an augmented fifth’s sharp (common practice). */
function spelled(score: Score, part: Part, bar: number, key: number): Pitch {
  const fifths = writtenKeys(score, part).findLast((each) => each.bar <= bar)?.fifths ?? 0;
  const written = key - transpositionIn(part, bar).chromatic;
  const lowest = fifths - 3;
  const own = (((written * 7 - lowest) % 12) + 12) % 12;
  return pitchAt(lowest + own, written);
}

/** The staff of the note nearest in pitch, in the bars about it. */
function nearestStaff(score: Score, index: number, bar: number, key: number): number {
  let best = { staff: 1, away: Number.POSITIVE_INFINITY };
  for (const { voices } of score.parts[index]!.bars.slice(Math.max(0, bar - 1), bar + 2))
    for (const { items, staff } of voices)
      for (const item of items)
        for (const note of item.kind === 'chord' ? item.notes : []) {
          const away = Math.abs(note.key - key);
          if (away < best.away) best = { staff: note.staff ?? staff, away };
        }
  return best.staff;
}

/** All notes of some parts with what is tied to them, by the events that are played of them. */
function standingNotes({ parts, bars }: Score, wanted: ReadonlySet<PartId>): Map<EventId, Standing> {
  const found = new Map<EventId, Standing>();
  parts.forEach((part, index) => {
    if (!wanted.has(part.id)) return;
    part.bars.forEach(({ voices }, bar) => {
      const zero = bars[bar]!.start;
      for (const { items } of voices)
        for (const item of items) {
          if (item.kind !== 'chord') continue;
          const [start, end] = [zero + item.onset, zero + item.onset + item.duration];
          const take = (note: Note, isGrace: boolean) => {
            const [first] = note.sources;
            const known = first && found.get(first);
            if (known) {
              known.chain.push(note);
              known.end = Math.max(known.end, end);
              return;
            }
            const made: Standing = { part: index, chain: [note], start, end, isGrace };
            for (const source of note.sources) found.set(source, made);
          };
          for (const note of [...(item.graces ?? []), ...(item.gracesAfter ?? [])]) take(note, true);
          for (const note of item.notes) take(note, false);
        }
    });
  });
  return found;
}
