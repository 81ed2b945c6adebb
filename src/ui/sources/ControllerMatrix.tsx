'use client';

import { Dropdown, Table, type TableColumnsType } from 'antd';
import { useMemo } from 'react';
import { counted } from '../../core/basics/words';
import { CONTROLLER_USES } from '../../core/decisions/kinds/controllers';
import { useHeight } from '../common/useHeight';
import styles from './ControllerMatrix.module.css';
import { MixerTools } from './MixerTools';
import tools from './SourcesStage.module.css';
import { type LaneRow, USE_NAMES, type Use, useLaneRows } from './useLaneRows';

interface Row {
  strand: string;
  name: string;
  /** By lane. */
  cells: ReadonlyMap<string, LaneRow>;
}

/** All of these are one thing to decide about: one cell, a row, a column, or all. */
interface Target {
  /** What it is, for its name: "Volume (7) of Horn 1". */
  of: string;
  cells: readonly LaneRow[];
}

/** Strands by controllers: how many events each has, and what becomes of them. */
export function ControllerMatrix() {
  const { rows: lanes, decide } = useLaneRows();
  const height = useHeight(300);
  const rows = useMemo(() => {
    const byStrand = new Map<string, { name: string; cells: Map<string, LaneRow> }>();
    for (const each of lanes) {
      const own = byStrand.get(each.strand) ?? { name: each.strandName, cells: new Map<string, LaneRow>() };
      own.cells.set(each.lane, each);
      byStrand.set(each.strand, own);
    }
    return [...byStrand].map(([strand, own]): Row => ({ strand, ...own }));
  }, [lanes]);
  const names = useMemo(
    () =>
      [...new Map(lanes.map(({ lane, name, mixer }) => [lane, { name, mixer }]))].sort(([one], [other]) =>
        one.localeCompare(other, 'en', { numeric: true }),
      ),
    [lanes],
  );
  const choice = (target: Target, label: React.ReactNode) => (
    <Uses target={target} label={label} onUse={(use) => decide(target.cells, use)} />
  );
  const columns: TableColumnsType<Row> = [
    {
      title: choice({ of: 'everything', cells: lanes }, 'Strand'),
      key: 'strand',
      width: 190,
      fixed: 'left',
      ellipsis: true,
      render: (_, { name, cells }) =>
        choice({ of: `everything of ${name}`, cells: [...cells.values()] }, name),
    },
    ...names.map(([lane, { name, mixer }]) => ({
      title: choice(
        { of: `${name} of all strands`, cells: lanes.filter((each) => each.lane === lane) },
        <>
          {name}
          {mixer && <span className="soft"> mixer</span>}
        </>,
      ),
      key: lane,
      width: 112,
      align: 'right' as const,
      render: (_: unknown, row: Row) => {
        const cell = row.cells.get(lane);
        return (
          cell &&
          choice(
            { of: `${name} of ${row.name}`, cells: [cell] },
            <span data-use={cell.use} className={styles.count}>
              {cell.count.toLocaleString('en')}
              {cell.use !== 'keep' && cell.use !== 'remove' && ' → 1'}
            </span>,
          )
        );
      },
    })),
  ];
  const goes = lanes.reduce(
    (sum, { use, count }) => sum + (use === 'keep' ? 0 : use === 'remove' ? count : count - 1),
    0,
  );
  const all = lanes.reduce((sum, { count }) => sum + count, 0);
  return (
    <>
      <div className={tools.tools}>
        <MixerTools rows={lanes} decide={decide} />
        <span className="soft">
          {counted(all - goes, 'event')} {all - goes === 1 ? 'stays' : 'stay'}, {goes.toLocaleString('en')}{' '}
          {goes === 1 ? 'goes' : 'go'}. A cell, a strand or a controller is pressed to decide about it.
        </span>
      </div>
      <Table
        className={tools.table}
        size="small"
        rowKey="strand"
        virtual
        scroll={{ x: 190 + 112 * names.length, y: height }}
        columns={columns}
        dataSource={rows}
        pagination={false}
        locale={{ emptyText: 'The source has no controllers.' }}
      />
    </>
  );
}

function Uses({
  target: { of, cells },
  label,
  onUse,
}: {
  target: Target;
  label: React.ReactNode;
  onUse: (use: Use) => void;
}) {
  const events = cells.reduce((sum, { count }) => sum + count, 0);
  const [first] = cells;
  const shared = first && cells.every(({ use }) => use === first.use) ? first.use : null;
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        selectable: true,
        selectedKeys: shared ? [shared] : [],
        items: CONTROLLER_USES.map((use) => ({ key: use, label: USE_NAMES[use] })),
        onClick: ({ key, domEvent }) => {
          domEvent.stopPropagation();
          onUse(key as Use);
        },
      }}
    >
      <button
        type="button"
        className={styles.press}
        aria-label={`${of}: ${counted(events, 'event')}, ${shared ? USE_NAMES[shared] : 'mixed'}`}
      >
        {label}
      </button>
    </Dropdown>
  );
}
