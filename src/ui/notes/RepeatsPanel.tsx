'use client';

import { Button, Select, Table } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import { SHORTHANDS, type ShorthandUse } from '../../core/decisions/kinds/shorthand';
import type { ListedForm } from '../../core/explain/form';
import { MOST_BARS } from '../../core/infer/form/repeats';
import type { ScoreSummary } from '../../core/workbench/replies';
import { useSession } from '../job/session';
import styles from './MarksPanel.module.css';
import { useListed } from './useListed';

/** So many bars with other marks are named. */
const NAMED = 12;

/** What comes again: written as repeats, endings, D.C. and D.S. in the score that is handed over, or bar by bar. */
export function RepeatsPanel({ onGo }: { onGo: (bar: number) => void }) {
  const { summary } = useSession('summary');
  if (!summary) return null;
  return (
    <>
      <Sections onGo={onGo} />
      <Patterns />
    </>
  );
}

/** A pattern of fewer bars than this is written out without a thought. */
const FEW = 4;

const SHORTHAND_LABELS: Record<ShorthandUse, string> = {
  'written-out': 'written out',
  'bar-repeats': 'bar repeats',
  slashes: 'slashes',
};

/** Parts that play one bar over and over: on request their bars are written short. */
function Patterns() {
  const { summary, take } = useSession('summary', 'take');
  const parts = (summary?.parts ?? []).filter(
    ({ likeBars, shorthand }) => likeBars >= FEW || shorthand !== 'written-out',
  );
  if (parts.length === 0) return null;
  return (
    <div className={styles.panel}>
      <h3>Bars like the one before</h3>
      <Table
        size="small"
        rowKey="leader"
        pagination={false}
        scroll={{ y: 220 }}
        dataSource={parts}
        columns={[
          { title: 'Part', dataIndex: 'name', ellipsis: true },
          { title: 'Bars', dataIndex: 'likeBars', width: 44, align: 'right' },
          {
            title: 'As',
            width: 122,
            render: (_, { name, leader, shorthand }) => (
              <Select<ShorthandUse>
                size="small"
                style={{ width: 106 }}
                aria-label={`How ${name} is written`}
                value={shorthand}
                options={SHORTHANDS.map((value) => ({ value, label: SHORTHAND_LABELS[value] }))}
                onChange={(use) => take({ kind: 'shorthand', use, strand: leader })}
              />
            ),
          },
        ]}
      />
      <p className="soft">What sounds stays. Time shows all notes.</p>
    </div>
  );
}

/** Sections that come again. */
function Sections({ onGo }: { onGo: (bar: number) => void }) {
  const { summary, take } = useSession('summary', 'take');
  const { data: listed, isOld } = useListed();
  const [chosen, setChosen] = useState<readonly number[]>([]);
  if (!summary) return null;
  const { bars, folded } = summary;
  if (bars.length > MOST_BARS)
    return <p className="soft">Repeats are looked for in pieces of up to {counted(MOST_BARS, 'bar')}.</p>;
  if (!listed)
    return (
      <p className="soft" role="status">
        Looking for what comes again…
      </p>
    );
  const { form } = listed;
  if (form.length === 0)
    return (
      <p className="soft">
        Nothing comes again note for note over so many bars that signs would spare any. Bars that sound alike
        are alike here when all parts read the same in them.
      </p>
    );
  const picked = form.filter(({ tick }) => chosen.includes(tick));
  const say = (use: 'folded' | 'written-out') => {
    if (picked.length === 0) take({ kind: 'repeats', use });
    else take(...picked.map(({ tick }) => ({ kind: 'repeats' as const, use, from: tick, to: tick + 1 })));
    setChosen([]);
  };
  const some = picked.length > 0 ? `${picked.length}` : 'all';
  const span = (from: number, length: number) =>
    length === 1 ? `${bars[from]}` : `${bars[from]}–${bars[from + length - 1]}`;
  return (
    <div className={styles.panel}>
      <p className="soft" role="status">
        {folded
          ? `The score that is handed over has ${counted(folded.bars, 'bar')} for ${bars.length} that are played.`
          : `Written out: ${counted(bars.length, 'bar')}.`}
      </p>
      <div className={styles.actions}>
        <Button size="small" type="primary" disabled={isOld} onClick={() => say('folded')}>
          Fold {some}
        </Button>
        <Button size="small" disabled={isOld} onClick={() => say('written-out')}>
          Write out {some}
        </Button>
      </div>
      <Table<ListedForm>
        size="small"
        rowKey="tick"
        pagination={false}
        scroll={{ y: 330 }}
        dataSource={form}
        rowSelection={{
          columnWidth: 32,
          selectedRowKeys: [...chosen],
          onChange: (keys) => setChosen(keys.map(Number)),
          getCheckboxProps: (row) => ({ 'aria-label': `${row.sign}, bar ${bars[row.bar]}` }),
        }}
        columns={[
          {
            title: 'Bars',
            width: 80,
            render: (_, row) => (
              <button
                type="button"
                className={styles.place}
                title={`Show bar ${bars[row.again]}`}
                onClick={() => onGo(row.again)}
              >
                {span(row.bar, row.length)}
                <span className={styles.part}>again {span(row.again, row.length)}</span>
              </button>
            ),
          },
          {
            title: 'As',
            render: (_, row) => <span className={row.folded ? undefined : 'soft'}>{row.sign}</span>,
          },
          { title: 'Less', dataIndex: 'spared', width: 44, align: 'right' },
          { title: 'In', width: 30, render: (_, row) => (row.folded ? '✓' : '') },
        ]}
      />
      {folded && <Lost folded={folded} summary={summary} />}
      <p className="soft">The page here stays as it is played, beat by beat beside the source.</p>
    </div>
  );
}

/** What later times have otherwise, which the folded score does not say. */
function Lost({
  folded,
  summary,
}: {
  folded: NonNullable<ScoreSummary['folded']>;
  summary: Pick<ScoreSummary, 'bars' | 'parts'>;
}) {
  const { differences, unsaid, cut } = folded;
  if (differences.length + unsaid.length + cut === 0) return null;
  const named = differences
    .slice(0, NAMED)
    .map(({ part, bar }) => `${summary.parts[part]?.name} ${summary.bars[bar]}`);
  const more = differences.length - named.length;
  return (
    <p className="rubric">
      {differences.length > 0 &&
        `Marks of later times that are not written (bars as played): ${named.join(', ')}${more > 0 ? ` and ${more} more` : ''}. `}
      {unsaid.length > 0 &&
        `Left out: ${unsaid.map(({ bar, text }) => `${text} in bar ${summary.bars[bar]}`).join(', ')}. `}
      {cut > 0 && `${counted(cut, 'slur or line')} over the edge of a repeat left out.`}
    </p>
  );
}
