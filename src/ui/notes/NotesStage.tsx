'use client';

import { MinusOutlined, PlusOutlined } from '@ant-design/icons';
import { Button, Checkbox, Segmented, Select, Space, Spin, Tabs } from 'antd';
import { useSearchParams } from 'next/navigation';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import type { StrandId } from '../../core/model/ids';
import { type EventId, eventOfNote, type PartId } from '../../core/model/ids';
import { FirstBarInput } from '../common/FirstBarInput';
import { InspectorEdge } from '../common/InspectorEdge';
import { useKeys } from '../common/keys';
import { NothingShown } from '../common/NothingShown';
import { KEY_CHOICES, signatureName } from '../common/names';
import { Panel } from '../common/Panel';
import { Stepwise } from '../common/Stepwise';
import { PitchView } from '../engraving/pitchView';
import { useSession } from '../job/session';
import { BarsPanel } from './BarsPanel';
import { FindPanel } from './FindPanel';
import { LyricsPanel } from './LyricsPanel';
import { MarksPanel } from './MarksPanel';
import { NotePanel } from './NotePanel';
import styles from './NotesStage.module.css';
import { PagesView } from './PagesView';
import { RepeatsPanel } from './RepeatsPanel';
import { type Choosing, ScoreView } from './ScoreView';
import { useListed } from './useListed';
import { type NoteEdit, useNoteEdits } from './useNoteEdits';
import { useOrigins } from './useOrigins';

const SCALES = [20, 25, 30, 35, 40, 48, 56, 68, 80];
const USUAL_SCALE = 3;
/** More parts than this are not shown at first: nobody reads them all at once. */
const SHOWN_AT_FIRST = 20;

/** The engraved score, with the decisions that shape it. */
export function NotesStage() {
  const { core, summary, stock } = useSession('core', 'summary', 'stock');
  const { data: listed } = useListed();
  const parts = useMemo(() => summary?.parts ?? [], [summary]);
  const [hidden, setHidden] = useState<ReadonlySet<StrandId> | null>(null);
  const [size, setSize] = useState(USUAL_SCALE);
  const [focus, setFocus] = useState<string | null>(null);
  const [chosen, setChosen] = useState<readonly EventId[]>([]);
  const [tab, setTab] = useState('note');
  const [view, setView] = useState<View>('scroll');

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
  /** Scrolls to the system in which a bar (index) stands. @returns whether it is laid out */
  const showBar = useCallback((bar: number): boolean => {
    const systems = [...(sheet.current?.querySelectorAll<HTMLElement>('[data-from]') ?? [])];
    const own = systems.findLast(({ dataset }) => Number(dataset.from) <= bar);
    own?.scrollIntoView({ block: 'start' });
    return own !== undefined;
  }, []);
  // A part or a bar that was asked for by name.
  const asks = useSearchParams();
  const [askedPart, askedBar] = [asks.get('part'), asks.get('bar')];
  const shownAlone = useRef<string | null>(null);
  useEffect(() => {
    const leaders = parts.map(({ leader }) => leader);
    if (shownAlone.current === askedPart || !leaders.some((leader) => leader === askedPart)) return;
    shownAlone.current = askedPart;
    setHidden(new Set(leaders.filter((leader) => leader !== askedPart)));
  }, [askedPart, parts]);
  const barIndex = summary && askedBar ? summary.bars.indexOf(Number(askedBar)) : -1;
  useEffect(() => {
    if (barIndex < 0) return;
    let frame = 0;
    // Its system is there once the score is laid out.
    const seek = () => {
      if (!showBar(barIndex)) frame = requestAnimationFrame(seek);
    };
    seek();
    return () => cancelAnimationFrame(frame);
  }, [barIndex, showBar]);
  const { known, shown: told } = useOrigins(chosen);
  const editNotes = useNoteEdits(chosen, known);
  const clear = () => {
    setFocus(null);
    setChosen([]);
  };
  const edit = (wanted: NoteEdit) => {
    editNotes(wanted);
    if (wanted === 'leave-out') clear();
  };

  const select = async (id: string | null, how: Choosing) => {
    const event = id === null ? null : eventOfNote(id);
    if (id === null || event === null) return clear();
    setFocus(id);
    setTab('note');
    const from = focus === null ? null : eventOfNote(focus);
    if (how === 'one-more')
      return setChosen((before) =>
        before.includes(event) ? before.filter((each) => each !== event) : [...before, event],
      );
    if (how === 'only' || from === null || !summary) return setChosen([event]);
    // Up to there from the first that was chosen, which stays the first.
    const anchor = chosen[0] ?? from;
    // A state that is past has changed under the hand: the note alone is chosen then.
    const between = await core
      .between(summary.revision, { from: anchor, to: event })
      .catch((): EventId[] => [event]);
    setChosen([anchor, ...between.filter((each) => each !== anchor)]);
  };

  /** All notes of the parts of those that are chosen, or of all in view. */
  const chooseAll = async () => {
    if (!summary) return;
    const own = summary.parts.filter(({ strands }) =>
      known.some(({ strandId }) => strands.includes(strandId)),
    );
    const parts = own.length > 0 ? own.map(({ id }) => id) : shownIds;
    const all = core.findNotes(summary.revision, { parts, from: 0, to: summary.bars.length });
    setChosen(await all.catch(() => chosen));
  };

  const score = useRef<HTMLDivElement>(null);
  const signField = useRef<{ focus: () => void }>(null);
  const toScore = () => score.current?.focus();

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
        <Toolbar size={size} onSize={setSize} view={view} onView={setView} />
        {view === 'pages' && shown.length > 0 && (
          <Panel name="The pages">
            <PagesView parts={shownIds} />
          </Panel>
        )}
        <div className={styles.sheet} ref={sheet} hidden={view === 'pages' && shown.length > 0}>
          {!summary && (
            <p className={styles.waiting}>
              <Spin /> Writing the score
            </p>
          )}
          {shown.length === 0 && <NothingShown parts={parts.length} className={styles.waiting} />}
          {shown.length > 0 && view === 'scroll' && (
            <Panel name="The score">
              <ScoreView
                parts={shownIds}
                staves={staves}
                scale={SCALES[size]!}
                box={score}
                focus={focus}
                chosen={chosen}
                onSelect={select}
                onEdit={edit}
                onSign={() => {
                  setTab('note');
                  signField.current?.focus();
                }}
                onAll={chooseAll}
              />
            </Panel>
          )}
        </div>
      </section>
      <InspectorEdge />
      <aside className={styles.inspector} aria-label="Inspector">
        <Tabs
          size="small"
          tabBarGutter={14}
          activeKey={tab}
          onChange={setTab}
          items={[
            {
              key: 'note',
              label: chosen.length > 1 ? `Notes ${chosen.length}` : 'Note',
              forceRender: true,
              children: (
                <Panel name="The note">
                  <NotePanel
                    chosen={chosen}
                    origins={told}
                    signField={signField}
                    onEdit={edit}
                    onDone={toScore}
                  />
                </Panel>
              ),
            },
            {
              key: 'find',
              label: 'Find',
              children: (
                <Panel name="The search">
                  <FindPanel
                    parts={shownIds}
                    onChoose={(notes) => {
                      setFocus(null);
                      setChosen(notes);
                      setTab('note');
                    }}
                  />
                </Panel>
              ),
            },
            {
              key: 'marks',
              label: stock.kind === 'score' ? 'Marks' : `Marks ${listed?.marks.length ?? ''}`,
              children: (
                <Panel name="The list of marks">
                  <MarksPanel onGo={showBar} />
                </Panel>
              ),
            },
            {
              key: 'lyrics',
              label: 'Lyrics',
              children: (
                <Panel name="The lyrics">
                  <LyricsPanel shown={shownIds} origins={known} onGo={showBar} />
                </Panel>
              ),
            },
            stock.kind === 'score'
              ? {
                  key: 'bars',
                  label: 'Bars',
                  children: (
                    <Panel name="The bars">
                      <BarsPanel origins={known} onGo={showBar} />
                    </Panel>
                  ),
                }
              : {
                  key: 'repeats',
                  label: `Repeats ${listed?.form.length ?? ''}`,
                  children: (
                    <Panel name="The list of repeats">
                      <RepeatsPanel onGo={showBar} />
                    </Panel>
                  ),
                },
          ]}
        />
      </aside>
    </div>
  );
}

type View = 'scroll' | 'pages';

interface ToolbarProps {
  size: number;
  onSize: (size: number) => void;
  view: View;
  onView: (view: View) => void;
}

function Toolbar({ size, onSize, view, onView }: ToolbarProps) {
  const { decisions, summary, stock, take } = useSession('decisions', 'summary', 'stock', 'take');
  const { key } = decisions;
  const isScore = stock.kind === 'score';
  return (
    <div className={styles.toolbar} role="toolbar" aria-label="How the score is read">
      <label title={isScore ? 'The score has its keys' : summary?.keyWhy}>
        Key
        <Select
          size="small"
          style={{ width: 190 }}
          disabled={isScore}
          value={key ? `${key.fifths} ${key.minor ? 'minor' : 'major'}` : 'auto'}
          options={[{ value: 'auto', label: autoKeyLabel(summary) }, ...KEY_CHOICES]}
          onChange={(value: string) => {
            const [fifths, mode] = value.split(' ');
            if (value === 'auto') take({ kind: 'key', fifths: null, minor: false });
            else take({ kind: 'key', fifths: Number(fifths), minor: mode === 'minor' });
          }}
        />
      </label>
      <span className={styles.labelled}>
        First bar is
        <FirstBarInput size="small" />
      </span>
      <PitchView />
      <Segmented<View>
        size="small"
        aria-label="How the score lies"
        value={view}
        options={[
          { value: 'scroll', label: 'Scroll' },
          { value: 'pages', label: 'Pages' },
        ]}
        onChange={onView}
      />
      <Space size={2} className={styles.size}>
        <Button
          size="small"
          icon={<MinusOutlined />}
          aria-label="Smaller"
          disabled={view === 'pages' || size === 0}
          onClick={() => onSize(size - 1)}
        />
        <Button
          size="small"
          icon={<PlusOutlined />}
          aria-label="Larger"
          disabled={view === 'pages' || size === SCALES.length - 1}
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
