'use client';

import { Button, Table, type TableColumnsType } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import type { BarRow } from '../../core/deliver/bar-table';
import { framesOfCode, type Rate } from '../../core/deliver/smpte';
import { PrintedTable, PrintSheet } from '../common/PrintSheet';
import { saveFile } from '../common/saveFile';
import { useHeight } from '../common/useHeight';
import { useOfPerformance, useSession } from '../job/session';
import styles from './DeliverStage.module.css';
import { TimeCodeFields } from './TimeCodeFields';

const NO_TABLE: { rows: BarRow[]; csv: string } = { rows: [], csv: '' };

/** Bars with their times: the sheet that makes a bar number mean the same on every machine. */
export function BarTableDelivery() {
  const { job } = useSession('job');
  const [{ rate, start }, setCode] = useState<{ rate: Rate; start: string }>({
    rate: '25',
    start: '00:00:00:00',
  });
  const set = (change: { rate?: Rate; start?: string }) => setCode((code) => ({ ...code, ...change }));
  const height = useHeight(250);
  const isCode = framesOfCode(start, rate) !== null;

  const {
    data: table = NO_TABLE,
    isOld,
    why,
  } = useOfPerformance(
    ['bar table', rate, start.trim()],
    (core, revision) => core.barTable(revision, { rate, start: start.trim() }),
    isCode,
  );

  const columns: TableColumnsType<BarRow> = [
    { title: 'Bar', dataIndex: 'bar', width: 70, align: 'right', sorter: (a, b) => a.bar - b.bar },
    {
      title: 'Meter',
      dataIndex: 'meter',
      width: 80,
      filters: meters(table.rows),
      onFilter: (meter, row) => row.meter === meter,
    },
    {
      title: 'Tempo',
      dataIndex: 'tempo',
      width: 130,
      sorter: (a, b) => a.tempo - b.tempo,
      render: (_, row) => (
        <>
          {row.beat} = {row.beatTempo}
          {row.tempoMoves && <span className="soft"> changes</span>}
        </>
      ),
    },
    { title: 'Time', dataIndex: 'time', width: 110, align: 'right' },
    { title: `Time code at ${rate}`, dataIndex: 'timeCode', width: 160 },
    { title: 'Tick', dataIndex: 'tick', width: 100, align: 'right' },
    { title: 'Markers', dataIndex: 'markers', width: 160, ellipsis: true },
    {
      title: 'Playing',
      key: 'playing',
      ellipsis: true,
      render: (_, { playing }) => <span title={playing.join(', ')}>{playing.join(', ')}</span>,
    },
  ];
  return (
    <section aria-label="Bar table">
      <div className={styles.row} style={{ margin: '14px 0 10px' }}>
        <TimeCodeFields rate={rate} start={start} onChange={set} />
        <Button
          type="primary"
          disabled={!isCode || isOld || table.rows.length === 0}
          onClick={() =>
            saveFile(
              `${job.sourceName.replace(/\.[^.]+$/, '')} bars.csv`,
              new Blob([table.csv], { type: 'text/csv' }),
            )
          }
        >
          Download as CSV
        </Button>
        <PrintSheet disabled={table.rows.length === 0}>
          <h1>{job.title}: bars</h1>
          <PrintedTable
            heads={['Bar', 'Meter', 'Tempo', 'Time', `Time code ${rate}`, 'Markers', 'Playing']}
            rows={table.rows.map((row) => [
              String(row.bar),
              row.meter,
              `${row.beat} = ${row.beatTempo}${row.tempoMoves ? ', changes' : ''}`,
              row.time,
              row.timeCode,
              row.markers,
              row.playing.join(', '),
            ])}
          />
        </PrintSheet>
        <span className="soft">
          {why !== null
            ? 'Not known'
            : table === NO_TABLE
              ? 'Working it out …'
              : counted(table.rows.length, 'bar')}
        </span>
      </div>
      <Table
        size="small"
        rowKey="tick"
        virtual
        className="figures"
        scroll={{ x: 760, y: height }}
        columns={columns}
        dataSource={table.rows}
        pagination={false}
      />
    </section>
  );
}

const meters = (rows: readonly BarRow[]) =>
  [...new Set(rows.map((row) => row.meter))].map((meter) => ({ text: meter, value: meter }));
