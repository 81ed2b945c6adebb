import { instrumentOf } from '../instruments/catalogue';
import { positionAt, secondsAt } from '../model/clock';
import { tickOfMoment } from '../model/frame';
import { type EventId, noteIdOf, spelledStrand } from '../model/ids';
import type { PlayedNote, Strand } from '../model/performance';
import {
  type Chord,
  clefAt,
  type Note,
  type Part,
  type Score,
  type VoiceLine,
  writtenKeys,
} from '../model/score';
import type { Sign } from '../model/signs';
import { textOfMoment } from '../model/time';
import type { Told, Transcription } from '../transcribe';
import { harmonyAt } from './harmony';
import type { NoteOrigin } from './replies';
import type { Written } from './workbench';

/** Where notes come from and how they are written, by their events; what is not there is left out. */
export function originsOf(
  { desk, transcription }: Written,
  ids: readonly EventId[],
  told: Told | null,
): NoteOrigin[] {
  const wanted = new Set(ids);
  const { performance, written, decisions } = desk;
  const found = new Map<EventId, { note: PlayedNote; strand: Strand }>();
  for (const strand of performance.strands)
    for (const note of strand.notes) if (wanted.has(note.id)) found.set(note.id, { note, strand });
  const writings = written ? writtenAs(transcription.score, wanted) : readAs(transcription.score, wanted);
  const { clock } = performance;
  return ids.flatMap((id): NoteOrigin[] => {
    const own = found.get(id);
    if (!own) return [];
    const { note, strand } = own;
    const at = positionAt(clock, note.on);
    return [
      {
        id,
        strandId: strand.id,
        strand: strand.name || spelledStrand(strand.id),
        track: strand.track + 1,
        channel: strand.channel + 1,
        key: note.key,
        velocity: note.velocity,
        on: note.on,
        off: note.off,
        bar: at.bar,
        beat: at.beat,
        offset: Math.round(at.offset),
        seconds: secondsAt(clock, note.on),
        milliseconds: 1000 * (secondsAt(clock, note.off) - secondsAt(clock, note.on)),
        moved: decisions.pitches.get(id) ?? { diatonic: 0, chromatic: 0 },
        ...writings.get(id),
        ...spanOf(transcription, id, told),
      },
    ];
  });
}

/** From where to where it is written, and what harmony it stands in where that is to be told. */
function spanOf(
  result: Transcription,
  id: EventId,
  told: Told | null,
): Pick<NoteOrigin, 'span' | 'place' | 'harmony'> {
  const { readings, frame, score } = result;
  const part = readings.findIndex(({ notes }) => notes.has(id));
  const note = readings[part]?.notes.get(id);
  if (!note) return {};
  const [from, to] = [note.start, note.end].map((moment) => Math.round(tickOfMoment(frame, moment)));
  return {
    span: { from: from!, to: to! },
    place: { start: textOfMoment(note.start), end: textOfMoment(note.end) },
    ...(told && { harmony: harmonyAt(result, told, note.start, score.parts[part]!.transposition) }),
  };
}

type Writing = Pick<NoteOrigin, 'written' | 'signs' | 'line'>;

/** How the notes of events are written in the score of a performance; drums have places and no pitches. */
function readAs(score: Score, wanted: ReadonlySet<EventId>): Map<EventId, Writing> {
  const out = new Map<EventId, Writing>();
  for (const part of score.parts)
    eachHead(score, part, (note, place) => {
      for (const source of note.sources)
        if (wanted.has(source) && !out.has(source)) out.set(source, writingOf(part, note, place));
    });
  return out;
}

/** How the notes of events are written in a score that was read. */
function writtenAs(score: Score, wanted: ReadonlySet<EventId>): Map<EventId, Writing> {
  const names = new Map([...wanted].map((id) => [noteIdOf(id), id]));
  const out = new Map<EventId, Writing>();
  for (const part of score.parts)
    eachHead(score, part, (note, place) => {
      const id = names.get(note.id);
      if (id && !out.has(id)) out.set(id, writingOf(part, note, place));
    });
  return out;
}

interface Place {
  bar: number;
  chord: Chord;
  line: VoiceLine;
  fifths: number;
}

function eachHead(score: Score, part: Part, take: (note: Note, place: Place) => void): void {
  const keys = writtenKeys(score, part);
  for (const [bar, { voices }] of part.bars.entries())
    for (const line of voices)
      for (const chord of line.items) {
        if (chord.kind === 'rest') continue;
        const key = keys.findLast((each) => each.bar < bar || (each.bar === bar && each.at <= chord.onset));
        const place = { bar, chord, line, fifths: key?.fifths ?? 0 };
        for (const note of [...(chord.graces ?? []), ...chord.notes, ...(chord.gracesAfter ?? [])])
          take(note, place);
      }
}

function writingOf(part: Part, note: Note, place: Place): Writing {
  const { line, fifths } = place;
  const { pitch, string, fret } = note;
  const stop = string !== undefined && fret !== undefined ? { stop: { string, fret } } : {};
  return {
    ...(!instrumentOf(part.instrument).unpitched && { written: { pitch, fifths, ...stop } }),
    signs: signsAt(part, note, place),
    line: {
      voice: line.voice,
      staff: line.staff,
      clef: clefAt(part, line.staff, place.bar, place.chord.onset),
      staves: part.clefs.filter((clef) => clef !== 'tab').length,
    },
  };
}

/** The signs that stand at a note or its chord. */
function signsAt({ bars, spanners = [] }: Part, note: Note, { bar, chord, line }: Place): Sign[] {
  const heads = new Set(chord.notes.map(({ id }) => id));
  return [
    ...(chord.marks ?? []).flatMap((mark): Sign[] =>
      mark.kind === 'tremolo' ? [] : [('name' in mark ? mark.name : mark.kind) as Sign],
    ),
    ...((chord.lyrics ?? []).length > 0 ? (['lyric'] as const) : []),
    ...(note.accidental ? (['accidental'] as const) : []),
    ...(note.ringsOn ? (['ring'] as const) : []),
    ...(note.ghost ? (['ghost'] as const) : []),
    ...(bars[bar]?.marks ?? []).flatMap(({ kind, at, staff = 1 }): Sign[] =>
      (kind === 'dynamic' || kind === 'words') && at === chord.onset && staff === line.staff ? [kind] : [],
    ),
    ...spanners.flatMap((spanner): Sign[] => {
      const { kind, from } = spanner;
      if ('note' in from)
        return (kind === 'slur' || kind === 'glissando' || kind === 'slide') && heads.has(from.note)
          ? [kind]
          : [];
      const isHere = from.bar === bar && from.at === chord.onset && (from.staff ?? 1) === line.staff;
      return kind === 'wedge' && isHere ? [spanner.opens ? 'crescendo' : 'diminuendo'] : [];
    }),
  ];
}
