'use client';

import { Button, Checkbox, InputNumber, Space, Table, type TableColumnsType, Tag } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import type { StrandId } from '../../core/model/ids';
import type { StrandChange } from '../../core/reconcile/carry';
import type { LostDecision, VersionNews } from '../../core/workbench/versions';
import { useChosen } from '../common/useChosen';
import { useOfPerformance, useSession } from '../job/session';
import styles from './SourcesStage.module.css';

const STATES: Record<StrandChange['state'], string> = {
  same: 'as it was',
  loudness: 'loudness only',
  changed: 'changed',
  new: 'new',
  gone: 'gone',
};

/** Numbers as people say them: "4–7, 12". */
function runsOf(numbers: readonly number[]): string {
  const runs: [number, number][] = [];
  for (const number of numbers) {
    const last = runs.at(-1);
    if (last && number === last[1] + 1) last[1] = number;
    else runs.push([number, number]);
  }
  return runs.map(([from, to]) => (from === to ? `${from}` : `${from}–${to}`)).join(', ');
}

/** What a new version brought, and how much of it is taken in. */
export function VersionNewsView() {
  const { data } = useOfPerformance(['version news'], (core, revision) => core.versionNews(revision));
  return data ? <News key={`${data.source} ${data.version}`} news={data} /> : null;
}

function News({ news }: { news: VersionNews }) {
  const { take } = useSession('take');
  const { source, version, name, divides, strands, numbers, numbersBefore, inserted, cut, taken, lost } =
    news;
  const { chosen, clear, rowSelection } = useChosen<StrandId>();
  const [from, setFrom] = useState<number | null>(null);
  const [to, setTo] = useState<number | null>(null);
  const [adds, setAdds] = useState(false);
  const [all, setAll] = useState(false);
  const shown = strands.filter(({ state }) => state !== 'same');
  const louder = shown.filter(({ state }) => state === 'loudness').length;
  const changed = shown.length - louder;
  const isSome =
    taken && (taken.strands || taken.fromBar !== undefined || taken.toBar !== undefined || taken.adds);
  const takeSome = () => {
    const first = from === null ? -1 : numbersBefore.indexOf(from);
    const last = to === null ? -1 : numbersBefore.indexOf(to);
    take({
      kind: 'take',
      source,
      version,
      ...(chosen.length > 0 && { strands: chosen }),
      ...(first >= 0 && { fromBar: first }),
      ...(last >= 0 && { toBar: last + 1 }),
      ...(adds && { adds }),
    });
    clear();
  };
  const columns: TableColumnsType<StrandChange> = [
    {
      title: 'Strand',
      key: 'name',
      width: 220,
      ellipsis: true,
      render: (_, { name: own, was }) => (
        <>
          {own || 'No name'} {was !== null && <span className="soft">was {was || 'without a name'}</span>}
        </>
      ),
    },
    {
      title: 'State',
      dataIndex: 'state',
      width: 110,
      render: (_, { state }) => (
        <span className={state === 'same' ? 'soft' : undefined}>{STATES[state]}</span>
      ),
    },
    { title: 'Notes as before', dataIndex: 'same', width: 130, align: 'right' },
    { title: 'Louder, softer', dataIndex: 'loudness', width: 115, align: 'right' },
    { title: 'Changed', dataIndex: 'changed', width: 90, align: 'right' },
    { title: 'Came', dataIndex: 'added', width: 80, align: 'right' },
    { title: 'Went', dataIndex: 'missing', width: 80, align: 'right' },
    {
      title: 'In bars',
      key: 'bars',
      ellipsis: true,
      render: (_, { bars }) => <span className="figures">{runsOf(bars.map((bar) => numbers[bar]!))}</span>,
    },
  ];
  return (
    <section aria-label="What is new" className={styles.news}>
      <details open>
        <summary>
          <strong>What version {version} brought</strong> <span className="soft">{name}</span>{' '}
          {isSome && <Tag>Taken in part</Tag>}
        </summary>
        <p>
          {shown.length === 0
            ? 'Every strand is as it was.'
            : changed === 0
              ? 'Every strand has the notes that it had.'
              : `${counted(changed, 'strand')} of ${strands.length} ${changed === 1 ? 'is' : 'are'} not as before${changed < strands.length ? '; the others stay as they were written, to the note' : ''}.`}
          {louder > 0 && ` ${counted(louder, 'strand')}: only louder or softer.`}
          {inserted.length > 0 && ` Put in: bar ${runsOf(inserted)}.`}
          {cut.length > 0 && ` Cut: bar ${runsOf(cut)} of the version before.`}
        </p>
        <div className={styles.tools}>
          <Space size={6}>
            <Button
              size="small"
              type={isSome ? 'default' : 'primary'}
              onClick={() => take({ kind: 'take', source, version })}
            >
              Take all of it
            </Button>
            <Button
              size="small"
              disabled={!divides || (chosen.length === 0 && from === null && to === null && !adds)}
              title={divides ? undefined : 'A version of a score counts as a whole'}
              onClick={takeSome}
            >
              {chosen.length > 0 ? `Take only ${counted(chosen.length, 'strand')}` : 'Take only these bars'}
            </Button>
            <Button size="small" onClick={() => take({ kind: 'version', source, version: version - 1 })}>
              Keep the version before
            </Button>
          </Space>
          <Space size={6}>
            Bars of the version before
            <InputNumber
              size="small"
              aria-label="From bar"
              value={from}
              onChange={setFrom}
              style={{ width: 70 }}
            />
            –
            <InputNumber size="small" aria-label="To bar" value={to} onChange={setTo} style={{ width: 70 }} />
          </Space>
          <Checkbox checked={adds} onChange={({ target }) => setAdds(target.checked)}>
            Beside what is there
          </Checkbox>
          <Checkbox checked={all} onChange={({ target }) => setAll(target.checked)}>
            Show unchanged strands
          </Checkbox>
        </div>
        {(all || shown.length > 0) && (
          <div className={styles.changes}>
            <Table<StrandChange>
              size="small"
              rowKey="id"
              aria-label="Strands of the new version"
              columns={columns}
              dataSource={all ? strands : shown}
              rowSelection={rowSelection}
              pagination={false}
            />
          </div>
        )}
        {lost.length > 0 && <Lost lost={lost} />}
      </details>
    </section>
  );
}

/** Decisions whose notes are gone. */
function Lost({ lost }: { lost: readonly LostDecision[] }) {
  const { history, replaceBrief } = useSession('history', 'replaceBrief');
  const movable = lost.filter(({ again }) => again);
  /** Puts each in its note's place, or leaves it out. */
  const settle = (some: readonly LostDecision[], isForgotten = false) => {
    const others = new Map(some.map(({ directive, again }) => [JSON.stringify(directive), again]));
    replaceBrief({
      ...history.brief,
      directives: history.brief.directives.flatMap((directive) => {
        const text = JSON.stringify(directive);
        if (!others.has(text)) return [directive];
        const again = others.get(text);
        return isForgotten || !again ? [] : [again];
      }),
    });
  };
  return (
    <>
      <h3 className="rubric">
        {counted(lost.length, 'decision')} lost {lost.length === 1 ? 'its note' : 'their notes'}{' '}
        {movable.length > 1 && (
          <Button size="small" onClick={() => settle(movable)}>
            All to the nearest notes
          </Button>
        )}
      </h3>
      <ul className={styles.lost}>
        {lost.map((each) => (
          <li key={JSON.stringify(each.directive)}>
            {each.what}: {each.about}{' '}
            <Space size={4}>
              {each.again && (
                <Button size="small" onClick={() => settle([each])}>
                  To the nearest note, {each.to}
                </Button>
              )}
              <Button size="small" type="text" onClick={() => settle([each], true)}>
                Forget it
              </Button>
            </Space>
          </li>
        ))}
      </ul>
    </>
  );
}
