import { Button, Spin } from 'antd';
import { type Ref, useState } from 'react';
import { counted } from '../../core/basics/words';
import type { EventId } from '../../core/model/ids';
import { keyName, pitchName } from '../../core/model/pitch';
import type { NoteOrigin, PartSummary } from '../../core/workbench/replies';
import { leadText } from '../common/names';
import { useSession } from '../job/session';
import { ClefTool } from './ClefTool';
import { CopyDialog } from './CopyDialog';
import { HarmonyTools } from './HarmonyTools';
import { LikeDialog } from './LikeDialog';
import { PitchTools } from './PitchTools';
import { SignTools } from './SignTools';
import { StringPicker } from './StringPicker';
import { TimeTools } from './TimeTools';
import { ToolRow } from './ToolRow';
import type { NoteEdit } from './useNoteEdits';
import { MOST_TOLD } from './useOrigins';

interface Props {
  chosen: readonly EventId[];
  /** What is known of them; nothing where they are very many, or as long as it is on its way. */
  origins: readonly NoteOrigin[];
  signField: Ref<{ focus: () => void }>;
  onEdit: (edit: NoteEdit) => void;
  /** The notes have the keys again. */
  onDone: () => void;
}

/** What the source says of the chosen notes, and what can be done to them. */
export function NotePanel({ chosen, origins, signField, onEdit, onDone }: Props) {
  const { summary, stock } = useSession('summary', 'stock');
  const [dialog, setDialog] = useState<'copy' | 'like' | null>(null);
  const [first] = origins;
  const partOf = (origin: NoteOrigin) =>
    summary?.parts.find(({ strands }) => strands.includes(origin.strandId));
  const part = first && partOf(first);
  if (chosen.length === 0) return <NothingChosen />;
  if (!first && chosen.length <= MOST_TOLD) return <Spin size="small" aria-label="Looking the notes up" />;
  return (
    <div aria-live="polite">
      {!first && <h2>{counted(chosen.length, 'note')} chosen</h2>}
      {first && origins.length === 1 && <OneNote origin={first} part={part} />}
      {origins.length > 1 && (
        <ManyNotes origins={origins} parts={[...new Set(origins.map((each) => partOf(each)?.name))]} />
      )}
      {(!first || origins.some(({ written }) => written)) && <PitchTools ids={chosen} onEdit={onEdit} />}
      {first && origins.length === 1 && <HarmonyTools {...first} onEdit={onEdit} />}
      {first && origins.length === 1 && part?.frets && part.frets.show !== 'staff' && (
        <StringPicker origin={first} part={part} />
      )}
      <SignTools
        many={chosen.length > 1}
        origins={origins}
        field={signField}
        onEdit={onEdit}
        onDone={onDone}
      />
      <TimeTools origins={origins} onEdit={onEdit} isWritten={stock.kind === 'score'} />
      {part && origins.every((each) => partOf(each) === part) && <ClefTool origins={origins} part={part} />}
      <ToolRow name={chosen.length === 1 ? 'Note' : 'Notes'} label="The notes themselves">
        <Button size="small" onClick={() => onEdit('leave-out')}>
          {chosen.length === 1 ? 'Leave it out' : 'Leave them out'}
        </Button>
        {first?.span && (
          <Button size="small" title="Insert" onClick={() => onEdit('again')}>
            Duplicate after
          </Button>
        )}
        {first && (
          <Button size="small" onClick={() => setDialog('copy')}>
            Copy to…
          </Button>
        )}
      </ToolRow>
      {origins.length > 1 && (
        <Button size="small" type="primary" onClick={() => setDialog('like')}>
          To like passages…
        </Button>
      )}
      {part && origins.length === 1 && leadText(part.leads) && (
        <p className="soft">
          {part.name}: {leadText(part.leads)}
        </p>
      )}
      {dialog === 'copy' && <CopyDialog origins={origins} onEdit={onEdit} onClose={() => setDialog(null)} />}
      {dialog === 'like' && (
        <LikeDialog notes={origins.map(({ id }) => id)} onClose={() => setDialog(null)} />
      )}
    </div>
  );
}

function NothingChosen() {
  const { summary } = useSession('summary');
  return (
    <div aria-live="polite">
      <p className="soft">
        Choose a note to see where it comes from; with Shift all up to another, with Ctrl one more. Find
        chooses them by what they are like.
      </p>
      {summary && summary.account.unwritable > 0 && (
        <p className="rubric">
          {counted(summary.account.unwritable, 'note')} below C0 or above B9 cannot be written. Such notes are
          most often key switches.
        </p>
      )}
      {summary && summary.lostLyrics > 0 && (
        <p className="rubric">{counted(summary.lostLyrics, 'syllable')} found no note to hang under.</p>
      )}
    </div>
  );
}

function OneNote({ origin, part }: { origin: NoteOrigin; part: PartSummary | undefined }) {
  const { summary } = useSession('summary');
  return (
    <>
      <h2>
        {origin.written ? pitchName(origin.written.pitch) : keyName(origin.key)} in {part?.name}
      </h2>
      <dl className="figures">
        {origin.written && (
          <>
            <dt>Sounds</dt>
            <dd>{keyName(origin.key)}</dd>
          </>
        )}
        <dt>Source</dt>
        <dd>
          “{origin.strand}”, track {origin.track}, channel {origin.channel}
        </dd>
        <dt>Played at</dt>
        <dd>
          bar {summary?.bars[origin.bar]}, beat {origin.beat}
          {origin.offset > 0 && ` and ${origin.offset} ticks`}
        </dd>
        <dt>Time</dt>
        <dd>
          {origin.seconds.toFixed(3)} s, tick {origin.on}
        </dd>
        <dt>Held</dt>
        <dd>
          {Math.round(origin.milliseconds)} ms, {origin.off - origin.on} ticks
        </dd>
        <dt>Velocity</dt>
        <dd>{origin.velocity}</dd>
      </dl>
    </>
  );
}

function ManyNotes({
  origins,
  parts,
}: {
  origins: readonly NoteOrigin[];
  parts: readonly (string | undefined)[];
}) {
  const { summary } = useSession('summary');
  const bars = origins.map(({ bar }) => bar).sort((a, b) => a - b);
  const [from, to] = [summary?.bars[bars[0]!], summary?.bars[bars.at(-1)!]];
  const velocities = origins.map(({ velocity }) => velocity).sort((a, b) => a - b);
  return (
    <>
      <h2>{counted(origins.length, 'note')} chosen</h2>
      <dl className="figures">
        <dt>{parts.length === 1 ? 'Part' : 'Parts'}</dt>
        <dd>
          {parts.length > 3
            ? `${parts.slice(0, 3).join(', ')} and ${parts.length - 3} more`
            : parts.join(', ')}
        </dd>
        <dt>Bars</dt>
        <dd>{from === to ? from : `${from}–${to}`}</dd>
        <dt>Velocity</dt>
        <dd>
          {velocities[0] === velocities.at(-1) ? velocities[0] : `${velocities[0]}–${velocities.at(-1)}`}
        </dd>
      </dl>
    </>
  );
}
