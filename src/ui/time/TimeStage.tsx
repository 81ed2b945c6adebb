'use client';

import { LeftOutlined, RightOutlined } from '@ant-design/icons';
import { Button, Checkbox, Segmented, Space, Spin } from 'antd';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { counted } from '../../core/words';
import type { PartSummary } from '../../workers/replies';
import { isTyping } from '../common/isTyping';
import { NothingShown } from '../common/NothingShown';
import { useSession } from '../job/session';
import { BarMap } from './BarMap';
import { Interlinear } from './Interlinear';
import { RhythmTools, type Scope } from './RhythmTools';
import { TimeInspector } from './TimeInspector';
import styles from './TimeStage.module.css';

/** Parts stacked at first; more can be ticked. */
const STACKED = 3;
const WINDOWS = [1, 2, 4, 8];

const NOTHING: ReadonlySet<string> = new Set();

/** From played to written rhythm: note bars and staff between the lines of each other, and what decides between them. */
export function TimeStage() {
  const { summary, core, take } = useSession();
  const parts = useMemo(() => summary?.parts ?? [], [summary]);
  const bars = summary?.bars.length ?? 0;
  const [ticked, setTicked] = useState<ReadonlySet<string> | null>(null);
  const [from, setFrom] = useState(0);
  const [length, setLength] = useState(4);
  const [scope, setScope] = useState<Scope>('all');
  const [active, setActive] = useState<string | null>(null);
  const [selected, setSelected] = useState<ReadonlySet<string>>(NOTHING);
  const to = Math.min(bars, from + length);

  // Parts are remembered by their leading strand, since part ids follow the order.
  const shown = useMemo(() => {
    const wanted = ticked ?? new Set(parts.slice(0, STACKED).map((part) => part.strands[0]!));
    return parts.filter((part) => wanted.has(part.strands[0]!));
  }, [parts, ticked]);
  const part = parts.find((each) => each.strands[0] === active) ?? shown[0];

  const go = useCallback((bar: number) => setFrom(Math.min(Math.max(0, bar), Math.max(0, bars - 1))), [bars]);

  const show = useCallback(
    (one: PartSummary, isShown: boolean) => {
      setTicked(() => {
        const next = new Set(shown.map((each) => each.strands[0]!));
        if (isShown) next.add(one.strands[0]!);
        else next.delete(one.strands[0]!);
        return next;
      });
    },
    [shown],
  );

  const goTo = useCallback(
    (bar: number, one?: PartSummary) => {
      go(bar);
      if (!one) return;
      setActive(one.strands[0]!);
      if (!shown.includes(one)) show(one, true);
    },
    [go, show, shown],
  );

  /** The next or previous bar in which some part in view is settled narrowly. */
  const step = useCallback(
    (direction: 1 | -1) => {
      for (let bar = direction > 0 ? to : from - 1; bar >= 0 && bar < bars; bar += direction)
        if (shown.some((each) => each.unsettled[bar]! > 0)) return go(bar);
    },
    [shown, bars, from, to, go],
  );

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
      const moved = event.shiftKey && selected.size > 0;
      if (moved && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
        event.preventDefault();
        const arrangement = event.key === 'ArrowLeft' ? 'earlier' : 'later';
        void core.rearrange({ notes: [...selected], arrangement }).then((decided) => take(...decided));
      }
      if (event.key === 'PageDown') go(from + length);
      if (event.key === 'PageUp') go(from - length);
      if (event.key === 'n') step(1);
      if (event.key === 'p') step(-1);
      if (event.key === 'Escape') setSelected(NOTHING);
      if (/^(PageUp|PageDown)$/.test(event.key)) event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [selected, core, take, go, step, from, length]);

  const onSelect = useCallback((notes: ReadonlySet<string>, one: PartSummary) => {
    setSelected(notes);
    setActive(one.strands[0]!);
  }, []);

  return (
    <div className={styles.stage}>
      <aside className={styles.parts} aria-label="Parts">
        <strong>{counted(shown.length, 'part')} in view</strong>
        {parts.map((each) => (
          <Checkbox
            key={each.strands[0]}
            className={styles.part}
            checked={shown.includes(each)}
            onChange={(event) => show(each, event.target.checked)}
          >
            {each.name}
          </Checkbox>
        ))}
      </aside>
      <section className={styles.middle}>
        <RhythmTools scope={scope} onScope={setScope} part={part} from={from} to={to} />
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
          <Space size={4}>
            <Button size="small" onClick={() => step(-1)}>
              Narrow reading before
            </Button>
            <Button size="small" onClick={() => step(1)}>
              Next narrow reading
            </Button>
          </Space>
        </div>
        <div className={styles.sheet}>
          {!summary && (
            <p className={styles.waiting}>
              <Spin /> Reading the rhythm
            </p>
          )}
          {summary && shown.length === 0 && <NothingShown parts={parts.length} className={styles.waiting} />}
          {shown.map((each) => (
            <Interlinear
              key={each.strands[0]}
              part={each}
              from={from}
              to={to}
              selected={selected}
              onSelect={onSelect}
            />
          ))}
        </div>
      </section>
      <TimeInspector part={part} selected={selected} />
      {summary && <BarMap parts={parts} bars={bars} from={from} to={to} onGo={goTo} />}
    </div>
  );
}
