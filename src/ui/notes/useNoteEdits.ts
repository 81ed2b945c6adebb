import type { KeyboardEvent } from 'react';
import type { PlainDirective } from '../../core/decisions/kinds';
import { after, intervalOf, type PitchEdit, toLetter, toLetterAbove } from '../../core/edit/pitches';
import { addedNoteId, type StrandId } from '../../core/model/ids';
import { type Interval, movedBy, STEPS, type Step } from '../../core/model/pitch';
import type { NoteOrigin } from '../../core/workbench/replies';
import { useSession } from '../job/session';

/** What can be done to one note on the page. */
export type NoteEdit =
  | PitchEdit
  | 'as-it-came'
  | 'leave-out'
  /** The same note again where it ends. */
  | 'again'
  /** To the nearest note of a letter. */
  | { letter: Step }
  /** A note of a letter above it, at the same time. */
  | { above: Step }
  /** The same note in another part. */
  | { copyTo: StrandId };

const UNMOVED: Interval = { diatonic: 0, chromatic: 0 };
/** Keys of MIDI. */
const LAST_KEY = 127;

/** Does something to a note, as a decision. */
export function useNoteEdits(origin: NoteOrigin | null): (edit: NoteEdit) => void {
  const { take, amend, decisions, stock } = useSession('take', 'amend', 'decisions', 'stock');
  /** One note more, like this one but for what is said. */
  const add = (like: NoteOrigin, change: { strand?: StrandId; by?: number; later?: number }) => {
    const key = like.key + (change.by ?? 0);
    if (stock.kind === 'musicxml' || key < 0 || key > LAST_KEY) return;
    const strand = change.strand ?? like.strandId;
    const later = change.later ?? 0;
    amend(({ added }): PlainDirective[] => [
      {
        kind: 'add',
        note: addedNoteId(strand, added.keys()),
        strand,
        on: like.on + later,
        off: like.off + later,
        key,
        velocity: like.velocity,
      },
    ]);
  };
  return (edit) => {
    if (!origin) return;
    const { id: note, written, moved, span } = origin;
    if (edit === 'leave-out') {
      if (stock.kind !== 'musicxml') take({ kind: 'drop', note, out: true });
      return;
    }
    if (edit === 'again') {
      if (span) add(origin, { later: span.to - span.from });
      return;
    }
    if (typeof edit === 'object' && 'copyTo' in edit) return add(origin, { strand: edit.copyTo });
    if (!written) return;
    const now = decisions.pitches.get(note) ?? UNMOVED;
    // What was decided since the score was written counts already.
    const since = { diatonic: now.diatonic - moved.diatonic, chromatic: now.chromatic - moved.chromatic };
    const pitch = movedBy(written.pitch, since);
    if (typeof edit === 'object' && 'above' in edit)
      return add(origin, {
        by: since.chromatic + toLetterAbove(edit.above, pitch, written.fifths).chromatic,
      });
    const by =
      typeof edit === 'object'
        ? toLetter(edit.letter, pitch, written.fifths)
        : edit === 'as-it-came'
          ? null
          : intervalOf(edit, pitch, written.fifths);
    const to = by ? after(now, by) : UNMOVED;
    take({ kind: 'pitch', note, steps: to.diatonic, semitones: to.chromatic });
  };
}

/** What a key does to the chosen note; undefined for keys that do nothing to it. */
export function editOf({ key, shiftKey, altKey, ctrlKey, metaKey }: KeyboardEvent): NoteEdit | undefined {
  if (ctrlKey || metaKey) return undefined;
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
