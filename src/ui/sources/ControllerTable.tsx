'use client';

import { Button, Select, Space, Table, type TableColumnsType } from 'antd';
import { useMemo } from 'react';
import { counted } from '../../core/basics/words';
import { decidedFor } from '../../core/decisions/decisions';
import type { PlainDirective } from '../../core/decisions/kinds';
import { CONTROLLER_USES } from '../../core/decisions/kinds/controllers';
import { spelledStrand } from '../../core/model/ids';
import { fitsLane } from '../../core/model/lanes';
import type { LaneUse } from '../../core/stock/controllers';
import { useChosen } from '../common/useChosen';
import { useHeight } from '../common/useHeight';
import { useSession } from '../job/session';
import styles from './SourcesStage.module.css';

type Use = (typeof CONTROLLER_USES)[number];

const USES: Record<Use, string> = {
  keep: 'Keep',
  remove: 'Remove',
  first: 'First value only',
  neutral: 'One neutral value',
};

interface Row extends LaneUse {
  id: string;
  strandName: string;
  use: Use;
}

/** Every controller, bend and pressure of the source, and what becomes of it. */
export function ControllerTable() {
  const { lanes, inventory, decisions, take } = useSession('lanes', 'inventory', 'decisions', 'take');
  const { chosen, clear, rowSelection } = useChosen<string>();
  const height = useHeight(386);
  const rows = useMemo(
    () =>
      lanes
        // Banks go with programs, which are decided for the strand.
        .filter(({ lane }) => lane !== 'cc0' && lane !== 'cc32')
        .map((lane): Row => {
          const rule = decidedFor(decisions, lane.strand).controllers?.findLast(
            (each) => each.from === undefined && each.lanes.some((pattern) => fitsLane(pattern, lane.lane)),
          );
          const strand = inventory.strands.find((each) => each.id === lane.strand);
          return {
            ...lane,
            id: `${lane.strand} ${lane.lane}`,
            strandName: strand?.name || spelledStrand(lane.strand),
            use: rule?.use ?? 'keep',
          };
        }),
    [lanes, decisions, inventory],
  );
  const decide = (targets: readonly Row[], use: Use) => {
    take(
      ...targets.map(
        ({ strand, lane }): PlainDirective => ({ kind: 'controllers', strand, lanes: [lane], use }),
      ),
    );
    clear();
  };
  const picked = rows.filter((row) => chosen.includes(row.id));
  const mixers = rows.filter((row) => row.mixer && row.use !== 'remove');
  const names = [...new Map(rows.map((row) => [row.lane, row.name]))];

  const columns: TableColumnsType<Row> = [
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
          options={CONTROLLER_USES.map((value) => ({ value, label: USES[value] }))}
          onChange={(use) => decide([row], use)}
        />
      ),
    },
  ];
  return (
    <>
      <div className={styles.tools}>
        <Button size="small" disabled={mixers.length === 0} onClick={() => decide(mixers, 'remove')}>
          Remove all mixer controllers
        </Button>
        <span className="soft" role="status">
          {counted(
            mixers.reduce((sum, row) => sum + row.count, 0),
            'mixer event',
          )}{' '}
          would move the faders of whoever receives the file
        </span>
        {picked.length > 0 && (
          <Space className={styles.many} role="group" aria-label="Do to all chosen">
            <strong>{counted(picked.length, 'row')}:</strong>
            {CONTROLLER_USES.map((use) => (
              <Button key={use} size="small" onClick={() => decide(picked, use)}>
                {USES[use]}
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
