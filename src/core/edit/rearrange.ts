import type { PlainDirective } from '../decisions/kinds';
import { findReading } from '../explain/explain';
import { type Frame, frameEnd } from '../model/frame';
import type { EventId } from '../model/ids';
import { beatsOf } from '../model/meter';
import { barIndexOf } from '../model/score';
import type { SketchNote } from '../model/sketch';
import { type Moment, QUARTER, textOfMoment } from '../model/time';
import type { PartReading, Transcription } from '../transcribe';

/** What can be done with the rhythm of chosen notes. */
export const ARRANGEMENTS = [
  'earlier',
  'later',
  'shorter',
  'longer',
  'to-next',
  'to-beat',
  'as-played',
  'as-found',
  'like-part',
] as const;
export type Arrangement = (typeof ARRANGEMENTS)[number];

/** Attacks of the other part this near are the ones to follow. */
const NEAR = QUARTER / 2;

/**
 * The decisions that an arrangement of notes comes to: one `place` a note.
 *
 * - `earlier`, `later`: by one slot of the beat's division, at least a 16th
 * - `shorter`, `longer`: ends one such slot earlier or later
 * - `to-next`: lasts to the next attack of its staff
 * - `to-beat`: lasts to the end of the beat in which it was let go
 * - `as-played`: ends on the 16th nearest to its release
 * - `as-found`: no decision
 * - `like-part`: begins and ends as the nearest attack of part `like`
 */
export function rearrange(
  result: Transcription,
  notes: readonly EventId[],
  arrangement: Arrangement,
  like?: number,
): PlainDirective[] {
  return notes.flatMap((note): PlainDirective[] => {
    if (arrangement === 'as-found') return [{ kind: 'place', note, start: null, end: null }];
    const found = findReading(result, note);
    if (!found) return [];
    const { reading, written, attack } = found;
    const place = (start: Moment, end: Moment | null): PlainDirective => ({
      kind: 'place',
      note,
      start: textOfMoment(start),
      end: end === null ? null : textOfMoment(end),
    });
    const { frame } = result;
    switch (arrangement) {
      case 'earlier':
      case 'later': {
        const step = QUARTER / Math.max(4, attack.division);
        const moved = written.start + (arrangement === 'later' ? step : -step);
        const start = Math.min(Math.max(0, moved), frameEnd(frame) - step);
        return [place(start, null)];
      }
      case 'shorter':
      case 'longer': {
        const step = QUARTER / Math.max(4, attack.division);
        const end = written.end + (arrangement === 'longer' ? step : -step);
        return [place(written.start, Math.min(Math.max(end, written.start + step), frameEnd(frame)))];
      }
      case 'to-next':
        return [place(written.start, nextAttack(reading, written) ?? frameEnd(frame))];
      case 'to-beat':
        return [place(written.start, beatAfter(frame, written))];
      case 'as-played': {
        const sixteenth = QUARTER / 4;
        const end = Math.round(written.until / sixteenth) * sixteenth;
        return [place(written.start, Math.max(end, written.start + sixteenth))];
      }
      case 'like-part': {
        const model = like === undefined ? undefined : nearestNote(result.readings[like], written.start);
        return model ? [place(model.start, model.end)] : [];
      }
      default:
        return [];
    }
  });
}

function nextAttack(reading: PartReading, note: SketchNote): Moment | null {
  let next: Moment | null = null;
  for (const other of reading.notes.values())
    if (other.staff === note.staff && other.start > note.start && (next === null || other.start < next))
      next = other.start;
  return next;
}

function beatAfter(frame: Frame, note: SketchNote): Moment {
  const release = Math.max(note.until, note.start + 1);
  const bar = frame.bars[barIndexOf(frame.bars, release)]!;
  const zero = bar.start - bar.missing;
  const end = beatsOf(bar)
    .map((beat) => zero + beat.start + beat.length)
    .find((each) => each >= release - QUARTER / 8);
  return Math.min(end ?? bar.start + bar.length, frameEnd(frame));
}

function nearestNote(reading: PartReading | undefined, start: Moment): SketchNote | null {
  let best: SketchNote | null = null;
  for (const note of reading?.notes.values() ?? [])
    if (
      !note.grace &&
      Math.abs(note.start - start) < Math.abs((best?.start ?? Number.POSITIVE_INFINITY) - start)
    )
      best = note;
  return best && Math.abs(best.start - start) <= NEAR ? best : null;
}
