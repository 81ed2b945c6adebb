import type { Decisions } from '../decisions/decisions';
import type { PlainDirective } from '../decisions/kinds';
import { findReading } from '../explain/explain';
import { secondsAt, tickAt } from '../model/clock';
import { tickOfMoment } from '../model/frame';
import { addedNoteId, type EventId, type StrandId } from '../model/ids';
import type { PlayedNote } from '../model/performance';
import type { SketchNote } from '../model/sketch';
import { type Moment, momentOfText, textOfMoment } from '../model/time';
import type { Transcription } from '../transcribe';

/** What is there to edit: the score, what sounds, and what was decided already. */
export interface Edited {
  result: Transcription;
  decisions: Pick<Decisions, 'played' | 'added'>;
  /** The notes as they sound now, by their events. */
  sounding: ReadonlyMap<EventId, PlayedNote & { strand: StrandId }>;
}

/**
 * Decisions about where notes are written, with those that make them sound so:
 * a note keeps how far it comes before or after its place.
 */
export function inBothReadings(
  { result, decisions, sounding }: Edited,
  places: readonly PlainDirective[],
): PlainDirective[] {
  return places.flatMap((directive): PlainDirective[] => {
    if (directive.kind !== 'place') return [directive];
    const { note, start, end } = directive;
    const velocity = decisions.played.get(note)?.velocity;
    if (!start && !end) return [directive, playedAs(note, undefined, undefined, velocity)];
    const written = findReading(result, note)?.written;
    const heard = sounding.get(note);
    if (!written || !heard) return [directive];
    const on = start ? heard.on + ticksBetween(result, written.start, momentOfText(start)) : heard.on;
    // A later end is a later release; without one the note sounds as long as before.
    const off = end
      ? heard.off + ticksBetween(result, written.end, momentOfText(end))
      : on + heard.off - heard.on;
    const from = Math.max(0, Math.round(on));
    return [directive, playedAs(note, from, Math.max(from + 1, Math.round(off)), velocity)];
  });
}

const ticksBetween = ({ frame }: Transcription, from: Moment, to: Moment): number =>
  tickOfMoment(frame, to) - tickOfMoment(frame, from);

/** How a note sounds, with what was said of it before: one decision holds all of it. */
const playedAs = (
  note: EventId,
  on: number | undefined,
  off: number | undefined,
  velocity: number | undefined,
): PlainDirective => ({
  kind: 'played',
  note,
  ...(on !== undefined && { on }),
  ...(off !== undefined && { off }),
  ...(velocity !== undefined && { velocity }),
});

/** The decisions that make notes softer or louder. @param velocityOf from the one that sounds now to the one wanted */
export function louder(
  { decisions, sounding }: Pick<Edited, 'decisions' | 'sounding'>,
  notes: readonly EventId[],
  velocityOf: (now: number) => number,
): PlainDirective[] {
  return notes.flatMap((note): PlainDirective[] => {
    const heard = sounding.get(note);
    if (!heard) return [];
    const { on, off } = decisions.played.get(note) ?? {};
    const velocity = Math.min(127, Math.max(1, Math.round(velocityOf(heard.velocity))));
    return [playedAs(note, on, off, velocity)];
  });
}

/**
 * The decisions that make notes sound earlier or later, shorter or longer, and
 * leave them where they are written.
 *
 * @param by milliseconds for their beginnings and their ends
 */
export function nudged(
  { result, decisions, sounding }: Edited,
  notes: readonly EventId[],
  by: { on: number; off: number },
): PlainDirective[] {
  const { clock } = result.frame;
  const moved = (tick: number, milliseconds: number) =>
    Math.max(0, Math.round(tickAt(clock, secondsAt(clock, tick) + milliseconds / 1000)));
  return notes.flatMap((note): PlainDirective[] => {
    const heard = sounding.get(note);
    if (!heard) return [];
    const on = moved(heard.on, by.on);
    const off = Math.max(on + 1, moved(heard.off, by.off));
    const written = findReading(result, note)?.written;
    const { velocity } = decisions.played.get(note) ?? {};
    return [
      ...(written && !written.grace
        ? [
            {
              kind: 'place' as const,
              note,
              start: textOfMoment(written.start),
              end: textOfMoment(written.end),
            },
          ]
        : []),
      playedAs(note, on, off, velocity),
    ];
  });
}

/** The decisions that make one note of each and the next on its key: one head tied on, one sound. */
export function joinedWithNext(edited: Edited, notes: readonly EventId[]): PlainDirective[] {
  const { result, decisions, sounding } = edited;
  const gone = new Set<EventId>();
  return notes.flatMap((note): PlainDirective[] => {
    const found = findReading(result, note);
    const heard = sounding.get(note);
    if (!found || !heard || gone.has(note)) return [];
    const next = nextOnKey([...new Set(found.reading.notes.values())], found.written);
    const then = next && sounding.get(next.id);
    if (!next || !then) return [];
    gone.add(next.id);
    const { on, velocity } = decisions.played.get(note) ?? {};
    return [
      {
        kind: 'place',
        note,
        start: textOfMoment(found.written.start),
        end: textOfMoment(next.end),
      },
      playedAs(note, on, Math.max(heard.off, then.off), velocity),
      ...next.sources.map((id): PlainDirective => ({ kind: 'drop', note: id, out: true })),
    ];
  });
}

/** The next note of the staff on a note's key. */
export function nextOnKey(
  notes: readonly SketchNote[],
  { key, start, staff }: SketchNote,
): SketchNote | undefined {
  return notes
    .filter((each) => each.key === key && each.staff === staff && each.start > start && !each.grace)
    .sort((a, b) => a.start - b.start)[0];
}

/** The decisions that strike each note again where it is tied: in two notes, written and heard. */
export function struckAgain(edited: Edited, notes: readonly EventId[]): PlainDirective[] {
  const { result, decisions, sounding } = edited;
  const known = new Set(decisions.added.keys());
  return notes.flatMap((note): PlainDirective[] => {
    const found = findReading(result, note);
    const heard = sounding.get(note);
    const cut = found && firstTie(result, found.part, note);
    if (!found || !heard || cut === undefined || cut === null) return [];
    const tick = Math.round(tickOfMoment(result.frame, cut));
    const { on, velocity } = decisions.played.get(note) ?? {};
    if (tick <= heard.on) return [];
    const second = addedNoteId(heard.strand, known);
    known.add(second);
    return [
      { kind: 'place', note, start: textOfMoment(found.written.start), end: textOfMoment(cut) },
      playedAs(note, on, tick, velocity),
      {
        kind: 'add',
        note: second,
        strand: heard.strand,
        on: tick,
        off: Math.max(heard.off, tick + 1),
        key: heard.key,
        velocity: heard.velocity,
      },
    ];
  });
}

/** Where the first head of a note is tied to the next. */
export function firstTie({ score, frame }: Transcription, part: number, note: EventId): Moment | null {
  for (const [index, { voices }] of score.parts[part]!.bars.entries())
    for (const { items } of voices)
      for (const item of items)
        if (item.kind === 'chord')
          for (const { sources, tieStart, tieStop } of item.notes)
            if (tieStart && !tieStop && sources.includes(note))
              return frame.bars[index]!.start + item.onset + item.duration;
  return null;
}

/**
 * The decisions that play some notes once more: in another strand, so many
 * ticks later, or both; what stands there before can make room for them.
 *
 * @param to the strand; its own for each note where absent
 * @param later ticks
 * @param instead notes of that strand that begin within what is put there are left out
 */
export function playedOnceMore(
  { decisions, sounding }: Pick<Edited, 'decisions' | 'sounding'>,
  notes: readonly EventId[],
  { to, later, instead }: { to?: StrandId; later: number; instead: boolean },
): PlainDirective[] {
  const known = new Set(decisions.added.keys());
  const heard = notes.flatMap((note) => sounding.get(note) ?? []);
  if (heard.length === 0) return [];
  const added = heard.flatMap(({ on, off, key, velocity, strand }): PlainDirective[] => {
    const home = to ?? strand;
    if (on + later < 0) return [];
    const note = addedNoteId(home, known);
    known.add(note);
    return [{ kind: 'add', note, strand: home, on: on + later, off: off + later, key, velocity }];
  });
  const from = Math.min(...heard.map(({ on }) => on)) + later;
  const until = Math.max(...heard.map(({ off }) => off)) + later;
  const homes = new Set(to ? [to] : heard.map(({ strand }) => strand));
  const copied = new Set(notes);
  const room = instead
    ? [...sounding].flatMap(([id, { on, strand }]): PlainDirective[] =>
        homes.has(strand) && on >= from && on < until && !(later === 0 && copied.has(id))
          ? [{ kind: 'drop', note: id, out: true }]
          : [],
      )
    : [];
  return [...room, ...added];
}
