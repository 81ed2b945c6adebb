'use client';

import { Button, Empty, Space, Table, type TableColumnsType } from 'antd';
import { usePathname, useRouter } from 'next/navigation';
import { useMemo } from 'react';
import { counted } from '../../core/basics/words';
import type { PlainDirective } from '../../core/decisions/kinds';
import { spelledStrand } from '../../core/model/ids';
import type { Oddity } from '../../core/stock/oddities';
import { harmWords, isInBulk, NEXT_TO_CERTAIN } from '../../core/stock/oddities/oddity';
import { useChosen } from '../common/useChosen';
import { useHeight } from '../common/useHeight';
import { useSession } from '../job/session';
import { ODDITY_NAMES } from './oddity-words';
import styles from './SourcesStage.module.css';
import { useMends } from './useMends';

interface Row extends Oddity {
  where: string;
  name: string;
}

const SURENESS = [
  { words: 'next to certain', least: NEXT_TO_CERTAIN },
  { words: 'likely', least: 0.8 },
  { words: 'a guess', least: 0 },
] as const;

const surenessOf = ({ sure }: Oddity) => SURENESS.find(({ least }) => sure >= least) ?? SURENESS[2];

/** What may be done instead of the mend, which holds already. */
function Instead({ row, take }: { row: Row; take: (...directives: PlainDirective[]) => void }) {
  const { instead } = row;
  if (!instead) return null;
  return (
    <Button
      size="small"
      onClick={() => take(...instead.directives)}
      aria-label={`${instead.label}: ${ODDITY_NAMES[row.kind]}, ${row.name}`}
    >
      {instead.label}
    </Button>
  );
}

/** Everything odd in the source, each with one action that mends it. */
export function OdditiesView() {
  const { inventory, decisions, take, changes } = useSession('inventory', 'decisions', 'take', 'changes');
  const { chosen, clear, rowSelection } = useChosen<string>();
  const height = useHeight(310);
  const rows = useMemo(
    () =>
      inventory.oddities.map((oddity): Row => {
        const strand = inventory.strands.find((each) => each.id === oddity.strand);
        const track = /\/t(\d+)$/.exec(oddity.strand ?? '');
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
  const router = useRouter();
  const path = usePathname();
  const toChanges = () => router.replace(`${path}?view=cleaning`, { scroll: false });
  const mends = useMends();
  const mend = (oddities: readonly Oddity[]) => {
    mends.mend(oddities);
    clear();
  };
  const accept = (oddities: readonly Oddity[]) => {
    mends.accept(oddities);
    clear();
  };
  const picked = rows.filter((row) => chosen.includes(row.id));
  const kinds = [...new Set(rows.map((row) => row.kind))];

  const columns: TableColumnsType<Row> = [
    {
      title: 'Kind',
      key: 'kind',
      width: 178,
      sorter: (a, b) => ODDITY_NAMES[a.kind].localeCompare(ODDITY_NAMES[b.kind]),
      filters: kinds.map((kind) => ({
        text: `${ODDITY_NAMES[kind]} (${rows.filter((row) => row.kind === kind).length})`,
        value: kind,
      })),
      onFilter: (kind, row) => row.kind === kind,
      render: (_, row) => <span className="rubric">{ODDITY_NAMES[row.kind]}</span>,
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
      render: (what: string, row) => (
        <span className={styles.what}>
          {what}
          {row.harm && <span className="soft"> {harmWords(row.harm)}</span>}
        </span>
      ),
    },
    {
      title: 'How sure',
      key: 'sure',
      width: 128,
      sorter: (a, b) => a.sure - b.sure,
      filters: SURENESS.map(({ words, least }) => ({ text: words, value: least })),
      onFilter: (least, row) => surenessOf(row).least === least,
      render: (_, row) => surenessOf(row).words,
    },
    {
      title: 'Mend',
      key: 'mend',
      width: 300,
      render: (_, row) => (
        <Space size={4} wrap>
          <Button
            size="small"
            onClick={() => mend([row])}
            aria-label={`${row.mend.label}: ${ODDITY_NAMES[row.kind]}, ${row.name}`}
          >
            {row.mend.label}
          </Button>
          <Instead row={row} take={take} />
          <Button
            size="small"
            type="text"
            onClick={() => accept([row])}
            aria-label={`Mark as intended: ${ODDITY_NAMES[row.kind]}, ${row.name}`}
          >
            Mark as intended
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
          <>
            <p>
              {decisions.meant.size > 0
                ? `Nothing else is odd; ${counted(decisions.meant.size, 'thing')} marked as intended.`
                : 'Nothing is odd in this source.'}
            </p>
            {changes.length > 0 && (
              <p>
                {counted(changes.length, 'change')} in{' '}
                {counted(new Set(changes.map(({ strand }) => strand)).size, 'strand')} made it so.{' '}
                <Button size="small" onClick={toChanges}>
                  Before and after
                </Button>
              </p>
            )}
          </>
        }
      />
    );
  const safe = rows.filter(isInBulk);
  return (
    <>
      <div className={styles.tools}>
        <span className="soft">
          Each has one action that mends it; the source itself stays as it came.
          {safe.length < rows.length &&
            ` ${counted(rows.length - safe.length, 'mend')} would take notes out, change sounds, divide parts or move bar lines, and ${
              rows.length - safe.length === 1 ? 'is' : 'are'
            } not certain: ${rows.length - safe.length === 1 ? 'it wants' : 'they want'} a look.`}
        </span>
        <Space role="group" aria-label="Mend many">
          {picked.length > 0 && (
            <>
              <Button size="small" type="primary" onClick={() => mend(picked)}>
                Mend the {picked.length} chosen
              </Button>
              <Button size="small" onClick={() => accept(picked)}>
                Mark as intended
              </Button>
            </>
          )}
          <Button
            size="small"
            disabled={safe.length === 0}
            title={safe.length === 0 ? 'Each of these could harm music: look at them one by one' : undefined}
            onClick={() => mend(safe)}
          >
            {safe.length === rows.length
              ? `Mend all ${rows.length}`
              : `Mend the ${safe.length} that are safe`}
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
        scroll={{ x: 1120, y: height }}
        virtual
        rowSelection={rowSelection}
      />
    </>
  );
}
