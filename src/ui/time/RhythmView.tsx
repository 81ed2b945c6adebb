'use client';

import { LeftOutlined, RightOutlined } from '@ant-design/icons';
import { Button, Checkbox, Segmented, Space } from 'antd';
import { useSearchParams } from 'next/navigation';
import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import type { Arrangement } from '../../core/edit/rearrange';
import type { RhythmFinding } from '../../core/explain/findings';
import type { EventId, StrandId } from '../../core/model/ids';
import type { PartSummary } from '../../core/workbench/replies';
import { InspectorEdge } from '../common/InspectorEdge';
import { useKeys } from '../common/keys';
import { NothingShown } from '../common/NothingShown';
import { Panel } from '../common/Panel';
import { Stepwise } from '../common/Stepwise';
import { PitchView } from '../engraving/pitchView';
import { useSession } from '../job/session';
import { BarMap } from './BarMap';
import { Interlinear } from './interlinear/Interlinear';
import { RhythmTools, type Scope } from './RhythmTools';
import { TimeInspector } from './TimeInspector';
import styles from './TimeStage.module.css';

/** Parts stacked at first, those that enter first; more can be ticked. */
const STACKED = 3;
const WINDOWS = [1, 2, 4, 8];

/** With Shift: by a slot to either side, or a slot longer and shorter. */
const ARRANGED_BY: Record<string, Arrangement> = {
  ArrowLeft: 'earlier',
  ArrowRight: 'later',
  ArrowUp: 'longer',
  ArrowDown: 'shorter',
};
const NOTHING: ReadonlySet<EventId> = new Set();
/** Rows have their height after this long, in milliseconds. */
const SETTLED = 900;
const NO_FINDINGS: readonly RhythmFinding[] = [];

/** From played to written rhythm: note bars and staff between the lines of each other, and what decides between them. */
export function RhythmView({ switcher }: { switcher: ReactNode }) {
  const { summary, core, take, stock } = useSession('summary', 'core', 'take', 'stock');
  const isScore = stock.kind === 'score';
  const parts = useMemo(() => summary?.parts ?? [], [summary]);
  const bars = summary?.bars.length ?? 0;
  const [ticked, setTicked] = useState<ReadonlySet<StrandId> | null>(null);
  const askedBar = useSearchParams().get('bar');
  const asked = summary && askedBar ? summary.bars.indexOf(Number(askedBar)) : -1;
  const [from, setFrom] = useState(Math.max(0, asked));
  useEffect(() => {
    if (asked >= 0) setFrom(asked);
  }, [asked]);
  const [length, setLength] = useState(4);
  const [scope, setScope] = useState<Scope>('all');
  const [active, setActive] = useState<string | null>(null);
  const [compared, setCompared] = useState(false);
  const [selected, setSelected] = useState<ReadonlySet<EventId>>(NOTHING);
  const to = Math.min(bars, from + length);

  // Parts are remembered by their leading strand, since part ids follow the order.
  const shown = useMemo(() => {
    const wanted =
      ticked ??
      new Set(
        parts
          .toSorted((one, two) => one.enters - two.enters)
          .slice(0, STACKED)
          .map((each) => each.leader),
      );
    return parts.filter((part) => wanted.has(part.leader));
  }, [parts, ticked]);
  const part = parts.find((each) => each.leader === active) ?? shown[0];

  const go = useCallback((bar: number) => setFrom(Math.min(Math.max(0, bar), Math.max(0, bars - 1))), [bars]);

  const show = useCallback(
    (one: PartSummary, isShown: boolean) => {
      setTicked(() => {
        const next = new Set(shown.map((each) => each.leader));
        if (isShown) next.add(one.leader);
        else next.delete(one.leader);
        return next;
      });
    },
    [shown],
  );

  const goTo = useCallback(
    (bar: number, one?: PartSummary) => {
      go(bar);
      if (!one) return;
      setActive(one.leader);
      if (!shown.includes(one)) show(one, true);
    },
    [go, show, shown],
  );

  const findings = summary?.findings ?? NO_FINDINGS;
  const flags = useMemo(() => new Map(findings.map((each, index) => [each.note, index + 1])), [findings]);
  const current = findings.findIndex((each) => selected.has(each.note));

  const goToFinding = useCallback(
    (index: number) => {
      const finding = findings[index];
      const one = finding && parts[finding.part];
      if (!one) return;
      goTo(Math.max(0, finding.at.bar - 1), one);
      setSelected(new Set([finding.note]));
    },
    [findings, parts, goTo],
  );

  /** The next or previous finding, from the one in hand or from the bars in view. */
  const step = useCallback(
    (direction: 1 | -1) => {
      if (current >= 0) return goToFinding(current + direction);
      const next = findings.findIndex(({ at }) => at.bar >= from);
      goToFinding(direction > 0 ? next : (next < 0 ? findings.length : next) - 1);
    },
    [findings, current, from, goToFinding],
  );

  useKeys({
    arrange: ({ key }) => {
      const arrangement = ARRANGED_BY[key];
      if (!arrangement || selected.size === 0 || !summary || isScore) return false;
      void core
        .rearrange(summary.revision, { notes: [...selected], arrangement })
        .then((decided) => take(...decided));
    },
    after: () => go(from + length),
    before: () => go(from - length),
    nextFinding: () => step(1),
    lastFinding: () => step(-1),
    clear: () => setSelected(NOTHING),
  });

  // The part of a finding may be stacked below the others; its row grows when its staff is engraved.
  const sheet = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (current < 0) return;
    const show = () =>
      sheet.current?.querySelector(`[data-strand="${active}"]`)?.scrollIntoView({ block: 'nearest' });
    show();
    const timer = setTimeout(show, SETTLED);
    return () => clearTimeout(timer);
  }, [current, active]);

  const onSelect = useCallback((notes: ReadonlySet<EventId>, one: PartSummary) => {
    setSelected(notes);
    setActive(one.leader);
  }, []);

  return (
    <div className={styles.stage}>
      <aside className={styles.parts} aria-label="Parts">
        {switcher}
        <PitchView />
        <strong>{counted(shown.length, 'part')} in view</strong>
        <Stepwise by={8}>
          {parts.map((each) => (
            <Checkbox
              key={each.leader}
              className={styles.part}
              checked={shown.includes(each)}
              onChange={(event) => show(each, event.target.checked)}
            >
              {each.name}
            </Checkbox>
          ))}
        </Stepwise>
      </aside>
      <section className={styles.middle}>
        {isScore ? (
          <div className={`${styles.toolbar} soft`}>
            This source is a score. The bars show what is played of it; what is changed here is changed in its
            own text.
          </div>
        ) : (
          <Panel name="The tools">
            <RhythmTools scope={scope} onScope={setScope} part={part} from={from} to={to} />
          </Panel>
        )}
        <div className={styles.toolbar}>
          <Space size={4}>
            <Button
              size="small"
              icon={<LeftOutlined />}
              aria-label="Bars before"
              disabled={from === 0}
              onClick={() => go(from - length)}
            />
            <span className="figures">
              {summary && bars > 0
                ? `Bars ${summary.bars[from]}–${summary.bars[to - 1]} of ${summary.bars.at(-1)}`
                : ''}
            </span>
            <Button
              size="small"
              icon={<RightOutlined />}
              aria-label="Bars after"
              disabled={to >= bars}
              onClick={() => go(from + length)}
            />
          </Space>
          <Segmented
            size="small"
            value={length}
            aria-label="Bars in view"
            options={WINDOWS.map((value) => ({ value, label: counted(value, 'bar') }))}
            onChange={setLength}
          />
          {!isScore && (
            <>
              <Checkbox checked={compared} onChange={(event) => setCompared(event.target.checked)}>
                Compare with what was found
              </Checkbox>
              {findings.length > 0 && (
                <Space size={4}>
                  <Button size="small" onClick={() => step(-1)}>
                    Finding before
                  </Button>
                  <Button size="small" onClick={() => step(1)}>
                    Next finding
                  </Button>
                </Space>
              )}
            </>
          )}
        </div>
        <div ref={sheet} className={styles.sheet}>
          {shown.length === 0 && <NothingShown parts={parts.length} className={styles.waiting} />}
          <Panel name="The bars">
            <Interlinear
              parts={shown}
              from={from}
              to={to}
              compared={compared}
              flags={flags}
              selected={selected}
              onSelect={onSelect}
            />
          </Panel>
        </div>
      </section>
      <InspectorEdge />
      <Panel name="The inspector">
        <TimeInspector
          part={part}
          selected={selected}
          finding={current}
          onFinding={goToFinding}
          from={from}
          to={to}
          onGo={go}
        />
      </Panel>
      {summary && (
        <Panel name="The bar map">
          <BarMap parts={parts} findings={findings} bars={bars} from={from} to={to} onGo={goTo} />
        </Panel>
      )}
    </div>
  );
}
