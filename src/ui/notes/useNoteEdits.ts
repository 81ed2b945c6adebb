import { type KeyboardEvent, useRef } from 'react';
import type { PlainDirective } from '../../core/decisions/kinds';
import {
  after,
  bySemitones,
  intervalOf,
  type PitchEdit,
  toLetter,
  toLetterAbove,
} from '../../core/edit/pitches';
import type { Arrangement } from '../../core/edit/rearrange';
import { addedNoteId, type EventId, type StrandId } from '../../core/model/ids';
import { type Interval, movedBy, type Pitch, STEPS, type Step } from '../../core/model/pitch';
import { isSpanning, isWorded, type Sign } from '../../core/model/signs';
import type { NoteOrigin } from '../../core/workbench/replies';
import { useSession } from '../job/session';

/** What can be done to chosen notes on the page. */
export type NoteEdit =
  | PitchEdit
  | 'as-it-came'
  | 'leave-out'
  /** The same notes again where they end. */
  | 'again'
  | 'join'
  | 'strike-again'
  /** To the nearest note of a letter, or of a letter and its accidental. */
  | { letter: Step; alter?: number }
  /** A note of a letter above each, at the same time. */
  | { above: Step }
  /** The same notes in another strand, or so many ticks later; what stands there can make room. */
  | { copy: { to?: StrandId; later: number; instead: boolean } }
  /** By semitones, spelled as the key has it. */
  | { semitones: number }
  | { arrangement: Arrangement; both: boolean }
  /** What sounds alone, by milliseconds at its beginning and its end. */
  | { nudge: { on: number; off: number } }
  | { velocity: { to?: number; by?: number } }
  | { voice: 1 | 2 | null }
  | { staff: 1 | 2 | null }
  /** Puts a sign at each, or from the first to the last of a part; takes it off; null as found. */
  | { sign: Sign; put: boolean | null; text?: string };

const UNMOVED: Interval = { diatonic: 0, chromatic: 0 };
/** Keys of MIDI. */
const LAST_KEY = 127;

/**
 * Does something to notes, as one step of decisions.
 *
 * @param notes that are chosen
 * @param known what is known of them so far; none as long as the worker has not answered
 */
export function useNoteEdits(
  notes: readonly EventId[],
  known: readonly NoteOrigin[],
): (edit: NoteEdit) => void {
  const { core, take, amend, decisions, stock, summary, whenWritten } = useSession(
    'core',
    'take',
    'amend',
    'decisions',
    'stock',
    'summary',
    'whenWritten',
  );
  /** Edits that are worked out from the score as it stands wait for each other. */
  const queue = useRef(Promise.resolve());
  const isScore = stock.kind === 'score';

  const inTurn = (work: () => Promise<unknown>) => {
    // The page says by itself that the score could not be written.
    queue.current = queue.current.then(work).then(
      () => {},
      () => {},
    );
  };
  const workOut = (request: object) =>
    inTurn(async () =>
      take(...(await core.editNotes((await whenWritten()).revision, { notes, ...request }))),
    );

  /** The written pitch with all that was decided since the score was written, and how far it was moved in all. */
  const standing = ({ id, written, moved }: NoteOrigin) => {
    const now = decisions.pitches.get(id) ?? UNMOVED;
    const since = { diatonic: now.diatonic - moved.diatonic, chromatic: now.chromatic - moved.chromatic };
    return written && { now, since, pitch: movedBy(written.pitch, since), fifths: written.fifths };
  };

  const move = (origins: readonly NoteOrigin[], by: (pitch: Pitch, fifths: number) => Interval | null) =>
    take(
      ...origins.flatMap((origin): PlainDirective[] => {
        const stands = standing(origin);
        if (!stands) return [];
        const interval = by(stands.pitch, stands.fifths);
        const to = interval ? after(stands.now, interval) : UNMOVED;
        return [{ kind: 'pitch', note: origin.id, steps: to.diatonic, semitones: to.chromatic }];
      }),
    );

  const chromatically = (origins: readonly NoteOrigin[], semitones: number) =>
    take(
      ...origins.flatMap((origin): PlainDirective[] => {
        const now = decisions.pitches.get(origin.id) ?? UNMOVED;
        const chromatic = now.chromatic + semitones;
        const key = origin.key - origin.moved.chromatic + chromatic;
        if (key < 0 || key > LAST_KEY) return [];
        const stands = standing(origin);
        // What is not on paper has no letter to keep.
        const steps = stands
          ? bySemitones(semitones, stands.pitch, stands.fifths).diatonic
          : Math.round((7 * semitones) / 12);
        return [{ kind: 'pitch', note: origin.id, steps: now.diatonic + steps, semitones: chromatic }];
      }),
    );

  const addAbove = (origins: readonly NoteOrigin[], letter: Step) =>
    amend(({ added, writtenNotes }): PlainDirective[] => {
      const known = new Set(isScore ? writtenNotes.keys() : added.keys());
      return origins.flatMap((origin): PlainDirective[] => {
        const stands = standing(origin);
        if (!stands) return [];
        const by = toLetterAbove(letter, stands.pitch, stands.fifths).chromatic;
        const key = origin.key + stands.since.chromatic + by;
        if (key > LAST_KEY) return [];
        const note = addedNoteId(origin.strandId, known);
        known.add(note);
        const { strandId: strand, on, off, velocity, place, line: home } = origin;
        if (isScore)
          return place
            ? [{ kind: 'write', note, strand, ...place, key, ...(home && { staff: home.staff }) }]
            : [];
        return [{ kind: 'add', note, strand, on, off, key, velocity }];
      });
    });

  const line = (change: { voice: 1 | 2 | null } | { staff: 1 | 2 | null }) =>
    take(
      ...notes.map(
        (note): PlainDirective => ({ kind: 'line', note, ...decisions.lines.get(note), ...change }),
      ),
    );

  /** Parts of the chosen notes, each with its own in the order of the page. */
  const byPart = (origins: readonly NoteOrigin[]): NoteOrigin[][] => {
    const groups = new Map<unknown, NoteOrigin[]>();
    for (const origin of origins) {
      const part = summary?.parts.find(({ strands }) => strands.includes(origin.strandId));
      groups.set(part, [...(groups.get(part) ?? []), origin]);
    }
    const placeOf = ({ span, on }: NoteOrigin) => span?.from ?? on;
    return [...groups.values()].map((own) =>
      own.toSorted((a, b) => placeOf(a) - placeOf(b) || b.key - a.key),
    );
  };

  const putSign = (
    origins: readonly NoteOrigin[],
    { sign, put, text }: { sign: Sign; put: boolean | null; text?: string },
  ) => {
    const said = (note: EventId, more: { until?: EventId; text?: string } = {}): PlainDirective => ({
      kind: 'sign',
      note,
      sign,
      put,
      ...more,
    });
    if (!put) return take(...notes.map((note) => said(note)));
    if (isWorded(sign))
      return take(...byPart(origins).map((own) => said(own[0]!.id, text === undefined ? {} : { text })));
    if (isSpanning(sign))
      return take(
        ...byPart(origins).flatMap((own) =>
          own.length > 1 ? [said(own[0]!.id, { until: own.at(-1)!.id })] : [],
        ),
      );
    return take(...notes.map((note) => said(note)));
  };

  const apply = (edit: NoteEdit, origins: readonly NoteOrigin[]): unknown => {
    if (typeof edit === 'string') {
      switch (edit) {
        case 'leave-out':
          take(...notes.map((note): PlainDirective => ({ kind: 'drop', note, out: true })));
          return;
        case 'again': {
          const spans = origins.flatMap(({ span }) => span ?? []);
          const later = Math.max(...spans.map(({ to }) => to)) - Math.min(...spans.map(({ from }) => from));
          if (spans.length > 0) workOut({ edit: 'copy', later });
          return;
        }
        case 'join':
        case 'strike-again':
          workOut({ edit });
          return;
        case 'as-it-came':
          return move(origins, () => null);
        default:
          return move(origins, (pitch, fifths) => intervalOf(edit, pitch, fifths));
      }
    }
    if ('letter' in edit) {
      const { letter, alter } = edit;
      return move(origins, (pitch, fifths) => toLetter(letter, pitch, fifths, alter));
    }
    if ('semitones' in edit) return chromatically(origins, edit.semitones);
    if ('above' in edit) return addAbove(origins, edit.above);
    if ('sign' in edit) return putSign(origins, edit);
    if ('voice' in edit) return line({ voice: edit.voice });
    if ('staff' in edit) return line({ staff: edit.staff });
    if ('copy' in edit) {
      const { to, later, instead } = edit.copy;
      return workOut({ edit: 'copy', ...(to && { strand: to }), later, instead });
    }
    if ('arrangement' in edit) return workOut({ edit: 'arrange', ...edit });
    // How loud a note of a score is and when it sounds follows from what is written.
    if (isScore) return;
    if ('nudge' in edit) return workOut({ edit: 'nudge', ...edit.nudge });
    const { to, by } = edit.velocity;
    workOut({ edit: 'velocity', ...(to !== undefined && { velocity: to }), ...(by !== undefined && { by }) });
  };

  return (edit) => {
    if (notes.length === 0) return;
    if (known.length > 0) return apply(edit, known);
    // A quick hand: what is known of the notes is on its way.
    inTurn(async () => apply(edit, await core.origins((await whenWritten()).revision, { notes })));
  };
}

/** What a key does to the chosen notes; undefined for keys that do nothing to them. */
export function editOf({ key, shiftKey, altKey, ctrlKey, metaKey }: KeyboardEvent): NoteEdit | undefined {
  if (ctrlKey || metaKey) {
    if (key !== 'ArrowLeft' && key !== 'ArrowRight') return undefined;
    const goes = key === 'ArrowRight';
    const arrangement = shiftKey ? (goes ? 'longer' : 'shorter') : goes ? 'later' : 'earlier';
    return { arrangement, both: true };
  }
  if (key === 'Delete' || key === 'Backspace') return 'leave-out';
  if (key === 'Insert') return 'again';
  const letter = STEPS.find((step) => step === key.toUpperCase());
  if (letter && key.length === 1 && !altKey) return shiftKey ? { above: letter } : { letter };
  if (key !== 'ArrowUp' && key !== 'ArrowDown') return undefined;
  const isUp = key === 'ArrowUp';
  if (altKey) return isUp ? 'octave-up' : 'octave-down';
  if (shiftKey) return isUp ? 'raise' : 'lower';
  return isUp ? 'step-up' : 'step-down';
}
