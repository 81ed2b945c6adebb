import type { Decisions } from '../decisions/decisions';
import type { AddedNotes } from '../decisions/kinds/add';
import { type EventId, type StrandId, strandOf, wholeStrand } from '../model/ids';
import type { Performance, PlayedNote, Strand } from '../model/performance';
import type { Interval } from '../model/pitch';
import { withNotes } from './notes';
import type { Change, Refusal } from './step';

/** What was decided about single notes of a performance. */
export interface NoteEdits {
  pitches: ReadonlyMap<EventId, Interval>;
  dropped: ReadonlySet<EventId>;
  added: AddedNotes;
}

type Edited = Pick<Decisions, 'pitches' | 'dropped' | 'added'>;

/** The edits of one strand's notes; null where there are none. */
export function editsOf({ id }: Strand, { pitches, dropped, added }: Edited): NoteEdits | null {
  const root = wholeStrand(id);
  const isOwn = (note: EventId) => strandOf(note) === root;
  const own: NoteEdits = {
    pitches: new Map([...pitches].filter(([note]) => isOwn(note))),
    dropped: new Set([...dropped].filter(isOwn)),
    added: new Map([...added].filter(([, { strand }]) => strand === id)),
  };
  return own.pitches.size + own.dropped.size + own.added.size > 0 ? own : null;
}

/** Adds single notes, moves single ones to other keys, and leaves single ones out; what MIDI has no key for (0–127) stays. */
export function editNotes(
  strand: Strand,
  { pitches, dropped, added }: NoteEdits,
  clock: Performance['clock'],
): { strand: Strand | null; changes: Change[]; removed: number; added: number } {
  let moved = 0;
  const more = [...added].map(
    ([id, { on, off, key, velocity }]): PlayedNote => ({ id, on, off, key, velocity }),
  );
  const before = [...strand.notes, ...more].sort((a, b) => a.on - b.on || a.key - b.key);
  const all = more.length === 0 ? strand.notes : before;
  const notes = all.flatMap((note): PlayedNote[] => {
    if (dropped.has(note.id)) return [];
    const key = note.key + (pitches.get(note.id)?.chromatic ?? 0);
    if (key === note.key || !isKey(key)) return [note];
    moved++;
    return [{ ...note, key }];
  });
  const out = all.length - notes.length;
  if (moved + out + more.length === 0) return { strand, changes: [], removed: 0, added: 0 };
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
      ...(more.length > 0 ? [change('add', 'notes', strand.notes.length, all.length)] : []),
      ...(out > 0 ? [change('drop', 'notes', all.length, notes.length)] : []),
    ],
    removed: out,
    added: more.length,
  };
}

const isKey = (key: number): boolean => key >= 0 && key <= 127;

/** What was decided about single notes and cannot be done. @param present the strands that there are, as they are split */
export function uneditable(
  strands: readonly Strand[],
  { pitches, dropped, added }: Edited,
  present: ReadonlySet<StrandId>,
): Refusal[] {
  if (pitches.size + dropped.size + added.size === 0) return [];
  const keys = new Map(strands.flatMap(({ notes }) => notes.map(({ id, key }) => [id, key] as const)));
  for (const [id, { key }] of added) keys.set(id, key);
  const homeless = [...added.values()].filter(({ strand }) => !present.has(strand)).length;
  const lost = [...pitches.keys(), ...dropped].filter((note) => !keys.has(note)).length;
  const beyond = [...pitches].filter(([note, { chromatic }]) => {
    const key = keys.get(note);
    return key !== undefined && !isKey(key + chromatic);
  }).length;
  return [
    ...(homeless > 0
      ? [
          {
            step: 'add',
            why: `${homeless === 1 ? 'A note that was added waits: its strand is' : `${homeless} notes that were added wait: their strands are`} not there.`,
          },
        ]
      : []),
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
