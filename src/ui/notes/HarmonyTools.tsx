import { Button } from 'antd';
import type { Root } from '../../core/model/marks';
import { pitchName } from '../../core/model/pitch';
import type { NoteOrigin } from '../../core/workbench/replies';
import { signatureName } from '../common/names';
import { Pair, ToolRow } from './ToolRow';
import type { NoteEdit } from './useNoteEdits';

/** A pitch without its octave. */
const rootName = (root: Root): string => pitchName({ ...root, octave: 0 }).replace(/-?\d+$/, '');

/** The chord and the scale in which a note stands, with their tones to move it to. */
export function HarmonyTools({
  harmony,
  written,
  onEdit,
}: Pick<NoteOrigin, 'harmony' | 'written'> & { onEdit: (edit: NoteEdit) => void }) {
  if (!harmony || !written) return null;
  const { chord, key } = harmony;
  const tone = (root: Root) => {
    const isIt = root.step === written.pitch.step && root.alter === written.pitch.alter;
    return (
      <Button
        key={rootName(root)}
        size="small"
        type={isIt ? 'primary' : 'default'}
        aria-pressed={isIt}
        aria-label={`To the nearest ${rootName(root)}`}
        onClick={() => onEdit({ letter: root.step, alter: root.alter })}
      >
        {rootName(root)}
      </Button>
    );
  };
  return (
    <>
      {chord && (
        <ToolRow name={chord.name} label={`Tones of the chord ${chord.name}`}>
          <Pair>{chord.tones.map(tone)}</Pair>
        </ToolRow>
      )}
      <ToolRow
        name={signatureName(key.fifths, key.minor)}
        label={`Tones of ${signatureName(key.fifths, key.minor)}`}
      >
        <Pair>{key.tones.map(tone)}</Pair>
      </ToolRow>
    </>
  );
}
