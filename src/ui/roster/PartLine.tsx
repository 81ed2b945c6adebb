'use client';

import { ArrowDownOutlined, ArrowUpOutlined, HolderOutlined } from '@ant-design/icons';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Button, Segmented, Space } from 'antd';
import { counted } from '../../core/basics/words';
import { instrumentOf } from '../../core/instruments/catalogue';
import { isAdded } from '../../core/model/ids';
import type { PartGroup } from '../../core/model/score';
import type { PartSummary } from '../../core/workbench/replies';
import { EditableText } from '../common/EditableText';
import { InstrumentPicker } from '../common/InstrumentPicker';
import { leadText } from '../common/names';
import { useSession } from '../job/session';
import styles from './RosterStage.module.css';
import { TranspositionPicker } from './TranspositionPicker';

/** So many marks of groups find room, and how far apart they stand, in pixels. */
const MOST_SHOWN = 3;
const BESIDE = 5;

const groupText = ({ symbol, name }: PartGroup): string => (name ? `${name}, ${symbol}` : symbol);

interface Props {
  part: PartSummary;
  isFirst: boolean;
  isLast: boolean;
  /** Another part has its name. */
  alike: boolean;
  /** Brackets and braces that it stands in, the widest first. */
  groups: readonly PartGroup[];
  onMove: (by: 1 | -1) => void;
}

/** One written part: its name, instrument, staves and transposition. */
export function PartLine({ part, isFirst, isLast, alike, groups, onMove }: Props) {
  const { take, stock, summary } = useSession('take', 'stock', 'summary');
  const strand = part.leader;
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isOver, active } =
    useSortable({ id: strand });
  const instrument = instrumentOf(part.instrument);
  const why = `${part.why} ${leadText(part.leads)}`.trim();
  const range =
    part.outOfRange === 0
      ? ''
      : `${part.outOfRange} out of range from bar ${summary?.bars[part.firstOutOfRange ?? 0]}.`;
  const isTarget = isOver && active?.data.current?.strand !== undefined;
  return (
    <li
      ref={setNodeRef}
      className={`${styles.line} ${isTarget ? styles.target : ''}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      {groups.length > 0 && (
        <span className={styles.groups} title={groups.map(groupText).join(', ')}>
          {groups.slice(0, MOST_SHOWN).map(({ from, to, symbol }, at) => (
            <span key={`${from} ${to}`} data-symbol={symbol} style={{ left: at * BESIDE }} />
          ))}
        </span>
      )}
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
        title={stock.kind === 'musicxml' ? 'The score has its staves' : 'Staves'}
        value={part.staves}
        options={[
          { label: '1 staff', value: 1 },
          { label: '2 staves', value: 2 },
        ]}
        onChange={(staves) => take({ kind: 'staves', strand, staves: staves as 1 | 2 })}
      />
      <TranspositionPicker part={part} disabled={instrument.unpitched} />
      <span className={`soft ${styles.why}`} title={`${range} ${counted(part.notes, 'note')}. ${why}`.trim()}>
        {isAdded(strand) && (
          <Button
            size="small"
            type="link"
            aria-label={`Take ${part.name} away`}
            onClick={() => take({ kind: 'part', strand, instrument: null })}
          >
            Take away
          </Button>
        )}
        {range && <em className="rubric">{range} </em>}
        {part.notes === 0 ? 'Rests throughout' : counted(part.notes, 'note')}
        {part.strands.length > 1 && ` from ${part.strands.length} strands`}.{' '}
        {part.setUp.length > 0 && `${part.setUp.join(', ')}. `}
        {why}
      </span>
    </li>
  );
}
