import type { Desk } from '../clean/desk';
import { positionAt, secondsAt } from '../model/clock';
import { type EventId, spelledStrand, strandOf, wholeStrand } from '../model/ids';
import type { NoteOrigin } from './replies';

/** Where a note comes from, by its event; null for one that is not there. */
export function originOf({ performance }: Desk, id: EventId): NoteOrigin | null {
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
  };
}
