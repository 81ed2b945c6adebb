'use client';

import { App, Button, Input, Segmented, Space, type TableColumnsType } from 'antd';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import type { EventId } from '../../core/model/ids';
import { CHECKS, type CheckId, WEIGHTS } from '../../core/proof/finding';
import { useKeys } from '../common/keys';
import { Panel } from '../common/Panel';
import { PrintedTable, PrintSheet } from '../common/PrintSheet';
import { useChosen } from '../common/useChosen';
import { useHeight } from '../common/useHeight';
import { useOfPerformance, useSession } from '../job/session';
import { usePlayback } from '../playback/playback';
import { BarMap } from '../time/BarMap';
import { Interlinear } from '../time/interlinear/Interlinear';
import { Agreements } from './Agreements';
import { FindingPanel } from './FindingPanel';
import styles from './ProofStage.module.css';
import { type Order, SteppedTable } from './SteppedTable';
import { type OpenFinding, useProof } from './useProof';
import { WEIGHT_NAMES } from './words';

type Shown = 'open' | 'meant' | 'all';

/** Bars in view around a finding. */
const BEFORE = 1;
const AFTER = 2;
const NO_NOTES: ReadonlySet<EventId> = new Set();

/** The checks did not run: what that means, and the way on. */
const notProved = (why: string, again: () => void) => (
  <div role="alert">
    <p className="rubric">The proof did not run, so nothing is known of this score. {why}</p>
    <Button size="small" onClick={again}>
      Prove it again
    </Button>
  </div>
);

/** All that wants a look, in one list that is worked through by keyboard. */
export function FindingsView() {
  const { summary, take } = useSession('summary', 'take');
  const { proof, findings, isOld, why, again } = useProof();
  const { message } = App.useApp();
  const { chosen, clear, rowSelection } = useChosen<string>();
  const [shown, setShown] = useState<Shown>('open');
  const [sought, setSought] = useState('');
  const [current, setCurrent] = useState<string | null>(null);
  const [filters, setFilters] = useState<{ check: CheckId[]; weight: string[]; part: number[] }>({
    check: [],
    weight: [],
    part: [],
  });
  const [order, setOrder] = useState<Order<OpenFinding>>(null);
  const height = useHeight(560, 190);
  const parts = useMemo(() => summary?.parts ?? [], [summary]);
  const nameOf = useCallback(
    ({ part }: OpenFinding) => (part === null ? 'Whole piece' : (parts[part]?.name ?? '')),
    [parts],
  );
  const barOf = useCallback(
    ({ bar }: OpenFinding) => (bar === null ? '' : String(summary?.bars[bar] ?? '')),
    [summary],
  );

  const open = findings.filter(({ isMeant }) => !isMeant);
  const among = useMemo(() => {
    const words = sought.trim().toLowerCase();
    return findings.filter(
      (finding) =>
        (shown === 'all' || finding.isMeant === (shown === 'meant')) &&
        (words === '' ||
          `${nameOf(finding)} ${finding.what} ${CHECKS[finding.check]}`.toLowerCase().includes(words)),
    );
  }, [findings, shown, sought, nameOf]);
  const rows = useMemo(() => {
    const some = among.filter(
      ({ check, weight, part }) =>
        (filters.check.length === 0 || filters.check.includes(check)) &&
        (filters.weight.length === 0 || filters.weight.includes(weight)) &&
        (filters.part.length === 0 || filters.part.includes(part ?? -1)),
    );
    return order ? some.toSorted(order) : some;
  }, [among, filters, order]);

  // Where the finding in hand is settled, the next one takes its place.
  const place = useRef(0);
  const index = rows.findIndex(({ id }) => id === current);
  if (index >= 0) place.current = index;
  const inHand =
    rows[index] ?? (current === null ? undefined : rows[Math.min(place.current, rows.length - 1)]);
  const go = (to: number) => {
    const finding = rows[Math.min(Math.max(0, to), rows.length - 1)];
    if (finding) setCurrent(finding.id);
  };
  const at = inHand ? rows.indexOf(inHand) : -1;

  const mend = (some: readonly OpenFinding[]) => {
    const can = some.filter(({ mends }) => mends.length > 0);
    if (can.length === 0) return;
    if (inHand) setCurrent(inHand.id);
    take(...can.flatMap(({ mends }) => mends[0]!.directives));
    clear();
    const rest = some.length - can.length;
    message.success(
      `Mended ${counted(can.length, 'finding')}${rest > 0 ? `; ${rest} ${rest === 1 ? 'has' : 'have'} no mend` : ''}. Undo takes it back.`,
      4,
    );
  };
  const mean = (some: readonly OpenFinding[], isMeant: boolean, note = '') => {
    if (inHand) setCurrent(inHand.id);
    take(
      ...some.map(({ id }) => ({
        kind: 'meant' as const,
        oddity: id,
        meant: isMeant,
        ...(note && { note }),
      })),
    );
    clear();
  };

  useKeys({
    nextFinding: () => go(at + 1),
    lastFinding: () => go(at < 0 ? 0 : at - 1),
    mend: () => inHand && mend([inHand]),
    meant: () => inHand && mean([inHand], !inHand.isMeant),
    clear: () => setCurrent(null),
  });
  const picked = rows.filter(({ id }) => chosen.includes(id));
  const marks = useMemo(
    () => rows.flatMap(({ part, bar }) => (part === null || bar === null ? [] : [{ part, at: { bar } }])),
    [rows],
  );

  const countBy = <K,>(key: (finding: OpenFinding) => K, value: K) =>
    among.filter((finding) => key(finding) === value).length;
  const columns: TableColumnsType<OpenFinding> = [
    {
      title: 'No.',
      dataIndex: 'number',
      width: 56,
      className: styles.number!,
      sorter: (a, b) => a.number - b.number,
    },
    {
      title: 'Weight',
      dataIndex: 'weight',
      key: 'weight',
      width: 92,
      sorter: (a, b) => WEIGHTS.indexOf(a.weight) - WEIGHTS.indexOf(b.weight),
      filters: WEIGHTS.map((value) => ({
        text: `${WEIGHT_NAMES[value]} (${countBy(({ weight }) => weight, value)})`,
        value,
      })),
      filteredValue: filters.weight,
      render: (_, { weight }) => (
        <span className={weight === 'wrong' ? 'rubric' : weight === 'remark' ? 'soft' : undefined}>
          {WEIGHT_NAMES[weight]}
        </span>
      ),
    },
    {
      title: 'Part',
      key: 'part',
      width: 130,
      ellipsis: true,
      sorter: (a, b) => (a.part ?? -1) - (b.part ?? -1),
      filters: [...new Set(among.map(({ part }) => part ?? -1))]
        .sort((a, b) => a - b)
        .map((value) => ({ text: value < 0 ? 'Whole piece' : (parts[value]?.name ?? ''), value })),
      filteredValue: filters.part,
      render: (_, finding) => nameOf(finding),
    },
    {
      title: 'Place',
      key: 'place',
      width: 150,
      ellipsis: true,
      sorter: (a, b) => (a.at ?? -1) - (b.at ?? -1),
      render: (_, finding) =>
        finding.bar === null ? (
          <span className="soft">–</span>
        ) : (
          <span className="figures" title={`Bar ${barOf(finding)}, ${finding.place}`}>
            <b>{barOf(finding)}</b> {finding.place}
          </span>
        ),
    },
    {
      title: 'Check',
      key: 'check',
      width: 150,
      ellipsis: true,
      sorter: (a, b) => CHECKS[a.check].localeCompare(CHECKS[b.check]),
      filters: (Object.keys(CHECKS) as CheckId[])
        .map((value) => ({ value, count: countBy(({ check }) => check, value) }))
        .filter(({ count }) => count > 0)
        .map(({ value, count }) => ({ text: `${CHECKS[value]} (${count})`, value })),
      filteredValue: filters.check,
      render: (_, { check }) => CHECKS[check],
    },
    { title: 'What', dataIndex: 'what', ellipsis: true },
  ];

  const part = inHand?.part === null || inHand?.part === undefined ? undefined : parts[inHand.part];
  const bars = summary?.bars.length ?? 0;
  const from = inHand?.bar === null || inHand?.bar === undefined ? 0 : Math.max(0, inHand.bar - BEFORE);
  const to = Math.min(bars, from + BEFORE + AFTER);
  // What is about all is looked at in the first parts.
  // Playing begins at the finding in hand, whichever reading is heard.
  const { setRange } = usePlayback();
  const { data: table } = useOfPerformance(['bar table', '25', '00:00:00:00'], (core, revision) =>
    core.barTable(revision, { rate: '25', start: '00:00:00:00' }),
  );
  const isPlaced = inHand?.bar !== null && inHand !== undefined;
  const seconds = table?.rows[from]?.seconds;
  const end = table?.rows[to]?.seconds ?? table?.rows.at(-1)?.seconds;
  useEffect(() => {
    if (!isPlaced || seconds === undefined || end === undefined || end <= seconds) return;
    setRange([seconds, end]);
    return () => setRange(null);
  }, [isPlaced, seconds, end, setRange]);

  const view = useMemo(() => (part ? [part] : parts.slice(0, 2)), [part, parts]);
  const flags = useMemo(
    () => new Map(inHand?.notes.slice(0, 1).map((note) => [note, inHand.number])),
    [inHand],
  );
  const selected = useMemo(() => (inHand ? new Set(inHand.notes) : NO_NOTES), [inHand]);

  return (
    <div className={styles.findings}>
      <section className={styles.middle}>
        <Panel name="What agrees">
          <Agreements />
        </Panel>
        <div className={styles.tools}>
          <Segmented<Shown>
            size="small"
            value={shown}
            aria-label="Which findings"
            options={[
              { value: 'open', label: proof ? `Open ${open.length}` : 'Open' },
              { value: 'meant', label: proof ? `Intended ${findings.length - open.length}` : 'Intended' },
              { value: 'all', label: 'All' },
            ]}
            onChange={setShown}
          />
          <Input.Search
            size="small"
            allowClear
            placeholder="Search"
            aria-label="Search the findings"
            style={{ width: 160 }}
            onChange={({ target }) => setSought(target.value)}
          />
          <Space size={4}>
            <Button
              size="small"
              disabled={!picked.some(({ mends }) => mends.length > 0)}
              onClick={() => mend(picked)}
            >
              Mend {picked.length > 0 ? picked.length : 'chosen'}
            </Button>
            <Button
              size="small"
              disabled={picked.length === 0}
              onClick={() => mean(picked, shown !== 'meant')}
            >
              {shown === 'meant' ? 'None intended' : 'All intended'}
            </Button>
          </Space>
          <PrintSheet disabled={rows.length === 0}>
            <h1>Proof: {summary?.title}</h1>
            <PrintedTable
              heads={['No.', 'Weight', 'Part', 'Bar', 'Place', 'What', '']}
              rows={rows.map((finding) => [
                String(finding.number),
                WEIGHT_NAMES[finding.weight],
                nameOf(finding),
                barOf(finding),
                finding.place,
                finding.what,
                finding.isMeant ? `intended ${finding.note}` : '☐',
              ])}
            />
          </PrintSheet>
          <span className="soft" role="status">
            {why !== null ? 'Not known' : isOld || !proof ? 'Checking …' : counted(rows.length, 'finding')}
          </span>
        </div>
        <SteppedTable<OpenFinding>
          rows={rows}
          current={inHand?.id ?? null}
          onCurrent={setCurrent}
          height={height}
          columns={columns}
          rowSelection={rowSelection}
          onOrder={(next) => setOrder(() => next)}
          classOf={({ isMeant }) => (isMeant ? styles.meant! : '')}
          onChange={(_, { check, weight, part: some }) =>
            setFilters({
              check: (check ?? []) as CheckId[],
              weight: (weight ?? []) as string[],
              part: (some ?? []) as number[],
            })
          }
          locale={{
            emptyText: proof
              ? shown === 'open'
                ? 'Nothing is open: every check passes, or what it found is marked as intended.'
                : 'Nothing here.'
              : why !== null
                ? notProved(why, again)
                : 'The checks run when the score is written.',
          }}
        />
        <div className={styles.sheet}>
          {inHand && inHand.bar !== null ? (
            <Panel name="The bars of the finding">
              <Interlinear
                parts={view}
                from={from}
                to={to}
                compared={false}
                flags={flags}
                selected={selected}
                onSelect={() => {}}
              />
            </Panel>
          ) : (
            <p className="soft">
              {inHand
                ? 'This is about no single bar.'
                : 'Choose a finding to see its bars as played and as written. n goes to the next one.'}
            </p>
          )}
        </div>
      </section>
      <Panel name="The finding">
        <FindingPanel
          finding={inHand}
          name={inHand ? nameOf(inHand) : ''}
          bar={inHand ? barOf(inHand) : ''}
          alike={
            inHand
              ? rows.filter(({ check, weight }) => check === inHand.check && weight === inHand.weight)
              : []
          }
          onMend={mend}
          onMeant={mean}
          more={proof?.more ?? []}
        />
      </Panel>
      {summary && (
        <Panel name="The bar map">
          <BarMap
            parts={parts}
            findings={marks}
            bars={bars}
            from={from}
            to={to}
            onGo={(bar, one) => {
              const row = one ? parts.indexOf(one) : -1;
              const next = rows.find(
                (each) => each.bar !== null && each.bar >= bar && (row < 0 || each.part === row),
              );
              if (next) setCurrent(next.id);
            }}
          />
        </Panel>
      )}
    </div>
  );
}
