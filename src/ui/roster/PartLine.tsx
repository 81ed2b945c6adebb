'use client';

import { ArrowDownOutlined, ArrowUpOutlined, HolderOutlined } from '@ant-design/icons';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Button, Segmented, Space, Tooltip } from 'antd';
import { memo } from 'react';
import { counted } from '../../core/basics/words';
import { instrumentOf } from '../../core/instruments/catalogue';
import { isFretted } from '../../core/instruments/tunings';
import { isAdded } from '../../core/model/ids';
import type { PartGroup } from '../../core/model/score';
import type { PartSummary } from '../../core/workbench/replies';
import { EditableText } from '../common/EditableText';
import { InstrumentPicker } from '../common/InstrumentPicker';
import { leadText } from '../common/names';
import { useSession } from '../job/session';
import { FretsPicker } from './FretsPicker';
import styles from './RosterStage.module.css';
import { TranspositionPicker } from './TranspositionPicker';

/** So many marks of groups find room, and how far apart they stand, in pixels. */
const MOST_SHOWN = 3;
const BESIDE = 5;

/** A player's instruments where they are few, else how many: all of them are told beside it. */
const setUpText = (sounds: readonly string[]): string =>
  sounds.length <= FEW_SOUNDS ? sounds.join(', ') : counted(sounds.length, 'sound');
const FEW_SOUNDS = 3;

const groupText = ({ symbol, name }: PartGroup): string => (name ? `${name}, ${symbol}` : symbol);

interface Props {
  part: PartSummary;
  /** Its place in the score, and how many parts that has. */
  place: number;
  of: number;
  /** Another part has its name. */
  alike: boolean;
  /** The printed number of the bar with its first note out of range, if it has one. */
  beyondFrom: number | undefined;
  /** … of the bar with its first chord that no hand can stop. */
  unstoppedFrom: number | undefined;
  isScore: boolean;
  /** How sure its instrument is, 0–1, where it was guessed and wants a look. */
  doubt: number | null;
  /** Brackets and braces of the score. */
  groups: readonly PartGroup[];
  onMove: (from: number, to: number) => void;
}

/** One written part, to be dragged to another place or to take up a strand. */
export const PartLine = memo(function PartLine({ groups, ...fields }: Props) {
  const { part, place } = fields;
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isOver, active } =
    useSortable({ id: part.leader });
  const around = groups.filter(({ from, to }) => place >= from && place <= to);
  const isTarget = isOver && active?.data.current?.strand !== undefined;
  return (
    <li
      ref={setNodeRef}
      className={`${styles.line} ${isTarget ? styles.target : ''}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      {around.length > 0 && (
        <span className={styles.groups} title={around.map(groupText).join(', ')}>
          {around.slice(0, MOST_SHOWN).map(({ from, to, symbol }, at) => (
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
      <PartFields {...fields} />
    </li>
  );
});

/** Its name, instrument, staves and transposition: much to draw, so only where they change. */
const PartFields = memo(function PartFields({
  part,
  place,
  of,
  alike,
  beyondFrom,
  unstoppedFrom,
  isScore,
  doubt,
  onMove,
}: Omit<Props, 'groups'>) {
  const { take } = useSession('take');
  const strand = part.leader;
  const instrument = instrumentOf(part.instrument);
  const why = `${part.why} ${leadText(part.leads)}`.trim();
  const range = beyondFrom === undefined ? '' : `${part.outOfRange} out of range from bar ${beyondFrom}.`;
  return (
    <>
      <Space.Compact>
        <Button
          size="small"
          icon={<ArrowUpOutlined />}
          aria-label={`Move ${part.name} up`}
          disabled={place === 0}
          onClick={() => onMove(place, place - 1)}
        />
        <Button
          size="small"
          icon={<ArrowDownOutlined />}
          aria-label={`Move ${part.name} down`}
          disabled={place === of - 1}
          onClick={() => onMove(place, place + 1)}
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
      {isFretted(instrument) && !isScore ? (
        <FretsPicker part={part} />
      ) : (
        <Segmented
          size="small"
          aria-label={`Staves of ${part.name}`}
          disabled={instrument.unpitched || isScore}
          title={isScore ? 'The score has its staves' : 'Staves'}
          value={part.staves}
          options={[
            { label: '1 staff', value: 1 },
            { label: '2 staves', value: 2 },
          ]}
          onChange={(staves) => take({ kind: 'staves', strand, staves: staves as 1 | 2 })}
        />
      )}
      <TranspositionPicker part={part} disabled={instrument.unpitched} />
      <span className={`soft ${styles.why}`}>
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
        {unstoppedFrom !== undefined && (
          <em className="rubric">
            {counted(part.unplayable, 'chord')} that no hand can stop, from bar {unstoppedFrom}.{' '}
          </em>
        )}
        {doubt !== null && <em className="rubric">A guess, {Math.round(100 * doubt)} % sure. </em>}
        <Tooltip title={`${part.setUp.length > 0 ? `${part.setUp.join(', ')}. ` : ''}${why}`}>
          <button type="button" className={styles.reason}>
            {part.notes === 0 ? 'Rests throughout' : counted(part.notes, 'note')}
            {part.strands.length > 1 && ` from ${part.strands.length} strands`}
            {part.setUp.length > 0 && `: ${setUpText(part.setUp)}`}
          </button>
        </Tooltip>
      </span>
    </>
  );
});
