import type { KeyboardEvent } from 'react';
import { after, intervalOf, type PitchEdit } from '../../core/edit/pitches';
import { type Interval, movedBy } from '../../core/model/pitch';
import type { NoteOrigin } from '../../core/workbench/replies';
import { useSession } from '../job/session';

/** What can be done to one note on the page. */
export type NoteEdit = PitchEdit | 'as-it-came' | 'leave-out';

const UNMOVED: Interval = { diatonic: 0, chromatic: 0 };

/** Does something to a note, as a decision. */
export function useNoteEdits(origin: NoteOrigin | null): (edit: NoteEdit) => void {
  const { take, decisions, stock } = useSession('take', 'decisions', 'stock');
  return (edit) => {
    if (!origin) return;
    const { id: note, written, moved } = origin;
    if (edit === 'leave-out') {
      if (stock.kind !== 'musicxml') take({ kind: 'drop', note, out: true });
      return;
    }
    if (!written) return;
    const now = decisions.pitches.get(note) ?? UNMOVED;
    // What was decided since the score was written counts already.
    const since = { diatonic: now.diatonic - moved.diatonic, chromatic: now.chromatic - moved.chromatic };
    const to =
      edit === 'as-it-came'
        ? UNMOVED
        : after(now, intervalOf(edit, movedBy(written.pitch, since), written.fifths));
    take({ kind: 'pitch', note, steps: to.diatonic, semitones: to.chromatic });
  };
}

/** What a key does to the chosen note; undefined for keys that do nothing to it. */
export function editOf({ key, shiftKey, altKey, ctrlKey, metaKey }: KeyboardEvent): NoteEdit | undefined {
  if (ctrlKey || metaKey) return undefined;
  if (key === 'Delete' || key === 'Backspace') return 'leave-out';
  if (key !== 'ArrowUp' && key !== 'ArrowDown') return undefined;
  const isUp = key === 'ArrowUp';
  if (altKey) return isUp ? 'octave-up' : 'octave-down';
  if (shiftKey) return isUp ? 'raise' : 'lower';
  return isUp ? 'step-up' : 'step-down';
}
