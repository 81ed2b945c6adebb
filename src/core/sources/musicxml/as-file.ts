import { instrumentOf } from '../../instruments/catalogue';
import { type EventId, eventId, noteIdOf, partId, type SourceId, strandId } from '../../model/ids';
import type { Anchor } from '../../model/marks';
import { PERCUSSION_CHANNEL } from '../../model/performance';
import { mapNotes, type Part, type Score } from '../../model/score';
import { isUnpitched, type Performed, type PerformedNote } from '../../perform';
import { BEND_RANGE } from '../../perform/glides';
import type { PlayedShaping } from '../../perform/shaping';
import type { Smf, SmfEvent, SmfTrack } from '../smf/events';

const encoder = new TextEncoder();
const text = (
  kind: 'trackName' | 'marker' | 'lyric',
  type: number,
  tick: number,
  value: string,
): SmfEvent => ({
  kind,
  tick,
  type,
  bytes: encoder.encode(value),
});

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

/** A played score as a file, and the score with each note joined to those that were played of it. */
export interface ScoreFile {
  file: Smf;
  score: Score;
  /** What each note was called before it was named by its events, by its name now. */
  readAs: ReadonlyMap<string, string>;
  /** How notes are played that are not played as usual, or not by all players. */
  manners: ReadonlyMap<EventId, PlayedManner>;
}

/** What a score's parts and notes were called in a version before, so that they are called the same. */
export interface KeptNames {
  /** For each part its place among the tracks, MIDI channel (0–15), and how far apart strokes of one of its notes are numbered. */
  parts: readonly { track: number; channel: number; span: number }[];
  /** Numbers of notes by their names as they were read. */
  numbers: ReadonlyMap<string, number>;
  /** What is new is numbered from here. */
  fresh: number;
  /** No track beyond it was ever used. */
  highest: number;
}

/** Notes that are new in a version have numbers from here on, a range for each version; further strokes of them beyond. */
export const NEW_NOTES_FROM = 1_000_000;
const STROKES_APART = 100_000;

/** A technique in words, and which of several players (from 1). */
export interface PlayedManner {
  technique?: string;
  players?: number[];
}

/**
 * A played score as a Standard MIDI File of type 1: the clock in the first
 * track, then one track a part, named. The written notes know their events, so
 * that both readings stay linked note by note; parts go by the strands that
 * the file makes of them. A part that a version before had keeps its track: where one is
 * gone, its track is absent.
 */
export function asFile(
  score: Score,
  performed: Performed,
  source: SourceId,
  kept: KeptNames | null = null,
): ScoreFile {
  const { ticksPerQuarter, tempos, meters, keys, markers, parts, end } = performed;
  const conductor: SmfEvent[] = [
    ...(score.title ? [text('trackName', 3, 0, score.title)] : []),
    ...meters.map(
      ({ tick, numerator, denominator }): SmfEvent => ({
        kind: 'timeSignature',
        tick,
        numerator,
        denominator,
        clocks: 24,
        thirtySeconds: 8,
      }),
    ),
    ...keys.map(({ tick, fifths, minor }): SmfEvent => ({ kind: 'keySignature', tick, fifths, minor })),
    ...tempos.map(({ tick, microsPerQuarter }): SmfEvent => ({ kind: 'tempo', tick, microsPerQuarter })),
    ...markers.map((marker) => text('marker', 6, marker.tick, marker.text)),
  ];
  const channels = channelsOf(parts.map(({ part }) => part));
  const readAs = new Map<string, string>();
  const manners = new Map<EventId, PlayedManner>();
  const made = parts.map(({ part, notes, shaping, lyrics }, index) => {
    const { track, channel } = kept?.parts[index] ?? { track: index + 1, channel: channels[index]! };
    const strand = strandId(source, track, channel);
    const { program, unpitched } = instrumentOf(part.instrument);
    const strikes = new Map<SmfEvent, PerformedNote>();
    const { events } = inOrder(
      [
        text('trackName', 3, 0, part.name),
        ...(unpitched ? [] : [{ kind: 'program', tick: 0, channel, program } as const]),
        ...shapingEvents(shaping, channel),
        ...lyrics.map((lyric) => text('lyric', 5, lyric.tick, lyric.text)),
        ...notes.flatMap((note): SmfEvent[] => {
          const key = keyOf(note.key);
          const strike: SmfEvent = { kind: 'noteOn', tick: note.on, channel, key, velocity: note.velocity };
          strikes.set(strike, note);
          return [strike, { kind: 'noteOff', tick: note.off, channel, key, velocity: 64, asNoteOn: false }];
        }),
      ],
      end,
    );
    const numbers = numbersOf(part, events, strikes, kept, kept?.parts[index]?.span ?? 0);
    const played = new Map<string, EventId[]>();
    events.forEach((event, at) => {
      const strike = strikes.get(event);
      if (!strike) return;
      const { note, technique, players } = strike;
      const id = eventId(strand, numbers[at]!);
      const known = played.get(note);
      if (known) known.push(id);
      else played.set(note, [id]);
      if (technique || players)
        manners.set(id, { ...(technique && { technique }), ...(players && { players }) });
    });
    return {
      track: { events, numbers },
      place: track,
      part: linked({ ...part, id: partId(strand) }, played, readAs),
    };
  });
  const tracks = Array.from(
    { length: 1 + Math.max(0, ...made.map(({ place }) => place)) },
    (): SmfTrack => ({ events: [], absent: true }),
  );
  tracks[0] = inOrder(conductor, end);
  for (const { place, track } of made) tracks[place] = track;
  return {
    file: {
      format: 1,
      division: { kind: 'quarter', ticks: ticksPerQuarter },
      tracks,
      otherChunks: [],
      mends: [],
    },
    score: { ...score, parts: made.map(({ part }) => part) },
    readAs,
    manners,
  };
}

/** What shapes the sound comes before all notes, whatever their numbers. */
const BEFORE_NOTES = -1_000_000;

/**
 * Numbers for the events of a part: a note's first stroke by its place among
 * the written notes, further ones beyond all of these. So they stay the same
 * whatever else is played out.
 */
function numbersOf(
  part: Part,
  events: readonly SmfEvent[],
  strikes: ReadonlyMap<SmfEvent, PerformedNote>,
  kept: KeptNames | null,
  span: number,
): number[] {
  const places = new Map<string, number>();
  mapNotes(part.bars, ({ id }) => places.set(id, places.size));
  const strokes = new Map<string, number>();
  return events.map((event, index) => {
    const strike = strikes.get(event);
    if (!strike) return BEFORE_NOTES + index;
    const stroke = strokes.get(strike.note) ?? 0;
    strokes.set(strike.note, stroke + 1);
    const place = places.get(strike.note)!;
    if (!kept) return place + stroke * places.size;
    const number = kept.numbers.get(strike.note) ?? kept.fresh + place;
    return number + stroke * (number < NEW_NOTES_FROM ? span : STROKES_APART);
  });
}

/** RPN 0, the range of pitch bends (MIDI 1.0): its number, then its value in semitones. */
const BEND_RANGE_SET: readonly (readonly [controller: number, value: number])[] = [
  [101, 0],
  [100, 0],
  [6, BEND_RANGE],
];
const MIDDLE = 8192;

/** What a part is told besides its notes, as events of a channel (0–15). */
export function shapingEvents(shaping: readonly PlayedShaping[], channel: number): SmfEvent[] {
  const isBent = shaping.some((each) => 'bend' in each);
  const range = isBent
    ? BEND_RANGE_SET.map(
        ([controller, value]): SmfEvent => ({ kind: 'control', tick: 0, channel, controller, value }),
      )
    : [];
  return [
    ...range,
    ...shaping.map((each): SmfEvent => {
      const { tick } = each;
      if ('controller' in each)
        return { kind: 'control', tick, channel, controller: each.controller, value: each.value };
      const value = Math.round(MIDDLE + (each.bend / BEND_RANGE) * MIDDLE);
      return { kind: 'pitchBend', tick, channel, value: Math.max(0, Math.min(2 * MIDDLE - 1, value)) };
    }),
  ];
}

/**
 * Each note with the events that it became, and named by the first of them, as
 * written notes are everywhere; a tied one with those of the note that begins
 * the tie. What never sounds keeps its name.
 */
function linked(part: Part, played: ReadonlyMap<string, EventId[]>, readAs: Map<string, string>): Part {
  const held = new Map<number, EventId[]>();
  const names = new Map<string, string>();
  let tied = 0;
  const bars = mapNotes(part.bars, (note) => {
    const own = played.get(note.id);
    const sources = own ?? (note.tieStop ? held.get(note.key) : undefined) ?? [];
    if (note.tieStart) held.set(note.key, sources);
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

const keyOf = (key: number): number => Math.max(0, Math.min(127, key));

/** What ends comes before what begins at the same tick. */
const rank = ({ kind }: SmfEvent): number => (kind === 'noteOff' ? 0 : kind === 'noteOn' ? 2 : 1);

function inOrder(events: SmfEvent[], end: number): SmfTrack {
  const last = events.reduce((latest, { tick }) => Math.max(latest, tick), end);
  return {
    events: [
      ...events.sort((a, b) => a.tick - b.tick || rank(a) - rank(b)),
      { kind: 'endOfTrack', tick: last },
    ],
  };
}
