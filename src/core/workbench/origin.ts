import { instrumentOf } from '../instruments/catalogue';
import { positionAt, secondsAt } from '../model/clock';
import { tickOfMoment } from '../model/frame';
import { type EventId, noteIdOf, partId, spelledStrand, strandOf, wholeStrand } from '../model/ids';
import { type Score, writtenKeys } from '../model/score';
import type { Transcription } from '../transcribe';
import type { NoteOrigin } from './replies';
import type { Written } from './workbench';

/** Where a note comes from and how it is written, by its event; null for one that is not there. */
export function originOf({ desk, transcription }: Written, id: EventId): NoteOrigin | null {
  const { performance, written } = desk;
  const { clock, strands } = performance;
  const own = strands.filter((each) => wholeStrand(each.id) === strandOf(id));
  const strand = own.find((each) => each.notes.some((note) => note.id === id));
  const note = strand?.notes.find((each) => each.id === id);
  if (!strand || !note) return null;
  const at = positionAt(clock, note.on);
  return {
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
    moved: desk.decisions.pitches.get(id) ?? { diatonic: 0, chromatic: 0 },
    ...(written ? writtenAs(written.score, id) : readAs(transcription.score, id)),
    ...spanOf(transcription, id),
  };
}

/** From where to where it is written. */
function spanOf({ readings, frame }: Transcription, id: EventId): Pick<NoteOrigin, 'span'> {
  const note = readings.map(({ notes }) => notes.get(id)).find((each) => each !== undefined);
  if (!note) return {};
  const [from, to] = [note.start, note.end].map((moment) => Math.round(tickOfMoment(frame, moment)));
  return { span: { from: from!, to: to! } };
}

/** How the note of an event is written in the score of a performance; drums have places and no pitches. */
function readAs(score: Score, id: EventId): Pick<NoteOrigin, 'written'> {
  for (const part of score.parts) {
    if (instrumentOf(part.instrument).unpitched) continue;
    for (const [bar, { voices }] of part.bars.entries())
      for (const { items } of voices)
        for (const item of items) {
          const note =
            item.kind === 'chord'
              ? [...(item.graces ?? []), ...item.notes].find(({ sources }) => sources.includes(id))
              : undefined;
          if (!note) continue;
          const key = writtenKeys(score, part).findLast(
            (each) => each.bar < bar || (each.bar === bar && each.at <= item.onset),
          );
          const { pitch, string, fret } = note;
          const stop = string !== undefined && fret !== undefined ? { stop: { string, fret } } : {};
          return { written: { pitch, fifths: key?.fifths ?? 0, ...stop } };
        }
  }
  return {};
}

/** How the note of an event is written in a score that was read. */
function writtenAs(score: Score, id: EventId): Pick<NoteOrigin, 'written'> {
  const part = score.parts.find((each) => each.id === partId(strandOf(id)));
  if (!part || instrumentOf(part.instrument).unpitched) return {};
  const name = noteIdOf(id);
  const keys = writtenKeys(score, part);
  for (const [bar, { voices }] of part.bars.entries())
    for (const { items } of voices)
      for (const item of items)
        if (item.kind === 'chord')
          for (const { id: own, pitch } of [
            ...(item.graces ?? []),
            ...item.notes,
            ...(item.gracesAfter ?? []),
          ])
            if (own === name) {
              const key = keys.findLast(
                (each) => each.bar < bar || (each.bar === bar && each.at <= item.onset),
              );
              return { written: { pitch, fifths: key?.fifths ?? 0 } };
            }
  return {};
}
