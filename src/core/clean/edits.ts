import type { Decisions } from '../decisions/decisions';
import { type EventId, strandOf, wholeStrand } from '../model/ids';
import type { Performance, PlayedNote, Strand } from '../model/performance';
import type { Interval } from '../model/pitch';
import { withNotes } from './notes';
import type { Change, Refusal } from './step';

/** What was decided about single notes of a performance. */
export interface NoteEdits {
  pitches: ReadonlyMap<EventId, Interval>;
  dropped: ReadonlySet<EventId>;
}

/** The edits of one strand's notes; null where there are none. */
export function editsOf(
  { id }: Strand,
  { pitches, dropped }: Pick<Decisions, 'pitches' | 'dropped'>,
): NoteEdits | null {
  const root = wholeStrand(id);
  const isOwn = (note: EventId) => strandOf(note) === root;
  const own: NoteEdits = {
    pitches: new Map([...pitches].filter(([note]) => isOwn(note))),
    dropped: new Set([...dropped].filter(isOwn)),
  };
  return own.pitches.size + own.dropped.size > 0 ? own : null;
}

/** Moves single notes to other keys, and leaves single ones out; what MIDI has no key for (0–127) stays. */
export function editNotes(
  strand: Strand,
  { pitches, dropped }: NoteEdits,
  clock: Performance['clock'],
): { strand: Strand | null; changes: Change[] } {
  let moved = 0;
  const notes = strand.notes.flatMap((note): PlayedNote[] => {
    if (dropped.has(note.id)) return [];
    const key = note.key + (pitches.get(note.id)?.chromatic ?? 0);
    if (key === note.key || !isKey(key)) return [note];
    moved++;
    return [{ ...note, key }];
  });
  const out = strand.notes.length - notes.length;
  if (moved + out === 0) return { strand, changes: [] };
  const change = (step: string, what: string, before: number, after: number): Change => ({
    strand: strand.id,
    step,
    what,
    before,
    after,
  });
  return {
    strand: withNotes(strand, notes, clock),
    changes: [
      ...(moved > 0 ? [change('pitch', 'notes on another key', 0, moved)] : []),
      ...(out > 0 ? [change('drop', 'notes', strand.notes.length, notes.length)] : []),
    ],
  };
}

const isKey = (key: number): boolean => key >= 0 && key <= 127;

/** What was decided about single notes and cannot be done. */
export function uneditable(
  strands: readonly Strand[],
  { pitches, dropped }: Pick<Decisions, 'pitches' | 'dropped'>,
): Refusal[] {
  if (pitches.size + dropped.size === 0) return [];
  const keys = new Map(strands.flatMap(({ notes }) => notes.map(({ id, key }) => [id, key] as const)));
  const lost = [...pitches.keys(), ...dropped].filter((note) => !keys.has(note)).length;
  const beyond = [...pitches].filter(([note, { chromatic }]) => {
    const key = keys.get(note);
    return key !== undefined && !isKey(key + chromatic);
  }).length;
  return [
    ...(lost > 0
      ? [
          {
            step: 'note',
            why: `What was decided about ${lost === 1 ? 'a note waits: it is' : `${lost} notes waits: they are`} not in this source.`,
          },
        ]
      : []),
    ...(beyond > 0
      ? [
          {
            step: 'pitch',
            why: `${beyond === 1 ? 'A note stays where it is' : `${beyond} notes stay where they are`}: there are no such keys in MIDI.`,
          },
        ]
      : []),
  ];
}
