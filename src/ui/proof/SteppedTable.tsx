'use client';

import { Table, type TableProps } from 'antd';
import { useEffect, useState } from 'react';
import styles from './ProofStage.module.css';

/** More rows at once make the page slow. */
const ON_PAGE = 100;

/** How rows are ordered; null as they come. */
export type Order<Row> = ((a: Row, b: Row) => number) | null;

interface Props<Row> extends Omit<TableProps<Row>, 'dataSource' | 'rowKey' | 'pagination'> {
  rows: readonly Row[];
  /** The row in hand, by its id; it is always in view. */
  current: string | null;
  onCurrent: (id: string) => void;
  height: number;
  classOf?: (row: Row) => string;
  /** Told the order that is chosen, so that whoever steps from row to row goes by it. */
  onOrder: (order: Order<Row>) => void;
}

/** A table of which one row is in hand, wherever it stands. */
export function SteppedTable<Row extends { id: string }>({
  rows,
  current,
  onCurrent,
  height,
  classOf,
  onOrder,
  onChange,
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
        onChange={(page, filters, sorter, extra) => {
          if (extra.action === 'sort') {
            const { order, column } = [sorter].flat()[0] ?? {};
            const compare = order && typeof column?.sorter === 'function' ? column.sorter : null;
            onOrder(compare && ((a, b) => (order === 'descend' ? compare(b, a) : compare(a, b))));
          }
          onChange?.(page, filters, sorter, extra);
        }}
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
