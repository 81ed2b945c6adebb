'use client';

import { MinusOutlined, PlusOutlined } from '@ant-design/icons';
import { Button, Checkbox, Select, Space, Spin, Tabs } from 'antd';
import { useMemo, useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import type { StrandId } from '../../core/model/ids';
import { eventOfNote, isAdded, type PartId } from '../../core/model/ids';
import { keyName, pitchName } from '../../core/model/pitch';
import type { NoteOrigin } from '../../core/workbench/replies';
import { FirstBarInput } from '../common/FirstBarInput';
import { useKeys } from '../common/keys';
import { NothingShown } from '../common/NothingShown';
import { leadText, signatureName } from '../common/names';
import { Stepwise } from '../common/Stepwise';
import { PitchView } from '../engraving/pitchView';
import { useOfScore, useSession } from '../job/session';
import { MarksPanel } from './MarksPanel';
import styles from './NotesStage.module.css';
import { PitchTools } from './PitchTools';
import { RepeatsPanel } from './RepeatsPanel';
import { ScoreView } from './ScoreView';
import { StringPicker } from './StringPicker';
import { type NoteEdit, useNoteEdits } from './useNoteEdits';

const SCALES = [20, 25, 30, 35, 40, 48, 56, 68, 80];
const USUAL_SCALE = 3;
/** More parts than this are not shown at first: nobody reads them all at once. */
const SHOWN_AT_FIRST = 20;

const KEYS = [false, true].flatMap((minor) =>
  Array.from({ length: 13 }, (_, index) => ({
    value: `${index - 6} ${minor ? 'minor' : 'major'}`,
    label: signatureName(index - 6, minor),
  })),
);

/** The engraved score, with the decisions that shape it. */
export function NotesStage() {
  const { summary } = useSession('summary');
  const parts = useMemo(() => summary?.parts ?? [], [summary]);
  const [hidden, setHidden] = useState<ReadonlySet<StrandId> | null>(null);
  const [size, setSize] = useState(USUAL_SCALE);
  const [selected, setSelected] = useState<string | null>(null);

  // Parts are remembered by their leading strand, since part ids follow the order.
  const off = useMemo(
    () => hidden ?? new Set(parts.slice(SHOWN_AT_FIRST).map((part) => part.leader)),
    [hidden, parts],
  );
  const shown = useMemo(() => parts.filter((part) => !off.has(part.leader)), [parts, off]);
  const shownKey = shown.map((part) => part.id).join(' ');
  const shownIds = useMemo(() => (shownKey ? (shownKey.split(' ') as PartId[]) : []), [shownKey]);
  const staves = shown.reduce((sum, part) => sum + part.staves, 0);

  const sheet = useRef<HTMLDivElement>(null);
  /** Scrolls to the system in which a bar (index) stands. */
  const showBar = (bar: number) => {
    const systems = [...(sheet.current?.querySelectorAll<HTMLElement>('[data-from]') ?? [])];
    systems.findLast(({ dataset }) => Number(dataset.from) <= bar)?.scrollIntoView({ block: 'start' });
  };
  const note = selected === null ? null : eventOfNote(selected);
  const { data } = useOfScore(['origin', note], async (core, revision) =>
    note === null ? null : core.origin(revision, { note }),
  );
  const origin = note === null ? null : (data ?? null);
  const editNote = useNoteEdits(origin);
  const edit = (wanted: NoteEdit) => {
    editNote(wanted);
    if (wanted === 'leave-out') setSelected(null);
  };

  useKeys({
    larger: () => setSize((before) => Math.min(before + 1, SCALES.length - 1)),
    smaller: () => setSize((before) => Math.max(before - 1, 0)),
  });

  const show = (strands: readonly StrandId[], on: boolean) => {
    const next = new Set(off);
    for (const strand of strands) {
      if (on) next.delete(strand);
      else next.add(strand);
    }
    setHidden(next);
  };

  return (
    <div className={styles.stage}>
      <aside className={styles.parts} aria-label="Parts in view">
        <Checkbox
          checked={shown.length === parts.length}
          indeterminate={shown.length > 0 && shown.length < parts.length}
          onChange={(event) =>
            show(
              parts.map((part) => part.leader),
              event.target.checked,
            )
          }
        >
          <strong>
            {shown.length} of {counted(parts.length, 'part')}
          </strong>
        </Checkbox>
        <Stepwise by={8}>
          {parts.map((part) => (
            <div key={part.leader} className={styles.part}>
              <Checkbox
                checked={!off.has(part.leader)}
                onChange={(event) => show([part.leader], event.target.checked)}
              >
                {part.name}
              </Checkbox>
              <Button
                type="text"
                size="small"
                aria-label={`Show ${part.name} alone`}
                onClick={() =>
                  setHidden(new Set(parts.filter((each) => each !== part).map((each) => each.leader)))
                }
              >
                alone
              </Button>
            </div>
          ))}
        </Stepwise>
      </aside>
      <section className={styles.middle}>
        <Toolbar size={size} onSize={setSize} />
        <div className={styles.sheet} ref={sheet}>
          {!summary && (
            <p className={styles.waiting}>
              <Spin /> Writing the score
            </p>
          )}
          {shown.length === 0 && <NothingShown parts={parts.length} className={styles.waiting} />}
          {shown.length > 0 && (
            <ScoreView
              parts={shownIds}
              staves={staves}
              scale={SCALES[size]!}
              selected={selected}
              onSelect={setSelected}
              onEdit={edit}
            />
          )}
        </div>
      </section>
      <aside className={styles.inspector} aria-label="Inspector">
        <Tabs
          size="small"
          items={[
            {
              key: 'note',
              label: 'Note',
              children: <NoteView origin={origin} onEdit={edit} />,
            },
            {
              key: 'marks',
              label: `Marks ${summary?.marks.length ?? ''}`,
              children: <MarksPanel onGo={showBar} />,
            },
            {
              key: 'repeats',
              label: `Repeats ${summary?.form.length ?? ''}`,
              children: <RepeatsPanel onGo={showBar} />,
            },
          ]}
        />
      </aside>
    </div>
  );
}

function Toolbar({ size, onSize }: { size: number; onSize: (size: number) => void }) {
  const { decisions, summary, stock, take } = useSession('decisions', 'summary', 'stock', 'take');
  const { key } = decisions;
  const isScore = stock.kind === 'musicxml';
  return (
    <div className={styles.toolbar} role="toolbar" aria-label="How the score is read">
      <label title={isScore ? 'The score has its keys' : summary?.keyWhy}>
        Key
        <Select
          size="small"
          style={{ width: 190 }}
          disabled={isScore}
          value={key ? `${key.fifths} ${key.minor ? 'minor' : 'major'}` : 'auto'}
          options={[{ value: 'auto', label: autoKeyLabel(summary) }, ...KEYS]}
          onChange={(value: string) => {
            const [fifths, mode] = value.split(' ');
            if (value === 'auto') take({ kind: 'key', fifths: null, minor: false });
            else take({ kind: 'key', fifths: Number(fifths), minor: mode === 'minor' });
          }}
        />
      </label>
      <span className={styles.pair}>
        First bar is
        <FirstBarInput size="small" />
      </span>
      <PitchView />
      <Space size={2} className={styles.size}>
        <Button
          size="small"
          icon={<MinusOutlined />}
          aria-label="Smaller"
          disabled={size === 0}
          onClick={() => onSize(size - 1)}
        />
        <Button
          size="small"
          icon={<PlusOutlined />}
          aria-label="Larger"
          disabled={size === SCALES.length - 1}
          onClick={() => onSize(size + 1)}
        />
      </Space>
    </div>
  );
}

function autoKeyLabel(summary: ReturnType<typeof useSession>['summary']): string {
  if (!summary) return 'As the source says';
  const { fifths, minor, changes } = summary.key;
  const found = signatureName(fifths, minor);
  const more = changes > 0 ? `, ${counted(changes, 'change')}` : '';
  return `${summary.keyWhy.startsWith('From the source') ? 'Source' : 'Estimate'}: ${found}${more}`;
}

/** What the source says of the selected note. */
function NoteView({ origin, onEdit }: { origin: NoteOrigin | null; onEdit: (edit: NoteEdit) => void }) {
  const { summary, stock } = useSession('summary', 'stock');
  const part = summary?.parts.find((each) => origin !== null && each.strands.includes(origin.strandId));
  return (
    <div aria-live="polite">
      {!origin && (
        <>
          <p className="soft">Choose a note to see where it comes from.</p>
          {summary && summary.account.unwritable > 0 && (
            <p className="rubric">
              {counted(summary.account.unwritable, 'note')} below C0 or above B9 cannot be written. Such notes
              are most often key switches.
            </p>
          )}
          {summary && summary.lostLyrics > 0 && (
            <p className="rubric">{counted(summary.lostLyrics, 'syllable')} found no note to hang under.</p>
          )}
        </>
      )}
      {origin && (
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
          {origin.written && <PitchTools id={origin.id} onEdit={onEdit} />}
          {part?.frets && part.frets.show !== 'staff' && <StringPicker origin={origin} part={part} />}
          {stock.kind !== 'musicxml' && (
            <div className={styles.pitch} role="toolbar" aria-label="The note itself">
              <Button size="small" onClick={() => onEdit('leave-out')}>
                Leave the note out
              </Button>
              {origin.span && (
                <Button size="small" title="Insert" onClick={() => onEdit('again')}>
                  Again after it
                </Button>
              )}
              <Select
                size="small"
                aria-label="Copy the note to a part"
                placeholder="Copy to…"
                style={{ width: 150 }}
                popupMatchSelectWidth={false}
                value={null}
                options={(summary?.parts ?? [])
                  .filter(({ leader }) => !isAdded(leader) && leader !== part?.leader)
                  .map(({ name, leader }) => ({ value: leader, label: name }))}
                onChange={(copyTo: StrandId | null) => copyTo && onEdit({ copyTo })}
              />
            </div>
          )}
          <p className="soft">
            Keys: ↑ ↓ a step, with Shift a semitone, with Alt an octave; A to G the nearest note of that
            letter, with Shift one more above; Insert the same again after it; Delete leaves it out.
          </p>
          {part && (
            <p className="soft">
              {part.why} {leadText(part.leads)}
            </p>
          )}
        </>
      )}
    </div>
  );
}
