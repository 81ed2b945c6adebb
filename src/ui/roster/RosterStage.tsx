'use client';

import {
  type CollisionDetection,
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  type UniqueIdentifier,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { Button, Dropdown } from 'antd';
import { type ReactNode, useCallback, useMemo, useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import { inOrder, SCORE_ORDERS, type ScoreOrder } from '../../core/cast/orders';
import type { PlainDirective } from '../../core/decisions/kinds';
import { instrumentOf } from '../../core/instruments/catalogue';
import type { StrandId } from '../../core/model/ids';
import type { PartGroup } from '../../core/model/score';
import type { StrandEntry } from '../../core/stock/inventory';
import type { PartSummary } from '../../core/workbench/replies';
import { NothingShown } from '../common/NothingShown';
import { Stepwise } from '../common/Stepwise';
import { useSession } from '../job/session';
import { AddPart } from './AddPart';
import { Confirm } from './Confirm';
import { Connections } from './Connections';
import { LineUps } from './LineUps';
import { PartLine } from './PartLine';
import { Precedents } from './Precedents';
import styles from './RosterStage.module.css';
import { RoutingTools } from './RoutingTools';
import { StrandFilter, useFiltered } from './StrandFilter';
import { rowOf, StrandList } from './StrandList';
import { useDoubts } from './useDoubts';

const NONE: readonly PartSummary[] = [];
const NO_GROUPS: readonly PartGroup[] = [];

/** So many lines are drawn at a time. */
const LINES = 8;

/** Kept, since with others all that can be dragged is drawn anew. */
const BY_POINTER = { activationConstraint: { distance: 4 } };
const BY_KEYS = { coordinateGetter: sortableKeyboardCoordinates };

/** Where a strand may be dropped beside the parts. */
const OWN = 'own part';
const OUT = 'left out';

/** A strand falls where the pointer is; a part finds its place among the others. */
const collisions: CollisionDetection = (args) =>
  args.active.data.current?.strand === undefined
    ? closestCenter({
        ...args,
        droppableContainers: args.droppableContainers.filter(({ id }) => id !== OWN && id !== OUT),
      })
    : pointerWithin(args);

/** Strands at the left, written parts in score order at the right, and what goes into what. */
export function RosterStage() {
  const doubts = useDoubts();
  const { summary, decisions, inventory, stock, take } = useSession(
    'summary',
    'decisions',
    'inventory',
    'stock',
    'take',
  );
  const parts = summary?.parts ?? NONE;
  const groups = summary?.groups ?? NO_GROUPS;
  const bars = summary?.bars;
  const isScore = stock.kind === 'score';
  const [chosen, setChosen] = useState<ReadonlySet<StrandId>>(new Set());
  const sensors = useSensors(useSensor(PointerSensor, BY_POINTER), useSensor(KeyboardSensor, BY_KEYS));
  const leaders = useMemo(() => parts.map((part) => part.leader), [parts]);
  const order = useCallback((ids: StrandId[]) => take({ kind: 'order', strands: ids }), [take]);
  // The lines keep what they move by: the order is looked up when it is needed.
  const current = useRef(leaders);
  current.current = leaders;
  const move = useCallback(
    (from: number, to: number) => order(arrayMove(current.current, from, to)),
    [order],
  );
  const at = (id: UniqueIdentifier) => leaders.indexOf(id as StrandId);

  // Strands stand as their parts do, what is unsure first and what is left out last.
  const rows = useMemo(() => {
    const places = new Map(
      (summary?.parts ?? []).flatMap((part, index) => part.strands.map((id) => [id, index] as const)),
    );
    const place = (id: StrandId) => places.get(id) ?? places.size;
    return inventory.strands
      .map((entry) => rowOf(entry, decisions.strands.get(entry.id) ?? {}, isScore))
      .sort(
        (a, b) =>
          Number(b.isUnsure) - Number(a.isUnsure) ||
          Number(a.decided.out ?? false) - Number(b.decided.out ?? false) ||
          place(a.entry.id) - place(b.entry.id),
      );
  }, [inventory, decisions, summary, isScore]);
  const filtered = useFiltered(rows);
  // Of the parts those stay in view that a strand in view goes into.
  const shown = useMemo(() => {
    if (filtered.rows.length === rows.length) return parts;
    const inView = new Set(filtered.rows.map(({ entry }) => entry.id));
    return parts.filter(({ strands }) => strands.some((id) => inView.has(id)));
  }, [parts, rows, filtered.rows]);
  const links = filtered.rows.flatMap(({ entry: { id } }, from) =>
    shown.flatMap((part, to) => (part.strands.includes(id) ? [{ from, to, isChosen: chosen.has(id) }] : [])),
  );
  const there = rows.filter(({ entry }) => chosen.has(entry.id)).map(({ entry }) => entry);

  const choose = useCallback(
    (ids: readonly StrandId[], isChosen: boolean) =>
      setChosen((before) => {
        const now = new Set(before);
        for (const id of ids)
          if (isChosen) now.add(id);
          else now.delete(id);
        return now;
      }),
    [],
  );

  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over) return;
    const dragged = active.data.current?.strand as StrandId | undefined;
    if (dragged === undefined) {
      if (active.id !== over.id) move(at(active.id), at(over.id));
      return;
    }
    // What is ticked goes along with it.
    const moved = chosen.has(dragged) ? there.map(({ id }) => id) : [dragged];
    if (over.id === OUT) take(...moved.map((strand) => ({ kind: 'leave-out' as const, strand, out: true })));
    else {
      const into = over.id === OWN ? null : (over.id as StrandId);
      const part = parts.find(({ leader }) => leader === into);
      take(
        ...moved.flatMap((strand) => [
          ...routed(strand, strand === into ? null : into),
          ...doubled(
            inventory.strands.find(({ id }) => id === strand),
            part?.instrument,
          ),
        ]),
      );
    }
  };

  // Drawn anew only when the parts are others: each line is much to draw.
  const list = useMemo(() => {
    const names = new Map<string, number>();
    for (const { name } of parts) names.set(name, (names.get(name) ?? 0) + 1);
    return (
      <SortableContext items={shown.map((part) => part.leader)} strategy={verticalListSortingStrategy}>
        <ol className={styles.list} aria-label="Parts in score order">
          <Stepwise by={LINES}>
            {shown.map((part) => {
              const index = parts.indexOf(part);
              return (
                <PartLine
                  key={part.leader}
                  part={part}
                  place={index}
                  of={parts.length}
                  alike={names.get(part.name) !== 1}
                  unstoppedFrom={part.firstUnplayable === null ? undefined : bars?.[part.firstUnplayable]}
                  beyondFrom={part.firstOutOfRange === null ? undefined : bars?.[part.firstOutOfRange]}
                  isScore={isScore}
                  doubt={doubts.get(part.leader) ?? null}
                  groups={groups}
                  onMove={move}
                />
              );
            })}
          </Stepwise>
        </ol>
      </SortableContext>
    );
  }, [parts, shown, groups, bars, isScore, move]);

  return (
    <div className={styles.stage}>
      <header className={styles.head}>
        <h1>{counted(parts.length, 'part')}</h1>
        {!isScore && <Confirm rows={rows} />}
        <AddPart />
        <Dropdown
          trigger={['click']}
          menu={{
            items: [
              ...Object.entries(SCORE_ORDERS).map(([key, label]) => ({ key, label })),
              { type: 'divider' },
              { key: 'back', label: 'Back to score order', disabled: decisions.order.length === 0 },
            ],
            onClick: ({ key }) =>
              order(key === 'back' ? [] : inOrder(key as ScoreOrder, parts).map(({ leader }) => leader)),
          }}
        >
          <Button
            disabled={parts.length < 2}
            title={parts.length < 2 ? 'There is nothing to order' : undefined}
          >
            Put in order…
          </Button>
        </Dropdown>
        <LineUps />
        <Precedents />
      </header>
      <DndContext sensors={sensors} collisionDetection={collisions} onDragEnd={onDragEnd}>
        <div className={styles.tools}>
          <StrandFilter filter={filtered} all={rows} chosen={chosen} onChoose={choose} />
          <RoutingTools chosen={there} clear={() => setChosen(new Set())} />
        </div>
        <div className={styles.desk}>
          <div>
            <StrandList rows={filtered.rows} chosen={chosen} onChoose={choose} />
            <Zone id={OUT}>Drop here what is left out</Zone>
          </div>
          <Connections links={links} strands={filtered.rows.length} parts={shown.length} />
          <div>
            {list}
            <Zone id={OWN}>Drop a strand here for a part of its own</Zone>
          </div>
        </div>
      </DndContext>
      {parts.length === 0 && <NothingShown parts={0} className="soft" />}
    </div>
  );
}

/** A strand goes into a part; one that was left out is taken in for it. */
const routed = (strand: StrandId, into: StrandId | null) => [
  { kind: 'join' as const, strand, into },
  { kind: 'leave-out' as const, strand, out: false },
];

/** From this confidence on a name names its instrument. */
const NAMED = 0.7;

/** What plainly is another instrument of the same kind is what the player of the part changes to. */
function doubled(strand: StrandEntry | undefined, into: string | undefined): PlainDirective[] {
  if (!strand || !into || strand.guess.id === into || strand.guess.confidence < NAMED) return [];
  const [own, part] = [instrumentOf(strand.guess.id), instrumentOf(into)];
  const isDoubling = own.singleLine && part.singleLine && own.family === part.family;
  return isDoubling ? [{ kind: 'cast', strand: strand.id, instrument: own.id }] : [];
}

function Zone({ id, children }: { id: string; children: ReactNode }) {
  const { setNodeRef, isOver, active } = useDroppable({ id });
  const isWaiting = active?.data.current?.strand !== undefined;
  return (
    <p
      ref={setNodeRef}
      className={`${styles.zone} ${isWaiting ? styles.waiting : ''} ${isOver ? styles.target : ''}`}
    >
      {children}
    </p>
  );
}
