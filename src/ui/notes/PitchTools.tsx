import { Button } from 'antd';
import type { PitchEdit } from '../../core/edit/pitches';
import type { EventId } from '../../core/model/ids';
import { useSession } from '../job/session';
import styles from './NotesStage.module.css';
import type { NoteEdit } from './useNoteEdits';

const EDITS: { edit: PitchEdit; label: string; words: string }[] = [
  { edit: 'step-up', label: '+ step', words: 'Up a step of the key' },
  { edit: 'step-down', label: '− step', words: 'Down a step of the key' },
  { edit: 'raise', label: '♯', words: 'Raise by a semitone' },
  { edit: 'lower', label: '♭', words: 'Lower by a semitone' },
  { edit: 'octave-up', label: '+ octave', words: 'Up an octave' },
  { edit: 'octave-down', label: '− octave', words: 'Down an octave' },
  { edit: 'respell', label: 'Spell otherwise', words: 'Spell otherwise, the sound stays' },
];

/** Moves notes, as they are written and as they sound, or spells them otherwise. */
export function PitchTools({ ids, onEdit }: { ids: readonly EventId[]; onEdit: (edit: NoteEdit) => void }) {
  const { decisions } = useSession('decisions');
  return (
    <div className={styles.pitch} role="toolbar" aria-label="Pitch">
      {EDITS.map(({ edit, label, words }) => (
        <Button key={edit} size="small" aria-label={words} title={words} onClick={() => onEdit(edit)}>
          {label}
        </Button>
      ))}
      {ids.some((id) => decisions.pitches.has(id)) && (
        <Button size="small" onClick={() => onEdit('as-it-came')}>
          As it came
        </Button>
      )}
    </div>
  );
}
