import type { Decisions } from '../decisions/decisions';
import type { AddedNotes } from '../decisions/kinds/add';
import type { PlayedChoice, PlayedNotes } from '../decisions/kinds/played';
import { barAt, type Clock, LONGEST_HELD, MOST_BARS } from '../model/clock';
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
  played: PlayedNotes;
}

type Edited = Pick<Decisions, keyof NoteEdits>;
/** What else is decided about single notes. */
type Noted = Pick<Decisions, 'signs' | 'lines'>;

/** The edits of one strand's notes; null where there are none. */
export function editsOf({ id }: Strand, { pitches, dropped, added, played }: Edited): NoteEdits | null {
  const root = wholeStrand(id);
  const isOwn = (note: EventId) => strandOf(note) === root;
  const own: NoteEdits = {
    pitches: new Map([...pitches].filter(([note]) => isOwn(note))),
    dropped: new Set([...dropped].filter(isOwn)),
    added: new Map([...added].filter(([, { strand }]) => strand === id)),
    played: new Map([...played].filter(([note]) => isOwn(note))),
  };
  return own.pitches.size + own.dropped.size + own.added.size + own.played.size > 0 ? own : null;
}

/** Adds single notes, moves single ones to other keys, times and velocities, and leaves single ones out; what MIDI has no key for (0–127) stays. */
export function editNotes(
  strand: Strand,
  { pitches, dropped, added, played }: NoteEdits,
  clock: Performance['clock'],
): { strand: Strand | null; changes: Change[]; gone: readonly PlayedNote[]; added: number } {
  let moved = 0;
  let shaped = 0;
  const more = [...added].flatMap(([id, { on, off, key, velocity }]): PlayedNote[] =>
    isInPiece(on, off, clock) ? [{ id, on, off, key, velocity }] : [],
  );
  const all = more.length === 0 ? strand.notes : inOrder([...strand.notes, ...more]);
  let notes = all.flatMap((came): PlayedNote[] => {
    if (dropped.has(came.id)) return [];
    const note = asPlayed(came, played.get(came.id), clock);
    if (note !== came) shaped++;
    const key = note.key + (pitches.get(note.id)?.chromatic ?? 0);
    if (key === note.key || !isKey(key)) return [note];
    moved++;
    return [{ ...note, key }];
  });
  const gone = all.filter(({ id }) => dropped.has(id));
  const out = gone.length;
  if (shaped > 0) notes = inOrder(notes);
  if (moved + shaped + out + more.length === 0) return { strand, changes: [], gone, added: 0 };
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
      ...(shaped > 0 ? [change('played', 'notes at other times or velocities', 0, shaped)] : []),
      ...(more.length > 0 ? [change('add', 'notes', strand.notes.length, all.length)] : []),
      ...(out > 0 ? [change('drop', 'notes', all.length, notes.length)] : []),
    ],
    gone,
    added: more.length,
  };
}

const inOrder = (notes: readonly PlayedNote[]): PlayedNote[] =>
  notes.toSorted((a, b) => a.on - b.on || a.key - b.key);

/** A note as it is to sound; it lasts a tick at least, whatever is said of one of its ends alone. */
function asPlayed(note: PlayedNote, choice: PlayedChoice | undefined, clock: Clock): PlayedNote {
  if (!choice) return note;
  const on = choice.on ?? note.on;
  const off = Math.max(choice.off ?? note.off, on + 1);
  const velocity = choice.velocity ?? note.velocity;
  if (!isInPiece(on, off, clock)) return note;
  return on === note.on && off === note.off && velocity === note.velocity
    ? note
    : { ...note, on, off, velocity };
}

/** Whether a note stands in bars that a piece may have, and ends in time. */
function isInPiece(on: number, off: number, clock: Clock): boolean {
  const bar = barAt(clock, on).index;
  return bar < MOST_BARS && barAt(clock, off).index - bar <= LONGEST_HELD;
}

const isKey = (key: number): boolean => key >= 0 && key <= 127;

/** What was decided about single notes and cannot be done. @param present the strands that there are, as they are split */
export function uneditable(
  strands: readonly Strand[],
  { pitches, dropped, added, played, signs, lines }: Edited & Noted,
  present: ReadonlySet<StrandId>,
  clock: Clock,
): Refusal[] {
  const edited = new Set(
    [pitches, played, signs, lines].flatMap((each) => [...each.keys()]).concat(...dropped),
  );
  if (edited.size + added.size === 0) return [];
  const homes = new Set([...edited].map(strandOf));
  const keys = new Map(
    strands.flatMap(({ id, notes }) =>
      homes.has(wholeStrand(id)) ? notes.map((note) => [note.id, note.key] as const) : [],
    ),
  );
  for (const [id, { key }] of added) keys.set(id, key);
  const homeless = [...added.values()].filter(({ strand }) => !present.has(strand)).length;
  const lost = [...edited].filter((note) => !keys.has(note)).length;
  const far = [...played.values(), ...added.values()].filter(
    ({ on = 0, off = on + 1 }) => !isInPiece(on, off, clock),
  ).length;
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
    ...(far > 0
      ? [
          {
            step: 'played',
            why: `${far === 1 ? 'A note is' : `${far} notes are`} asked for past bar ${MOST_BARS.toLocaleString('en')}, or for more than ${LONGEST_HELD} bars: no piece goes on for so long.`,
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
