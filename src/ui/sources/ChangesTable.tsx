'use client';

import { Table, type TableColumnsType } from 'antd';
import type { Change } from '../../core/clean';
import { spelledStrand } from '../../core/model/ids';
import { useHeight } from '../common/useHeight';
import { useSession } from '../job/session';
import styles from './SourcesStage.module.css';

const STEPS: Record<string, string> = {
  channel: 'Channel',
  'clock-event': 'Clock',
  controllers: 'Controllers',
  hanging: 'Hanging notes',
  'key-switches': 'Key switches',
  kit: 'Kit',
  programs: 'Programs',
  silence: 'Silence',
  specks: 'Specks',
  split: 'Split',
  stacked: 'Stacked notes',
  add: 'Single notes added',
  pitch: 'Single notes moved',
  played: 'Single notes played otherwise',
  drop: 'Single notes left out',
  velocities: 'Velocities',
  write: 'Notes of the score',
};

interface Row extends Change {
  id: string;
  name: string;
}

/** What cleaning does, as counts before and after. */
export function ChangesTable() {
  const { changes, inventory } = useSession('changes', 'inventory');
  const height = useHeight(340);
  const rows = changes.map((change, index): Row => {
    const root = inventory.strands.find((each) => each.id === change.strand);
    return {
      ...change,
      id: String(index),
      name: change.strand ? root?.name || spelledStrand(change.strand) : 'Whole piece',
    };
  });
  const columns: TableColumnsType<Row> = [
    { title: 'Strand', dataIndex: 'name', sorter: (a, b) => a.name.localeCompare(b.name) },
    {
      title: 'Decision',
      dataIndex: 'step',
      sorter: (a, b) => a.step.localeCompare(b.step),
      filters: [...new Set(changes.map((change) => change.step))].map((step) => ({
        text: STEPS[step] ?? step,
        value: step,
      })),
      onFilter: (step, row) => row.step === step,
      render: (step: string) => STEPS[step] ?? step,
    },
    { title: 'Of what', dataIndex: 'what', sorter: (a, b) => a.what.localeCompare(b.what) },
    {
      title: 'Before',
      dataIndex: 'before',
      align: 'right',
      width: 90,
      sorter: (a, b) => a.before - b.before,
    },
    { title: 'After', dataIndex: 'after', align: 'right', width: 90, sorter: (a, b) => a.after - b.after },
  ];
  return (
    <Table
      className={styles.table}
      size="small"
      rowKey="id"
      virtual
      scroll={{ x: 700, y: height }}
      columns={columns}
      dataSource={rows}
      pagination={false}
      locale={{ emptyText: 'Nothing is changed: the source goes on as it came.' }}
    />
  );
}
