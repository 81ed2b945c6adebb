'use client';

import { Button, Segmented, Select, Space, Spin, type TableColumnsType } from 'antd';
import { useMemo, useState } from 'react';
import { counted } from '../../core/basics/words';
import { DIFFERENCES } from '../../core/reconcile/ledger';
import type { Compared, ComparedPassage, ComparedRow, Comparison } from '../../core/workbench/compare';
import { useKeys } from '../common/keys';
import { PrintedTable, PrintSheet } from '../common/PrintSheet';
import { percent } from '../common/percent';
import { saveFile } from '../common/saveFile';
import { useHeight } from '../common/useHeight';
import { useOfScore, useSession } from '../job/session';
import { ComparedBarsView } from './ComparedBars';
import { DifferenceAnswers, keptAs, useCanAnswer } from './DifferenceAnswers';
import styles from './ProofStage.module.css';
import { type Order, SteppedTable } from './SteppedTable';
import { DIFFERENCE_NAMES } from './words';

const nameOfReading = (value: string, options: readonly { value: string; label: string }[]): string =>
  options.find((option) => option.value === value)?.label ?? '';

/** "score", or "1 2" for the second version of source 1. */
function toCompared(value: string): Compared {
  if (value === 'score') return { kind: 'score' };
  const [source, version] = value.split(' ');
  return { kind: 'source', source: source as `${number}`, version: Number(version) };
}

/** Any two readings of the job laid over each other: what differs, bar by bar. */
export function CompareView() {
  const { sources, core, summary } = useSession('sources', 'core', 'summary');
  const options = useMemo(
    () => [
      { value: 'score', label: 'The score as it is now' },
      ...sources.map(({ source, version, name }) => ({
        value: `${source} ${version}`,
        label: sources.some((each) => each.source === source && each.version !== version)
          ? `${name}, version ${version}`
          : name,
      })),
    ],
    [sources],
  );
  const [one, setOne] = useState<string | null>(null);
  const [two, setTwo] = useState('score');
  const first = one ?? options.at(-1)!.value;
  const { data, isOld, why } = useOfScore(
    ['compare', first, two],
    (worker, revision) => worker.compare(revision, { one: toCompared(first), two: toCompared(two) }),
    first !== two,
  );
  const download = async () => {
    if (!summary) return;
    const csv = await core.comparisonCsv(summary.revision, { one: toCompared(first), two: toCompared(two) });
    saveFile('differences.csv', new Blob([csv], { type: 'text/csv' }));
  };
  const which = useMemo((): [Compared, Compared] => [toCompared(first), toCompared(two)], [first, two]);
  return (
    <section className={styles.compare}>
      <div className={styles.tools}>
        <Select
          size="small"
          className={styles.reading!}
          value={first}
          options={options}
          aria-label="First reading"
          onChange={setOne}
        />
        <span className="soft">against</span>
        <Select
          size="small"
          className={styles.reading!}
          value={two}
          options={options}
          aria-label="Second reading"
          onChange={setTwo}
        />
        <Button size="small" disabled={!data?.rows.length} onClick={() => void download()}>
          List as CSV
        </Button>
        <PrintSheet disabled={!data?.rows.length}>
          <h1>
            {nameOfReading(first, options)} against {nameOfReading(two, options)}
          </h1>
          <PrintedTable
            heads={['Part', 'Bar', 'Part there', 'Bar there', 'Place', 'Differs in', 'What']}
            rows={(data?.rows ?? []).map((row) => [
              row.one?.name ?? '–',
              row.one?.number ?? '',
              row.two?.name ?? '–',
              row.two?.number ?? '',
              (row.one ?? row.two)?.words ?? '',
              row.kinds.map((kind) => DIFFERENCE_NAMES[kind]).join(', '),
              row.says,
            ])}
          />
        </PrintSheet>
        {isOld && <Spin size="small" />}
      </div>
      {first === two && <p className="soft">Choose two readings that are not the same.</p>}
      {why !== null && <p className="rubric">These two could not be compared. {why}</p>}
      {first !== two && data && (
        <Told
          which={which}
          comparison={data}
          names={[nameOfReading(first, options), nameOfReading(two, options)]}
        />
      )}
    </section>
  );
}

const BY: Record<NonNullable<Comparison['by']>, string> = {
  bars: 'Laid over each other bar by bar.',
  beats: 'Their bars are not the same: laid over each other beat by beat.',
  order: 'Their beats are not the same: laid over each other attack by attack.',
};

function passageWords(
  { kind, from, to, bars, of }: ComparedPassage,
  [one, two]: readonly [string, string],
): string {
  const where = bars === 1 ? `Bar ${from}` : `Bars ${from}–${to}`;
  const has = bars === 1 ? 'has' : 'have';
  switch (kind) {
    case 'only-one':
      return `${where} of ${one} ${has} no like in ${two}.`;
    case 'only-two':
      return `${where} of ${two} ${has} no like in ${one}.`;
    case 'again-one':
      return `${where} of ${one} play ${of} again; ${two} does not.`;
    case 'again-two':
      return `${where} of ${two} play ${of} again; ${one} does not.`;
  }
}

const CLOCK: Record<Comparison['clock'][number]['kind'], string> = {
  tempo: 'tempo',
  meter: 'meter',
  key: 'signature (fifths)',
  number: 'bar number',
};

interface ToldProps {
  which: [Compared, Compared];
  comparison: Comparison;
  names: readonly [string, string];
}

function Told({ which, comparison, names }: ToldProps) {
  const { agree, differ, share, kinds, lines, passages, clock, rows: all, more, by } = comparison;
  const { decisions } = useSession('decisions');
  const [order, setOrder] = useState<Order<ComparedRow>>(null);
  const [wanted, setWanted] = useState<readonly string[]>([]);
  const [shown, setShown] = useState<'open' | 'kept'>('open');
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const canAnswer = useCanAnswer(which);
  const kept = useMemo(
    () => new Set(all.filter((row) => decisions.meant.has(keptAs(which, row))).map(({ id }) => id)),
    [all, which, decisions.meant],
  );
  const rows = useMemo(() => {
    const some = all.filter(
      (row) =>
        (!canAnswer || kept.has(row.id) === (shown === 'kept')) &&
        (wanted.length === 0 || row.kinds.some((kind) => wanted.includes(kind))),
    );
    return order ? some.toSorted(order) : some;
  }, [all, order, wanted, canAnswer, kept, shown]);
  const [current, setCurrent] = useState<string | null>(null);
  const height = useHeight(560, 200);
  const at = rows.findIndex(({ id }) => id === current);
  const go = (to: number) => {
    const row = rows[Math.min(Math.max(0, to), rows.length - 1)];
    if (row) setCurrent(row.id);
  };
  useKeys({ nextFinding: () => go(at + 1), lastFinding: () => go(at < 0 ? 0 : at - 1) });
  if (by === null)
    return <p className="rubric">These two have nothing in common that could be laid over each other.</p>;
  const odd = lines.filter(({ one, two, transposed, whole }) => !one || !two || transposed !== 0 || !whole);
  const columns: TableColumnsType<ComparedRow> = [
    {
      title: names[0],
      key: 'one',
      width: 230,
      ellipsis: true,
      sorter: (a, b) => (a.one?.bar ?? -1) - (b.one?.bar ?? -1),
      render: (_, { one }) => (one ? <Place {...one} /> : <span className="soft">–</span>),
    },
    {
      title: names[1],
      key: 'two',
      width: 230,
      ellipsis: true,
      sorter: (a, b) => (a.two?.bar ?? -1) - (b.two?.bar ?? -1),
      render: (_, { two }) => (two ? <Place {...two} /> : <span className="soft">–</span>),
    },
    {
      title: 'Differs in',
      key: 'kinds',
      width: 130,
      filters: DIFFERENCES.filter((kind) => kinds[kind] > 0).map((kind) => ({
        text: `${DIFFERENCE_NAMES[kind]} (${kinds[kind]})`,
        value: kind,
      })),
      filteredValue: [...wanted],
      render: (_, row) => row.kinds.map((kind) => DIFFERENCE_NAMES[kind]).join(', '),
    },
    { title: 'Notes', dataIndex: 'count', width: 70, sorter: (a, b) => a.count - b.count },
    { title: 'What', dataIndex: 'says', ellipsis: true },
  ];
  return (
    <>
      <div className={styles.agreements}>
        <div className={styles.agreement}>
          <strong className={share < 1 ? 'rubric' : undefined}>{percent(share)}</strong>
          <span>
            {counted(agree, 'note')} agree, {differ.toLocaleString('en')} differ
            <span className="soft">{BY[by]}</span>
          </span>
        </div>
        <ul className={styles.passages}>
          {passages.slice(0, 6).map((passage) => (
            <li key={`${passage.kind} ${passage.from}`}>{passageWords(passage, names)}</li>
          ))}
          {odd.slice(0, 6).map(({ one, two, transposed, whole }) => (
            <li key={`${one} ${two}`}>
              {!one
                ? `${two} is only in ${names[1]}.`
                : !two
                  ? `${one} is only in ${names[0]}.`
                  : transposed !== 0
                    ? `${one} sounds ${counted(Math.abs(transposed), 'semitone')} ${transposed > 0 ? 'higher' : 'lower'} in ${names[1]}.`
                    : whole
                      ? ''
                      : `${one} and ${two} share notes: merged or split.`}
            </li>
          ))}
          {clock.slice(0, 6).map(({ kind, bar, one, two }) => (
            <li key={`${kind} ${bar}`}>
              From bar {bar} another {CLOCK[kind]}: {one} and {two}.
            </li>
          ))}
          {passages.length > 6 && <li>And {passages.length - 6} more passages.</li>}
        </ul>
      </div>
      <div>
        <Space className={styles.tools!} wrap>
          <span className="soft">
            {counted(all.length + more, 'difference')} by bar and part. n and p go from one to the next.
          </span>
          {canAnswer && (
            <>
              <Segmented<'open' | 'kept'>
                size="small"
                aria-label="Which differences"
                value={shown}
                options={[
                  { value: 'open', label: `Open ${all.length - kept.size}` },
                  { value: 'kept', label: `Kept ${kept.size}` },
                ]}
                onChange={(next) => {
                  setShown(next);
                  setChosen([]);
                }}
              />
              <DifferenceAnswers
                which={which}
                names={names}
                rows={rows.filter(({ id }) => chosen.includes(id))}
                areKept={shown === 'kept'}
                onDone={() => setChosen([])}
              />
            </>
          )}
        </Space>
        <SteppedTable<ComparedRow>
          rows={rows}
          current={current}
          onCurrent={setCurrent}
          height={height}
          columns={columns}
          {...(canAnswer && {
            rowSelection: {
              columnWidth: 32,
              selectedRowKeys: [...chosen],
              onChange: (keys) => setChosen(keys.map(String)),
              getCheckboxProps: (row) => ({ 'aria-label': `Choose ${row.says}` }),
            },
          })}
          onOrder={(next) => setOrder(() => next)}
          onChange={(_, { kinds: some }) => setWanted((some ?? []).map(String))}
          locale={{ emptyText: 'They agree, note by note.' }}
        />
        {more > 0 && <p className="soft">And {more.toLocaleString('en')} more.</p>}
      </div>
      <div className={styles.sheet}>
        {at >= 0 ? (
          <ComparedBarsView which={which} row={rows[at]!} names={names} />
        ) : (
          <p className="soft">Choose a difference to see the bars of both.</p>
        )}
      </div>
    </>
  );
}

function Place({ name, number, words }: NonNullable<ComparedRow['one']>) {
  return (
    <span className="figures" title={`${name}, bar ${number}, ${words}`}>
      {name} <b>{number}</b> {words}
    </span>
  );
}
