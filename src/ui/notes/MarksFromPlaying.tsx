'use client';

import { Button, Select, Table } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import { type MarkFrom, TAKEN_MARKS, type TakenMark } from '../../core/workbench/marks-from';
import { useOfScore, useSession } from '../job/session';
import styles from './MarksPanel.module.css';

const KIND_NAMES: Record<TakenMark, string> = {
  dynamics: 'Dynamics',
  hairpins: 'Hairpins',
  accents: 'Accents',
  staccato: 'Staccato',
  slurs: 'Slurs',
  fermatas: 'Fermatas',
};
const SHORT: Record<string, string> = { crescendo: 'cresc.', diminuendo: 'dim.' };
/** Scores have their own marks, and none that were heard. */
const IS_SCORE = /\.(musicxml|mxl|xml)$/i;
const NONE: readonly MarkFrom[] = [];

/** What another source of the job was played like, as marks at the notes of the score. */
export function MarksFromPlaying({ onGo }: { onGo: (bar: number) => void }) {
  const { sources, decisions, summary, take } = useSession('sources', 'decisions', 'summary', 'take');
  const leading = decisions.leading ?? sources[0]?.source;
  const played = sources
    .filter(({ source, name }) => source !== leading && !IS_SCORE.test(name))
    .toSorted((one, other) => other.version - one.version)
    .filter(({ source }, index, all) => all.findIndex((each) => each.source === source) === index);
  const [wanted, setWanted] = useState<string | null>(null);
  const from = played.find(({ source }) => source === wanted) ?? played[0];
  const [kind, setKind] = useState<TakenMark | 'all'>('all');
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const { data, isOld, why } = useOfScore(
    ['marks from', from?.source, from?.version],
    (core, revision) => core.marksFrom(revision, { source: from?.source, version: from?.version }),
    from !== undefined,
  );
  if (!from)
    return (
      <p className="soft">
        The score has its own marks. Add a MIDI file or a recording of the same piece to this job, and its
        dynamics, slurs and accents can be taken over.
      </p>
    );
  const all = data?.marks ?? NONE;
  const rows = all.filter((each) => kind === 'all' || each.kind === kind);
  const picked = rows.filter(({ id }) => chosen.includes(id));
  const taken = picked.length > 0 ? picked : rows;
  const sumOf = (counts: Record<TakenMark, number> | undefined) =>
    TAKEN_MARKS.reduce((sum, each) => sum + (kind === 'all' || kind === each ? (counts?.[each] ?? 0) : 0), 0);
  const [there, homeless] = [sumOf(data?.there), sumOf(data?.homeless)];
  return (
    <div className={styles.panel}>
      <Select
        size="small"
        aria-label="Marks from"
        value={from.source}
        options={played.map(({ source, name }) => ({ value: source, label: `From ${name}` }))}
        onChange={(value) => {
          setWanted(value);
          setChosen([]);
        }}
      />
      <Select<TakenMark | 'all'>
        size="small"
        aria-label="Kind of marks"
        value={kind}
        options={[
          { value: 'all', label: `All kinds, ${all.length}` },
          ...TAKEN_MARKS.map((value) => ({
            value,
            label: `${KIND_NAMES[value]}, ${all.filter((each) => each.kind === value).length}`,
          })),
        ]}
        onChange={(value) => {
          setKind(value);
          setChosen([]);
        }}
      />
      <p className="soft" role="status">
        {why ?? (data ? `${counted(rows.length, 'mark')} to take over.` : 'Listening for marks…')}
        {there > 0 && ` ${counted(there, 'other')} ${there === 1 ? 'stands' : 'stand'} in the score already.`}
        {homeless > 0 && ` ${homeless} ${homeless === 1 ? 'has' : 'have'} no note in the score.`}
      </p>
      <div className={styles.actions}>
        <Button
          size="small"
          type="primary"
          disabled={isOld || taken.length === 0}
          onClick={() => {
            take(...taken.map(({ directive }) => directive));
            setChosen([]);
          }}
        >
          {picked.length > 0 ? `Write ${picked.length}` : 'Write all'}
        </Button>
      </div>
      {rows.length > 0 && (
        <Table
          size="small"
          virtual
          scroll={{ y: 360 }}
          pagination={false}
          rowKey="id"
          dataSource={rows}
          rowSelection={{
            columnWidth: 32,
            selectedRowKeys: [...chosen],
            onChange: (keys) => setChosen(keys.map(String)),
            getCheckboxProps: (row) => ({
              'aria-label': `${row.mark}, bar ${summary?.bars[row.bar]}, ${summary?.parts[row.part]?.name}`,
            }),
          }}
          columns={[
            {
              title: 'Place',
              width: 150,
              ellipsis: true,
              render: (_, row) => (
                <button type="button" className={styles.place} onClick={() => onGo(row.bar)}>
                  bar {summary?.bars[row.bar]}, {row.words}
                  <span className={styles.part}>{summary?.parts[row.part]?.name}</span>
                </button>
              ),
            },
            { title: 'Mark', width: 84, render: (_, row) => SHORT[row.mark] ?? row.mark },
          ]}
        />
      )}
    </div>
  );
}
