import { Button } from 'antd';
import { type Ref, useImperativeHandle } from 'react';
import type { EventId } from '../../core/model/ids';
import { useSession } from '../job/session';
import { type NoteEdit, useNoteEdits } from '../notes/useNoteEdits';
import { useOrigins } from '../notes/useOrigins';
import styles from './NoteBars.module.css';

/** Milliseconds of one nudge. */
const NUDGE = 10;

const EDITS: { label: string; words: string; edit: NoteEdit }[] = [
  { label: '+ semitone', words: 'A semitone higher', edit: { semitones: 1 } },
  { label: '− semitone', words: 'A semitone lower', edit: { semitones: -1 } },
  { label: '+ octave', words: 'An octave higher', edit: { semitones: 12 } },
  { label: '− octave', words: 'An octave lower', edit: { semitones: -12 } },
  { label: '← slot', words: 'A slot earlier, on the page too', edit: { arrangement: 'earlier', both: true } },
  { label: 'slot →', words: 'A slot later, on the page too', edit: { arrangement: 'later', both: true } },
  {
    label: '− length',
    words: 'A slot shorter, on the page too',
    edit: { arrangement: 'shorter', both: true },
  },
  { label: '+ length', words: 'A slot longer, on the page too', edit: { arrangement: 'longer', both: true } },
  {
    label: `← ${NUDGE} ms`,
    words: `${NUDGE} ms earlier, in what sounds alone`,
    edit: { nudge: { on: -NUDGE, off: -NUDGE } },
  },
  {
    label: `${NUDGE} ms →`,
    words: `${NUDGE} ms later, in what sounds alone`,
    edit: { nudge: { on: NUDGE, off: NUDGE } },
  },
  {
    label: `− ${NUDGE} ms`,
    words: `Let go ${NUDGE} ms earlier, in what sounds alone`,
    edit: { nudge: { on: 0, off: -NUDGE } },
  },
  {
    label: `+ ${NUDGE} ms`,
    words: `Let go ${NUDGE} ms later, in what sounds alone`,
    edit: { nudge: { on: 0, off: NUDGE } },
  },
  { label: 'softer', words: 'Velocity 8 lower', edit: { velocity: { by: -8 } } },
  { label: 'louder', words: 'Velocity 8 higher', edit: { velocity: { by: 8 } } },
];

/** Edits the chosen notes where they are drawn: what sounds, and the page with it. */
export function BarsEditing({
  ids,
  editor,
}: {
  ids: readonly EventId[];
  editor: Ref<(edit: NoteEdit) => void>;
}) {
  const { stock } = useSession('stock');
  const edit = useNoteEdits(ids, useOrigins(ids).known);
  useImperativeHandle(editor, () => edit);
  // How loud a note of a score is and when it sounds follows from what is written.
  const edits = stock.kind === 'score' ? EDITS.filter(({ edit: each }) => isOfPage(each)) : EDITS;
  return (
    <div className={styles.editing} role="toolbar" aria-label="The chosen notes">
      {edits.map(({ label, words, edit: each }) => (
        <Button key={label} size="small" title={words} aria-label={words} onClick={() => edit(each)}>
          {label}
        </Button>
      ))}
      <Button size="small" onClick={() => edit('leave-out')}>
        Leave {ids.length === 1 ? 'the note' : 'them'} out
      </Button>
    </div>
  );
}

const isOfPage = (edit: NoteEdit): boolean =>
  typeof edit === 'string' || 'arrangement' in edit || 'semitones' in edit;

const BY_KEY: Readonly<Record<string, NoteEdit>> = {
  'Alt ArrowUp': { semitones: 1 },
  'Alt ArrowDown': { semitones: -1 },
  'Alt Shift ArrowUp': { semitones: 12 },
  'Alt Shift ArrowDown': { semitones: -12 },
  'Ctrl ArrowLeft': { arrangement: 'earlier', both: true },
  'Ctrl ArrowRight': { arrangement: 'later', both: true },
  'Ctrl Shift ArrowLeft': { arrangement: 'shorter', both: true },
  'Ctrl Shift ArrowRight': { arrangement: 'longer', both: true },
  Delete: 'leave-out',
  Backspace: 'leave-out',
};

/** What a key does to the chosen notes; undefined for keys that do nothing to them. */
export function barsEditOf(event: React.KeyboardEvent): NoteEdit | undefined {
  const { key, altKey, ctrlKey, metaKey, shiftKey } = event;
  const held = [altKey && 'Alt', (ctrlKey || metaKey) && 'Ctrl', shiftKey && 'Shift'].filter(Boolean);
  return BY_KEY[[...held, key].join(' ')];
}
