'use client';

import { App, Button, Empty, Space, Table, type TableColumnsType } from 'antd';
import { useMemo } from 'react';
import { counted } from '../../core/basics/words';
import { spelledStrand } from '../../core/model/ids';
import type { Oddity, OddityKind } from '../../core/stock/oddities';
import { useChosen } from '../common/useChosen';
import { useHeight } from '../common/useHeight';
import { useSession } from '../job/session';
import styles from './SourcesStage.module.css';

const KINDS: Record<OddityKind, string> = {
  tempo: 'Tempo inside a bar',
  meter: 'Meter off the bar line',
  'default-meter': 'Meter by default',
  key: 'Signature by default',
  grid: 'No usable grid',
  pulse: 'Beats across the file’s',
  silence: 'Silence at the start',
  'empty-track': 'Track without notes',
  doubled: 'Doubled strand',
  echo: 'Echo',
  'key-switches': 'Key switches',
  hanging: 'Hanging notes',
  stacked: 'Stacked notes',
  specks: 'Specks',
  channel: 'Wrong channel',
  kit: 'Foreign kit',
  program: 'Wrong program',
  'program-changes': 'Program changes',
  'shared-channel': 'Shared channel',
  mixer: 'Mixer controllers',
};

interface Row extends Oddity {
  where: string;
  name: string;
}

/** Everything odd in the source, each with one action that mends it. */
export function OdditiesView() {
  const { inventory, decisions, take } = useSession('inventory', 'decisions', 'take');
  const { message } = App.useApp();
  const { chosen, clear, rowSelection } = useChosen<string>();
  const height = useHeight(310);
  const rows = useMemo(
    () =>
      inventory.oddities.map((oddity): Row => {
        const strand = inventory.strands.find((each) => each.id === oddity.strand);
        const track = /^t(\d+)$/.exec(oddity.strand ?? '');
        return {
          ...oddity,
          name: strand
            ? strand.name || spelledStrand(strand.id)
            : track
              ? `Track ${track[1]}`
              : 'Whole piece',
          where: oddity.place ? `${oddity.place.bar}:${Math.floor(oddity.place.beat)}` : '',
        };
      }),
    [inventory],
  );
  const mend = (oddities: readonly Oddity[]) => {
    take(...oddities.flatMap((oddity) => oddity.mend.directives));
    clear();
    message.success(
      `${counted(oddities.length, 'oddity').replace('odditys', 'oddities')} mended. Undo takes it back.`,
    );
  };
  const accept = (oddities: readonly Oddity[]) => {
    take(...oddities.map((oddity) => ({ kind: 'meant' as const, oddity: oddity.id, meant: true })));
    clear();
  };
  const picked = rows.filter((row) => chosen.includes(row.id));
  const kinds = [...new Set(rows.map((row) => row.kind))];

  const columns: TableColumnsType<Row> = [
    {
      title: 'Kind',
      key: 'kind',
      width: 178,
      sorter: (a, b) => KINDS[a.kind].localeCompare(KINDS[b.kind]),
      filters: kinds.map((kind) => ({
        text: `${KINDS[kind]} (${rows.filter((row) => row.kind === kind).length})`,
        value: kind,
      })),
      onFilter: (kind, row) => row.kind === kind,
      render: (_, row) => <span className="rubric">{KINDS[row.kind]}</span>,
    },
    {
      title: 'Strand',
      dataIndex: 'name',
      width: 170,
      ellipsis: true,
      sorter: (a, b) => a.name.localeCompare(b.name),
    },
    {
      title: 'Bar:beat',
      dataIndex: 'where',
      width: 84,
      sorter: (a, b) => (a.place?.tick ?? -1) - (b.place?.tick ?? -1),
      render: (where: string) => <span className="figures">{where || '–'}</span>,
    },
    {
      title: 'What is odd',
      dataIndex: 'what',
      render: (what: string) => <span className={styles.what}>{what}</span>,
    },
    {
      title: 'Mend',
      key: 'mend',
      width: 300,
      render: (_, row) => (
        <Space size={4}>
          <Button
            size="small"
            onClick={() => mend([row])}
            aria-label={`${row.mend.label}: ${KINDS[row.kind]}, ${row.name}`}
          >
            {row.mend.label}
          </Button>
          <Button
            size="small"
            type="text"
            onClick={() => accept([row])}
            aria-label={`It is meant: ${KINDS[row.kind]}, ${row.name}`}
          >
            It is meant
          </Button>
        </Space>
      ),
    },
  ];

  if (rows.length === 0)
    return (
      <Empty
        image={Empty.PRESENTED_IMAGE_SIMPLE}
        description={
          decisions.meant.size > 0
            ? `Nothing else is odd; ${counted(decisions.meant.size, 'thing')} you called meant.`
            : 'Nothing is odd in this source.'
        }
      />
    );
  return (
    <>
      <div className={styles.tools}>
        <span className="soft">Each has one action that mends it; the source itself stays as it came.</span>
        <Space role="group" aria-label="Mend many">
          {picked.length > 0 && (
            <>
              <Button size="small" type="primary" onClick={() => mend(picked)}>
                Mend the {picked.length} chosen
              </Button>
              <Button size="small" onClick={() => accept(picked)}>
                They are meant
              </Button>
            </>
          )}
          <Button size="small" onClick={() => mend(rows)}>
            Mend all {rows.length}
          </Button>
        </Space>
      </div>
      <Table
        className={styles.table}
        rowKey="id"
        size="small"
        columns={columns}
        dataSource={rows}
        pagination={false}
        scroll={{ x: 1000, y: height }}
        virtual
        rowSelection={rowSelection}
      />
    </>
  );
}
