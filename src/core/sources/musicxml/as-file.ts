import { instrumentOf } from '../../instruments/catalogue';
import { type EventId, eventId, noteIdOf, partId, type SourceId, strandId } from '../../model/ids';
import type { Anchor } from '../../model/marks';
import { PERCUSSION_CHANNEL } from '../../model/performance';
import { mapNotes, type Part, type Score } from '../../model/score';
import { isUnpitched, type Performed } from '../../perform';
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
function channelsOf(parts: Performed['parts']): number[] {
  let next = 0;
  return parts.map(({ part }) => {
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
}

/**
 * A played score as a Standard MIDI File of type 1: the clock in the first
 * track, then one track a part, named. The written notes know their events, so
 * that both readings stay linked note by note; parts go by the strands that
 * the file makes of them.
 */
export function asFile(score: Score, performed: Performed, source: SourceId): ScoreFile {
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
  const channels = channelsOf(parts);
  const readAs = new Map<string, string>();
  const made = parts.map(({ part, notes, lyrics }, index) => {
    const channel = channels[index]!;
    const strand = strandId(source, index + 1, channel);
    const { program, unpitched } = instrumentOf(part.instrument);
    const writtenAs = new Map<SmfEvent, string>();
    const track = inOrder(
      [
        text('trackName', 3, 0, part.name),
        ...(unpitched ? [] : [{ kind: 'program', tick: 0, channel, program } as const]),
        ...lyrics.map((lyric) => text('lyric', 5, lyric.tick, lyric.text)),
        ...notes.flatMap(({ on, off, key, velocity, note }): SmfEvent[] => {
          const strike: SmfEvent = { kind: 'noteOn', tick: on, channel, key: keyOf(key), velocity };
          writtenAs.set(strike, note);
          return [
            strike,
            { kind: 'noteOff', tick: off, channel, key: keyOf(key), velocity: 64, asNoteOn: false },
          ];
        }),
      ],
      end,
    );
    const played = new Map<string, EventId[]>();
    track.events.forEach((event, at) => {
      const note = writtenAs.get(event);
      if (note !== undefined) played.set(note, [...(played.get(note) ?? []), eventId(strand, at)]);
    });
    return { track, part: linked({ ...part, id: partId(strand) }, played, readAs) };
  });
  return {
    file: {
      format: 1,
      division: { kind: 'quarter', ticks: ticksPerQuarter },
      tracks: [inOrder(conductor, end), ...made.map(({ track }) => track)],
      otherChunks: [],
      mends: [],
    },
    score: { ...score, parts: made.map(({ part }) => part) },
    readAs,
  };
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
