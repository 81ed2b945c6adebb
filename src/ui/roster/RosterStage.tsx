'use client';

import { ArrowDownOutlined, ArrowUpOutlined, HolderOutlined } from '@ant-design/icons';
import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  type UniqueIdentifier,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Button, Segmented, Space } from 'antd';
import { counted } from '../../core/basics/words';
import { instrumentOf } from '../../core/instruments/catalogue';
import type { StrandId } from '../../core/model/ids';
import type { PartSummary } from '../../core/workbench/replies';
import { EditableText } from '../common/EditableText';
import { InstrumentPicker } from '../common/InstrumentPicker';
import { NothingShown } from '../common/NothingShown';
import { leadText } from '../common/names';
import { Stepwise } from '../common/Stepwise';
import { useSession } from '../job/session';
import { Precedents } from './Precedents';
import styles from './RosterStage.module.css';
import { TranspositionPicker } from './TranspositionPicker';

/** So many lines are drawn at a time. */
const LINES = 8;

/** The written parts in score order: names, instruments, staves. */
export function RosterStage() {
  const { summary, decisions, take } = useSession('summary', 'decisions', 'take');
  const parts = summary?.parts ?? [];
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );

  const order = (ids: StrandId[]) => take({ kind: 'order', strands: ids });
  const leaders = parts.map((part) => part.strands[0]!);
  const move = (from: number, to: number) => order(arrayMove(leaders, from, to));
  const at = (id: UniqueIdentifier) => leaders.indexOf(id as StrandId);
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id) move(at(active.id), at(over.id));
  };

  return (
    <div className={styles.stage}>
      <header className={styles.head}>
        <h1>{counted(parts.length, 'part')}</h1>
        <Button
          disabled={decisions.order.length === 0}
          title={decisions.order.length === 0 ? 'The parts are in score order' : undefined}
          onClick={() => order([])}
        >
          Back to score order
        </Button>
        <Precedents />
      </header>
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
        <SortableContext items={leaders} strategy={verticalListSortingStrategy}>
          <ol className={styles.list} aria-label="Parts in score order">
            <Stepwise by={LINES}>
              {parts.map((part, index) => (
                <PartLine
                  key={part.strands[0]}
                  part={part}
                  isFirst={index === 0}
                  isLast={index === parts.length - 1}
                  alike={parts.filter((each) => each.name === part.name).length > 1}
                  onMove={(by) => move(index, index + by)}
                />
              ))}
            </Stepwise>
          </ol>
        </SortableContext>
      </DndContext>
      {parts.length === 0 && <NothingShown parts={0} className="soft" />}
    </div>
  );
}

interface LineProps {
  part: PartSummary;
  isFirst: boolean;
  isLast: boolean;
  alike: boolean;
  onMove: (by: 1 | -1) => void;
}

function PartLine({ part, isFirst, isLast, alike, onMove }: LineProps) {
  const { take, stock } = useSession('take', 'stock');
  const strand = part.strands[0]!;
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({
    id: strand,
  });
  const instrument = instrumentOf(part.instrument);
  return (
    <li
      ref={setNodeRef}
      className={styles.line}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <button
        type="button"
        ref={setActivatorNodeRef}
        className={styles.grip}
        {...attributes}
        {...listeners}
        aria-label={`Drag ${part.name}`}
      >
        <HolderOutlined />
      </button>
      <Space.Compact>
        <Button
          size="small"
          icon={<ArrowUpOutlined />}
          aria-label={`Move ${part.name} up`}
          disabled={isFirst}
          onClick={() => onMove(-1)}
        />
        <Button
          size="small"
          icon={<ArrowDownOutlined />}
          aria-label={`Move ${part.name} down`}
          disabled={isLast}
          onClick={() => onMove(1)}
        />
      </Space.Compact>
      <div>
        <EditableText
          value={part.name}
          label={`Name of ${part.name}`}
          onSave={(name) => take({ kind: 'name', strand, name })}
        />
        {alike && <span className="rubric">another part has this name</span>}
      </div>
      <InstrumentPicker
        value={part.instrument}
        label={`Instrument of ${part.name}`}
        onChange={(chosen) => take({ kind: 'cast', strand, instrument: chosen })}
      />
      <Segmented
        size="small"
        aria-label={`Staves of ${part.name}`}
        disabled={instrument.unpitched || stock.kind === 'musicxml'}
        title={stock.kind === 'musicxml' ? 'The score has its staves' : undefined}
        value={part.staves}
        options={[
          { label: '1 staff', value: 1 },
          { label: '2 staves', value: 2 },
        ]}
        onChange={(staves) => take({ kind: 'staves', strand, staves: staves as 1 | 2 })}
      />
      <span className="soft figures">
        {counted(part.notes, 'note')}
        {part.strands.length > 1 && ` from ${part.strands.length} strands`}
      </span>
      <TranspositionPicker part={part} disabled={instrument.unpitched} />
      <span className="soft">
        {part.why} {leadText(part.leads)}
      </span>
    </li>
  );
}
