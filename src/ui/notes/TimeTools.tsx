import { Button, InputNumber, Segmented, Select } from 'antd';
import { useState } from 'react';
import type { Arrangement } from '../../core/edit/rearrange';
import type { NoteOrigin } from '../../core/workbench/replies';
import { Pair, ToolRow } from './ToolRow';
import type { NoteEdit } from './useNoteEdits';

/** The value that all share; undefined where they differ. */
function shared<T>(values: readonly T[]): T | undefined {
  return values.length > 0 && values.every((value) => value === values[0]) ? values[0] : undefined;
}

/** Place, length, loudness, voice and staff of the chosen notes. */
export function TimeTools({
  origins,
  onEdit,
  isWritten,
}: {
  origins: readonly NoteOrigin[];
  onEdit: (edit: NoteEdit) => void;
  /** They are notes of a score: what sounds follows from the page. */
  isWritten: boolean;
}) {
  const [both, setBoth] = useState(true);
  const tool = (arrangement: Arrangement, label: string, words: string) => (
    <Button size="small" title={words} aria-label={words} onClick={() => onEdit({ arrangement, both })}>
      {label}
    </Button>
  );
  return (
    <>
      {!isWritten && (
        <ToolRow name="Edits" label="What an edit of place and length changes">
          <Segmented
            size="small"
            aria-label="What an edit of place and length changes"
            value={both}
            options={[
              { value: true, label: 'Page and sound' },
              { value: false, label: 'Page only' },
            ]}
            onChange={setBoth}
          />
        </ToolRow>
      )}
      <ToolRow name="Place" label="Place and length">
        <Pair>
          {tool('earlier', '← earlier', 'Earlier by a slot of the beat')}
          {tool('later', 'later →', 'Later by a slot of the beat')}
        </Pair>
        {tool('as-found', 'As found', 'Place and length as they were read')}
      </ToolRow>
      <ToolRow name="Length">
        <Pair>
          {tool('shorter', '−', 'Shorter by a slot of the beat')}
          {tool('longer', '+', 'Longer by a slot of the beat')}
        </Pair>
        {tool('to-next', 'To the next note', 'Lasts to the next note of the staff')}
        <Pair>
          <Button
            size="small"
            title="One note with the next on its key, on the page and in what sounds"
            onClick={() => onEdit('join')}
          >
            Tie to the next
          </Button>
          <Button
            size="small"
            title="Where it is tied it is struck again: two notes, on the page and in what sounds"
            onClick={() => onEdit('strike-again')}
          >
            Untie
          </Button>
        </Pair>
      </ToolRow>
      {!isWritten && <VelocityTools origins={origins} onEdit={onEdit} />}
      <LineTools origins={origins} onEdit={onEdit} />
    </>
  );
}

/** How loud notes were played. */
function VelocityTools({
  origins,
  onEdit,
}: {
  origins: readonly NoteOrigin[];
  onEdit: (edit: NoteEdit) => void;
}) {
  const velocity = shared(origins.map((each) => each.velocity));
  return (
    <ToolRow name="Velocity">
      <InputNumber
        size="small"
        key={`${origins[0]?.id} ${velocity}`}
        min={1}
        max={127}
        style={{ width: 58 }}
        aria-label="Velocity of the chosen notes"
        placeholder="mixed"
        defaultValue={velocity}
        onPressEnter={(event) => event.currentTarget.blur()}
        onBlur={(event) => {
          const to = Number(event.currentTarget.value);
          if (event.currentTarget.value !== '' && to !== velocity && to >= 1 && to <= 127)
            onEdit({ velocity: { to: Math.round(to) } });
        }}
      />
      <Pair>
        <Button size="small" aria-label="Softer by 8" onClick={() => onEdit({ velocity: { by: -8 } })}>
          softer
        </Button>
        <Button size="small" aria-label="Louder by 8" onClick={() => onEdit({ velocity: { by: 8 } })}>
          louder
        </Button>
      </Pair>
    </ToolRow>
  );
}

/** Voice and staff of notes. */
function LineTools({
  origins,
  onEdit,
}: {
  origins: readonly NoteOrigin[];
  onEdit: (edit: NoteEdit) => void;
}) {
  const voice = shared(origins.map(({ line }) => line?.voice));
  const staff = shared(origins.map(({ line }) => line?.staff));
  const staves = shared(origins.map(({ line }) => line?.staves));
  return (
    <ToolRow name="Voice" label="Voice and staff">
      <Select
        size="small"
        style={{ width: 124 }}
        aria-label="Voice of the chosen notes"
        value={voice ?? null}
        placeholder="Voice"
        options={[
          { value: 1, label: 'Voice 1, stems up' },
          { value: 2, label: 'Voice 2, stems down' },
          { value: 0, label: 'Voice as found' },
        ]}
        popupMatchSelectWidth={false}
        onChange={(value: number | null) => onEdit({ voice: value === 1 || value === 2 ? value : null })}
      />
      {staves === 2 && (
        <Select
          size="small"
          style={{ width: 112 }}
          aria-label="Staff of the chosen notes"
          value={staff ?? null}
          options={[
            { value: 1, label: 'Upper staff' },
            { value: 2, label: 'Lower staff' },
            { value: 0, label: 'Staff as found' },
          ]}
          onChange={(value: number | null) => onEdit({ staff: value === 1 || value === 2 ? value : null })}
        />
      )}
    </ToolRow>
  );
}
