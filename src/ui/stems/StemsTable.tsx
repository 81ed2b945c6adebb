'use client';

import { CaretRightFilled, SwapOutlined } from '@ant-design/icons';
import { Button, Checkbox, InputNumber, Select, Table, type TableColumnsType } from 'antd';
import type { StrandId } from '../../core/model/ids';
import { EditableText } from '../common/EditableText';
import { clockText } from '../common/names';
import { useSession } from '../job/session';
import { usePlayback } from '../playback/playback';
import type { Stem } from './laid-stems';
import styles from './StemsView.module.css';

/** The choice of no part. */
const NO_PART = '';
/** Ten hours, as far as a stem may lie away. */
const FURTHEST = 36_000;

const loudness = ({ heard }: Stem['row']): string => {
  if (!heard) return '';
  const { peak, clipped } = heard.facts;
  if (peak <= 0) return 'silent';
  return `${(20 * Math.log10(peak)).toFixed(1)} dB${clipped > 0 ? ', clipped' : ''}`;
};

/** The stems, each in a row that is edited in place. */
export function StemsTable({
  stems,
  chosen,
  onChoose,
}: {
  stems: readonly Stem[];
  chosen: readonly string[];
  onChoose: (files: readonly string[]) => void;
}) {
  const { take, summary } = useSession('take', 'summary');
  const { playSound, isPlaying } = usePlayback();
  const parts = summary?.parts ?? [];
  const places = new Map(parts.map(({ leader }, index) => [leader, index]));
  const placeOf = ({ part }: Stem) => (part === null ? parts.length : (places.get(part) ?? parts.length));
  const partOf = ({ part }: Stem) => parts.find(({ leader }) => leader === part);
  const columns: TableColumnsType<Stem> = [
    {
      title: 'Heard',
      key: 'heard',
      width: 64,
      sorter: (a, b) => Number(a.muted) - Number(b.muted),
      render: (_, { file, name, muted }) => (
        <Checkbox
          aria-label={`${name} is heard with the others`}
          checked={!muted}
          onChange={({ target }) => take({ kind: 'stem', stem: file, muted: !target.checked })}
        />
      ),
    },
    {
      title: 'Stem',
      key: 'name',
      sorter: (a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }),
      render: (_, { file, name, hidden }) => (
        <span title={file} className={hidden ? 'soft' : undefined}>
          <EditableText
            value={name}
            label={`Name of ${file}`}
            onSave={(text) => take({ kind: 'stem', stem: file, name: text })}
          />
        </span>
      ),
    },
    {
      title: 'Part',
      key: 'part',
      width: 200,
      sorter: (a, b) => placeOf(a) - placeOf(b),
      filters: [
        { text: 'Of a part', value: true },
        { text: 'Of no part', value: false },
      ],
      onFilter: (value, stem) => (partOf(stem) !== undefined) === value,
      render: (_, stem) => (
        <Select
          size="small"
          style={{ width: '100%' }}
          aria-label={`Part of ${stem.name}`}
          showSearch={{ optionFilterProp: 'label' }}
          value={partOf(stem)?.leader ?? NO_PART}
          options={[
            { value: NO_PART, label: 'No part' },
            ...parts.map(({ leader, name }) => ({ value: leader as string, label: name })),
          ]}
          onChange={(value) =>
            take({ kind: 'stem', stem: stem.file, part: value === NO_PART ? null : (value as StrandId) })
          }
        />
      ),
    },
    {
      title: 'Piece begins at',
      key: 'offset',
      width: 130,
      sorter: (a, b) => a.offset - b.offset,
      render: (_, { file, name, offset }) => (
        <InputNumber
          size="small"
          style={{ width: '100%' }}
          aria-label={`Seconds of ${name} at which the piece begins`}
          value={offset}
          min={-FURTHEST}
          max={FURTHEST}
          step={0.01}
          precision={3}
          suffix="s"
          onChange={(value) => value !== null && take({ kind: 'stem', stem: file, offset: value })}
        />
      ),
    },
    {
      title: 'Length',
      key: 'length',
      width: 84,
      align: 'right',
      className: 'figures',
      sorter: (a, b) => a.row.seconds - b.row.seconds,
      render: (_, { row }) => clockText(row.seconds),
    },
    {
      title: 'Loudest',
      key: 'loudest',
      width: 130,
      align: 'right',
      className: 'figures',
      sorter: (a, b) => (a.row.heard?.facts.peak ?? 0) - (b.row.heard?.facts.peak ?? 0),
      render: (_, { row }) => loudness(row),
    },
    {
      title: 'Listen',
      key: 'listen',
      width: 84,
      render: (_, stem) => {
        const { name, row, offset } = stem;
        const part = partOf(stem);
        const sound = { file: row.file, offset };
        return (
          <span className={styles.listen}>
            <Button
              size="small"
              type="text"
              icon={<CaretRightFilled />}
              aria-label={`Hear ${name}`}
              title="Hear it alone"
              disabled={isPlaying}
              onClick={() => playSound(name, sound)}
            />
            <Button
              size="small"
              type="text"
              icon={<SwapOutlined />}
              aria-label={`Hear ${name} in turns with its part`}
              title={part ? `In turns with ${part.name} as it is written` : 'It is of no part'}
              disabled={isPlaying || !part}
              onClick={() => part && playSound(name, sound, part)}
            />
          </span>
        );
      },
    },
  ];
  return (
    <Table<Stem>
      size="small"
      rowKey="file"
      className={styles.table}
      pagination={false}
      scroll={{ y: 420 }}
      dataSource={[...stems]}
      columns={columns}
      rowSelection={{
        columnWidth: 36,
        selectedRowKeys: [...chosen],
        onChange: (keys) => onChoose(keys.map(String)),
        getCheckboxProps: ({ name }) => ({ 'aria-label': `Choose ${name}` }),
      }}
    />
  );
}
