'use client';

import { Table, type TableProps } from 'antd';
import { useEffect, useState } from 'react';
import styles from './ProofStage.module.css';

/** More rows at once make the page slow. */
const ON_PAGE = 100;

interface Props<Row> extends Omit<TableProps<Row>, 'dataSource' | 'rowKey' | 'pagination'> {
  rows: readonly Row[];
  /** The row in hand, by its id; it is always in view. */
  current: string | null;
  onCurrent: (id: string) => void;
  height: number;
  classOf?: (row: Row) => string;
}

/** A table of which one row is in hand, wherever it stands. */
export function SteppedTable<Row extends { id: string }>({
  rows,
  current,
  onCurrent,
  height,
  classOf,
  ...table
}: Props<Row>) {
  const [sheet, setSheet] = useState(1);
  const at = rows.findIndex(({ id }) => id === current);
  useEffect(() => {
    if (at < 0) return;
    setSheet(Math.floor(at / ON_PAGE) + 1);
    // The row may have to be drawn first.
    const frame = requestAnimationFrame(() => {
      document
        .querySelector(`[data-row-key="${CSS.escape(current!)}"]`)
        ?.scrollIntoView({ block: 'nearest' });
    });
    return () => cancelAnimationFrame(frame);
  }, [at, current]);
  return (
    // A table that scrolls by itself has a hidden row of its heads, with all that can be pressed in them.
    <div className={styles.scroll} style={{ maxHeight: height }}>
      <Table<Row>
        {...table}
        className={styles.table!}
        size="small"
        rowKey="id"
        dataSource={rows as Row[]}
        tableLayout="fixed"
        pagination={{
          pageSize: ON_PAGE,
          current: sheet,
          onChange: setSheet,
          size: 'small',
          hideOnSinglePage: true,
          showSizeChanger: false,
        }}
        rowClassName={(row) => `${row.id === current ? styles.inHand : ''} ${classOf?.(row) ?? ''}`}
        onRow={({ id }) => ({ onClick: () => onCurrent(id), 'aria-current': id === current })}
      />
    </div>
  );
}
