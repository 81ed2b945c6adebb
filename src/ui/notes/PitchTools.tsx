import { Button } from 'antd';
import type { PitchEdit } from '../../core/edit/pitches';
import type { EventId } from '../../core/model/ids';
import { useSession } from '../job/session';
import { Pair, ToolRow } from './ToolRow';
import type { NoteEdit } from './useNoteEdits';

interface Tool {
  edit: PitchEdit;
  label: string;
  words: string;
}

const PAIRS: { name?: string; tools: [Tool, Tool] }[] = [
  {
    tools: [
      { edit: 'lower', label: '♭', words: 'Lower by a semitone' },
      { edit: 'raise', label: '♯', words: 'Raise by a semitone' },
    ],
  },
  {
    name: 'step',
    tools: [
      { edit: 'step-down', label: '−', words: 'Down a step of the key' },
      { edit: 'step-up', label: '+', words: 'Up a step of the key' },
    ],
  },
  {
    name: 'octave',
    tools: [
      { edit: 'octave-down', label: '−', words: 'Down an octave' },
      { edit: 'octave-up', label: '+', words: 'Up an octave' },
    ],
  },
];

/** Moves notes, as they are written and as they sound, or spells them otherwise. */
export function PitchTools({ ids, onEdit }: { ids: readonly EventId[]; onEdit: (edit: NoteEdit) => void }) {
  const { decisions } = useSession('decisions');
  return (
    <ToolRow name="Pitch">
      {PAIRS.map(({ name = '', tools }) => (
        <Pair key={name} name={name}>
          {tools.map(({ edit, label, words }) => (
            <Button key={edit} size="small" aria-label={words} title={words} onClick={() => onEdit(edit)}>
              {label}
            </Button>
          ))}
        </Pair>
      ))}
      <Button
        size="small"
        aria-label="Spell otherwise, the sound stays"
        title="Spell otherwise, the sound stays"
        onClick={() => onEdit('respell')}
      >
        Respell
      </Button>
      {ids.some((id) => decisions.pitches.has(id)) && (
        <Button size="small" onClick={() => onEdit('as-it-came')}>
          As it came
        </Button>
      )}
    </ToolRow>
  );
}
