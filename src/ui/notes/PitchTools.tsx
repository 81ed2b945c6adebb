import { Button } from 'antd';
import { after, intervalOf, type PitchEdit } from '../../core/edit/pitches';
import type { Interval } from '../../core/model/pitch';
import type { NoteOrigin } from '../../core/workbench/replies';
import { useSession } from '../job/session';
import styles from './NotesStage.module.css';

const EDITS: { edit: PitchEdit; label: string; words: string }[] = [
  { edit: 'step-up', label: '+ step', words: 'Up a step of the key' },
  { edit: 'step-down', label: '− step', words: 'Down a step of the key' },
  { edit: 'raise', label: '♯', words: 'Raise by a semitone' },
  { edit: 'lower', label: '♭', words: 'Lower by a semitone' },
  { edit: 'octave-up', label: '+ octave', words: 'Up an octave' },
  { edit: 'octave-down', label: '− octave', words: 'Down an octave' },
  { edit: 'respell', label: 'Spell otherwise', words: 'Spell otherwise, the sound stays' },
];
const UNMOVED: Interval = { diatonic: 0, chromatic: 0 };

/** Moves one written note of a score, or spells it otherwise. */
export function PitchTools({
  origin,
}: {
  origin: NoteOrigin & { written: NonNullable<NoteOrigin['written']> };
}) {
  const { take, decisions } = useSession('take', 'decisions');
  const moved = decisions.pitches.get(origin.id) ?? UNMOVED;
  const { pitch, fifths } = origin.written;
  const set = ({ diatonic, chromatic }: Interval) =>
    take({ kind: 'pitch', note: origin.id, steps: diatonic, semitones: chromatic });
  return (
    <div className={styles.pitch} role="toolbar" aria-label="Pitch of the note">
      {EDITS.map(({ edit, label, words }) => (
        <Button
          key={edit}
          size="small"
          aria-label={words}
          title={words}
          onClick={() => set(after(moved, intervalOf(edit, pitch, fifths)))}
        >
          {label}
        </Button>
      ))}
      {moved !== UNMOVED && (
        <Button size="small" onClick={() => set(UNMOVED)}>
          As it came
        </Button>
      )}
    </div>
  );
}
