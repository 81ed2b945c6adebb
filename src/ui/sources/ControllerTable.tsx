'use client';

import { Button, Select, Space, Table, type TableColumnsType } from 'antd';
import { counted } from '../../core/basics/words';
import { CONTROLLER_USES } from '../../core/decisions/kinds/controllers';
import { useChosen } from '../common/useChosen';
import { useHeight } from '../common/useHeight';
import { MixerTools } from './MixerTools';
import styles from './SourcesStage.module.css';
import { type LaneRow, USE_NAMES, type Use, useLaneRows } from './useLaneRows';

/** Every controller, bend and pressure of the source, and what becomes of it. */
export function ControllerTable() {
  const { rows, decide: decideAll } = useLaneRows();
  const { chosen, clear, rowSelection } = useChosen<string>();
  const height = useHeight(386);
  const decide = (targets: readonly LaneRow[], use: Use) => {
    decideAll(targets, use);
    clear();
  };
  const picked = rows.filter((row) => chosen.includes(row.id));
  const names = [...new Map(rows.map((row) => [row.lane, row.name]))];

  const columns: TableColumnsType<LaneRow> = [
    {
      title: 'Strand',
      dataIndex: 'strandName',
      width: 180,
      ellipsis: true,
      sorter: (a, b) => a.strandName.localeCompare(b.strandName),
    },
    {
      title: 'Controller',
      dataIndex: 'name',
      width: 170,
      sorter: (a, b) => a.lane.localeCompare(b.lane, 'en', { numeric: true }),
      filters: names.map(([value, text]) => ({ value, text })),
      onFilter: (lane, row) => row.lane === lane,
      render: (name: string, row) => (
        <>
          {name}
          {row.mixer && <span className="soft"> · mixer</span>}
        </>
      ),
    },
    { title: 'Events', dataIndex: 'count', width: 80, align: 'right', sorter: (a, b) => a.count - b.count },
    { title: 'First', dataIndex: 'first', width: 70, align: 'right', sorter: (a, b) => a.first - b.first },
    {
      title: 'Values',
      key: 'values',
      width: 96,
      render: (_, row) => (row.lowest === row.highest ? row.lowest : `${row.lowest}–${row.highest}`),
    },
    {
      title: 'Bars',
      key: 'bars',
      width: 84,
      sorter: (a, b) => a.from.tick - b.from.tick,
      render: (_, row) => (row.from.bar === row.to.bar ? row.from.bar : `${row.from.bar}–${row.to.bar}`),
    },
    {
      title: 'Repeated',
      dataIndex: 'repeats',
      width: 92,
      align: 'right',
      sorter: (a, b) => a.repeats - b.repeats,
    },
    {
      title: 'Becomes',
      key: 'use',
      width: 180,
      sorter: (a, b) => a.use.localeCompare(b.use),
      render: (_, row) => (
        <Select<Use>
          size="small"
          variant="borderless"
          value={row.use}
          style={{ width: 160 }}
          aria-label={`${row.name} of ${row.strandName} becomes`}
          options={CONTROLLER_USES.map((value) => ({ value, label: USE_NAMES[value] }))}
          onChange={(use) => decide([row], use)}
        />
      ),
    },
  ];
  return (
    <>
      <div className={styles.tools}>
        <MixerTools rows={rows} decide={decide} />
        {picked.length > 0 && (
          <Space className={styles.many} role="group" aria-label="Do to all chosen">
            <strong>{counted(picked.length, 'row')}:</strong>
            {CONTROLLER_USES.map((use) => (
              <Button key={use} size="small" onClick={() => decide(picked, use)}>
                {USE_NAMES[use]}
              </Button>
            ))}
          </Space>
        )}
      </div>
      <Table
        className={styles.table}
        size="small"
        rowKey="id"
        virtual
        scroll={{ x: 960, y: height }}
        columns={columns}
        dataSource={rows}
        pagination={false}
        rowClassName={(row) => (row.use === 'remove' ? styles.out! : '')}
        rowSelection={rowSelection}
        locale={{ emptyText: 'The source has no controllers.' }}
      />
    </>
  );
}
