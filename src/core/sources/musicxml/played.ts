import { node } from '../../basics/graph';
import { remembered } from '../../basics/remember';
import { whole } from '../../basics/same';
import { asTitle } from '../../basics/titles';
import { instrumentOf } from '../../instruments/catalogue';
import {
  type EventId,
  eventId,
  noteIdOf,
  partId,
  type SourceId,
  type StrandId,
  strandId,
  strokeNumber,
} from '../../model/ids';
import type { Anchor } from '../../model/marks';
import type { Mend } from '../../model/mend';
import {
  type LooseEvent,
  NOTHING_CARRIED,
  type NoteFreeTrack,
  PERCUSSION_CHANNEL,
  type Placed,
  type PlayedNote,
  type StrandContent,
  type TextAt,
  type Unbarred,
} from '../../model/performance';
import { mapNotes, type Part, type Score } from '../../model/score';
import type { Moment } from '../../model/time';
import { isUnpitched, type Performed, type PerformedNote, type PerformedPart } from '../../perform';
import { messagesOf } from '../../perform/shaping';
import { inTurn, USUAL_RELEASE } from '../one-channel';
import { withinLength } from '../texts';

/** Channels for parts in order: percussion on 10, all others in turn on the other fifteen. */
export function channelsOf(parts: readonly Part[]): number[] {
  let next = 0;
  return parts.map((part) => {
    if (isUnpitched(part)) return PERCUSSION_CHANNEL;
    const channel = next % 15;
    next++;
    return channel < PERCUSSION_CHANNEL ? channel : channel + 1;
  });
}

/** A score as it is played, and the score with each note joined to those that were played of it. */
export interface PlayedScore {
  played: Unbarred;
  score: Score;
  /** What each note was called before it was named by what is played of it, by its name now; for each part. */
  readAs: readonly ReadonlyMap<string, string>[];
  /** What the parts and their notes are called. */
  names: readonly PartNames[];
}

/** What a part and its notes are called. */
export interface PartNames {
  /** Its place among the tracks. */
  track: number;
  /** MIDI channel, 0–15. */
  channel: number;
  /** How far apart strokes of one of its notes are numbered. */
  span: number;
  /** Numbers of notes by their names as they were read; of all that sound. */
  numbers: ReadonlyMap<string, number>;
}

/** What a score's parts and notes were called in a version before, so that they are called the same. */
export interface KeptNames {
  parts: readonly PartNames[];
  /** What is new is numbered from here. */
  fresh: number;
  /** No track beyond it was ever used. */
  highest: number;
}

/**
 * A score as it is played: the clock on the first track, then one track a part. The written notes
 * know what is played of them, so that both readings stay linked note by note; parts go by the
 * strands that they become. A part that a version before had keeps its track: where one is gone,
 * its track is none.
 */
export function playedOut(
  score: Score,
  performed: Performed,
  source: SourceId,
  kept: KeptNames | null = null,
): PlayedScore {
  const mends: Mend[] = [];
  const channels = channelsOf(performed.parts.map(({ part }) => part));
  const made = performed.parts.map((own, index): PlayedPart => {
    const { track, channel, span, numbers } = kept?.parts[index] ?? {
      track: index + 1,
      channel: channels[index]!,
      span: 0,
      numbers: null,
    };
    const name = withinLength(own.part.name.trim(), mends, track);
    const fresh = kept?.fresh ?? 0;
    return remembered(own, PLAYED_PART, {
      own,
      bars: score.bars,
      source,
      name,
      called: { track, channel, span, numbers, fresh },
    });
  });
  const byTrack = made.toSorted((a, b) => a.strand.track - b.strand.track);
  const title = withinLength(score.title.trim(), mends, 0);
  const texts = (all: Performed['markers'], track: number): TextAt[] =>
    all
      .map(({ tick, text }) => ({ tick, text: withinLength(text, mends, track), track }))
      .filter(({ text }) => text.trim() !== '');
  const { ticksPerQuarter, tempos, meters, keys } = performed;
  return {
    played: {
      source,
      title: asTitle(title),
      ticksPerQuarter,
      tempos,
      meters,
      keys,
      markers: texts(performed.markers, 0),
      lyrics: byTrack
        .flatMap(({ lyrics, strand }) => texts(lyrics, strand.track))
        .sort((a, b) => a.tick - b.tick),
      strands: byTrack.flatMap(({ strand }) => (strand.notes.length === 0 ? [] : [strand])),
      noteFree: noteFreeOf(performed, title, byTrack),
      loose: byTrack.flatMap(looseOf),
      end: endOf(performed),
      begun: made.reduce((sum, { strand }) => sum + strand.notes.length, 0),
      mends,
    },
    score: { ...score, parts: made.map(({ part }) => part) },
    readAs: made.map(({ readAs }) => readAs),
    names: made.map(({ names }) => names),
  };
}

/** Parts are linked each by itself to what is played of them. */
const PLAYED_PART = node('linked part', (of: Linking): PlayedPart => {
  const { own, bars, source, name, called } = of;
  const { track, channel } = called;
  const id = strandId(source, track, channel);
  const places = new Map<string, number>();
  mapNotes(own.part.bars, ({ id: note }) => places.set(note, places.size));
  const { all, numbers } = numbersOf(own, places, called);
  const { notes, becomes } = playedNotes(own, id, all);
  const { shaping, lyrics } = besideNotes(own, channel);
  const readAs = new Map<string, string>();
  return {
    strand: whole({ id, track, channel, port: null, name, notes, shaping }),
    lyrics,
    part: whole(linked({ ...own.part, id: partId(id) }, bars, becomes, readAs)),
    readAs,
    names: whole({ track, channel, span: called.numbers ? called.span : places.size, numbers }),
  };
});

interface Linking {
  own: PerformedPart;
  bars: Score['bars'];
  source: SourceId;
  name: string;
  called: Omit<PartNames, 'numbers'> & { numbers: PartNames['numbers'] | null; fresh: number };
}

/** A part as a strand, with what is sung to it, and linked to what is played of it. */
interface PlayedPart {
  strand: StrandContent;
  lyrics: { tick: number; text: string; order: number }[];
  part: Part;
  readAs: ReadonlyMap<string, string>;
  names: PartNames;
}

/** The notes of a strand, and which of them each written note becomes. */
function playedNotes({ notes }: PerformedPart, strand: StrandId, numbers: readonly number[]) {
  const becomes = new Map<string, EventId[]>();
  const played = notes.map((note, at) => {
    const event = eventId(strand, numbers[at]!);
    const before = becomes.get(note.note);
    if (before) before.push(event);
    else becomes.set(note.note, [event]);
    return playedNote(note, event);
  });
  return { notes: inTurn(played), becomes };
}

/** The clock's track, and those of parts that never sound. */
const noteFreeOf = (
  { tempos, meters, keys, markers }: Performed,
  title: string,
  byTrack: readonly PlayedPart[],
): NoteFreeTrack[] => [
  noteFree(0, title, {
    tempos: tempos.length,
    meters: meters.length,
    keys: keys.length,
    markers: markers.length,
  }),
  ...byTrack
    .filter(({ strand }) => strand.notes.length === 0)
    .map(({ strand, lyrics }) =>
      noteFree(strand.track, strand.name, { controllers: strand.shaping.length, lyrics: lyrics.length }),
    ),
];

/** What of a part goes with no strand: its lyrics, and what would shape the sound of one that never sounds. */
function looseOf({ strand: { track, notes, shaping }, lyrics }: PlayedPart): LooseEvent[] {
  const silent = (notes.length === 0 ? shaping : []).map(
    ({ order, event }): LooseEvent => ({
      track,
      tick: event.tick,
      order,
      use: 'other',
      content: { native: event },
    }),
  );
  const sung = lyrics.map(
    ({ tick, text, order }): LooseEvent => ({ track, tick, order, use: 'lyric', content: { text } }),
  );
  return [...silent, ...sung].sort((a, b) => a.order - b.order);
}

const playedNote = (
  { on, off, key, velocity, technique, players }: PerformedNote,
  id: EventId,
): PlayedNote => ({
  id,
  on,
  off,
  key: Math.max(0, Math.min(127, key)),
  velocity,
  release: USUAL_RELEASE,
  ...(technique && { technique }),
  ...(players && { players }),
});

const noteFree = (
  track: number,
  name: string,
  carries: Partial<NoteFreeTrack['carries']>,
): NoteFreeTrack => ({
  track,
  name,
  carries: { ...NOTHING_CARRIED, ...carries },
});

/** The last tick at which anything happens. */
const endOf = ({ end, parts, tempos, meters, keys, markers }: Performed): number =>
  [tempos, meters, keys, markers].flat().reduce(
    (latest, { tick }) => Math.max(latest, tick),
    parts.reduce((latest, { last }) => Math.max(latest, last), end),
  );

/** What shapes the sound and what is sung come before all notes, whatever their numbers. */
const BEFORE_NOTES = -1_000_000;

/** What a part is told besides its notes, in order, and its lyrics among that. */
function besideNotes({ part, shaping, lyrics }: PerformedPart, channel: number) {
  const { program, unpitched } = instrumentOf(part.instrument);
  const all = [
    ...(unpitched ? [] : [{ kind: 'program', tick: 0, channel, program } as const]),
    ...messagesOf(shaping, channel),
    ...lyrics,
  ]
    .sort((a, b) => a.tick - b.tick)
    .map((each, index) => ({ each, order: BEFORE_NOTES + index }));
  return {
    shaping: all.flatMap(({ each, order }): Placed[] => ('kind' in each ? [{ order, event: each }] : [])),
    lyrics: all.flatMap(({ each, order }) => ('kind' in each ? [] : [{ ...each, order }])),
  };
}

/**
 * Numbers for the notes of a part, in the order in which they are played: a note's first stroke by
 * its place among the written notes, further ones beyond all of these. So they stay the same
 * whatever else is played out.
 */
function numbersOf(
  { notes }: PerformedPart,
  places: ReadonlyMap<string, number>,
  { span, numbers: kept, fresh }: Linking['called'],
): { all: number[]; numbers: Map<string, number> } {
  const strokes = new Map<string, number>();
  const numbers = new Map<string, number>();
  const all = notes.map(({ note }) => {
    const stroke = strokes.get(note) ?? 0;
    strokes.set(note, stroke + 1);
    const place = places.get(note)!;
    const first = kept ? (kept.get(note) ?? fresh + place) : place;
    numbers.set(note, first);
    return strokeNumber(first, stroke, kept ? span : places.size);
  });
  return { all, numbers };
}

/** The events of the notes that ties lead to: of the note on their key that ends where they begin, in their own voice first. */
function heldFrom(
  { bars }: Part,
  starts: readonly { start: Moment }[],
  played: ReadonlyMap<string, EventId[]>,
): Map<string, EventId[]> {
  const strokes = bars.flatMap(({ voices }, bar) =>
    voices.flatMap(({ items, voice, staff }) =>
      items.flatMap((item) => {
        if (item.kind === 'rest') return [];
        const start = starts[bar]!.start + item.onset;
        const line = `${staff} ${voice}`;
        return item.notes
          .filter(({ tieStart, tieStop }) => tieStart ?? tieStop)
          .map((note) => ({ note, start, end: start + item.duration, line }));
      }),
    ),
  );
  const open = new Map<string, { line: string; events: EventId[] }[]>();
  const found = new Map<string, EventId[]>();
  for (const { note, start, end, line } of strokes.sort((a, b) => a.start - b.start)) {
    const waiting = (note.tieStop && open.get(`${note.key} ${start}`)) || [];
    const own = waiting.findIndex((each) => each.line === line);
    const [before] = waiting.splice(Math.max(0, own), 1);
    const events = played.get(note.id) ?? before?.events ?? [];
    if (before) found.set(note.id, events);
    if (!note.tieStart) continue;
    const until = `${note.key} ${end}`;
    open.set(until, [...(open.get(until) ?? []), { line, events }]);
  }
  return found;
}

/**
 * Each note with the events that it became, and named by the first of them, as
 * written notes are everywhere; a tied one with those of the note that begins
 * the tie. What never sounds keeps its name.
 */
function linked(
  part: Part,
  starts: readonly { start: Moment }[],
  played: ReadonlyMap<string, EventId[]>,
  readAs: Map<string, string>,
): Part {
  const tiedTo = heldFrom(part, starts, played);
  const names = new Map<string, string>();
  let tied = 0;
  const bars = mapNotes(part.bars, (note) => {
    const own = played.get(note.id);
    const sources = own ?? tiedTo.get(note.id) ?? [];
    const [first] = sources;
    const id = first === undefined ? `w-${note.id}` : noteIdOf(first, own ? '' : `.${++tied}`);
    names.set(note.id, id);
    readAs.set(id, note.id);
    return { ...note, id, sources };
  });
  const along = (end: Anchor): Anchor => ('note' in end ? { note: names.get(end.note) ?? end.note } : end);
  return {
    ...part,
    bars,
    ...(part.spanners && {
      spanners: part.spanners.map((each) => ({ ...each, from: along(each.from), to: along(each.to) })),
    }),
  };
}
