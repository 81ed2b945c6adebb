'use client';

import { useMemo } from 'react';
import {
  Bar,
  BarChart,
  CartesianGrid,
  Line,
  LineChart,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import type { PartSummary } from '../../core/workbench/replies';
import { useOfScore, useSession } from '../job/session';
import styles from './EvidenceCharts.module.css';

const DEVIATION_STEP = 5;
const FARTHEST = 60;
const PHASES = 48;

/** How the attacks of a part lie, all together: from their places, within the beat, and the leads of all parts. */
export default function EvidenceCharts({ part }: { part: PartSummary | undefined }) {
  const { summary } = useSession('summary');
  const id = part?.id;
  const { data: evidence = null, why } = useOfScore(['evidence', id], async (core, revision) =>
    id ? core.evidence(revision, { part: id }) : null,
  );

  const deviations = useMemo(() => histogram(evidence?.deviations ?? []), [evidence]);
  const phases = useMemo(() => {
    const counts = new Array<number>(PHASES).fill(0);
    for (const phase of evidence?.phases ?? []) counts[Math.round(phase * PHASES) % PHASES]!++;
    return counts.map((count, at) => ({ at: Math.round((1000 * at) / PHASES) / 1000, count }));
  }, [evidence]);
  const leads = (summary?.parts ?? []).flatMap((each) =>
    each.foundLeads
      .flatMap(({ seconds, other }) => [seconds, ...(other ? [other.seconds] : [])])
      .map((seconds) => ({ name: each.abbreviation, lead: Math.round(1000 * seconds) })),
  );

  const bars = useMemo(
    () =>
      (evidence?.bars ?? []).map(({ bar, tempo, ratio }) => ({
        bar: summary?.bars[bar] ?? bar + 1,
        tempo: Math.round(10 * tempo) / 10,
        ratio: ratio === null ? null : Math.round(1000 * ratio) / 1000,
      })),
    [evidence, summary],
  );

  if (part && why !== null) return null;
  if (!part || !evidence) return <p className="soft">Choose a note of a part to see its evidence.</p>;
  return (
    <>
      <h3>{part.name}: off its places, ms</h3>
      <Columns
        data={deviations}
        x="at"
        y="count"
        mark={0}
        label="Attacks by their deviation in milliseconds"
      />
      <h3>Within the quarter, lead taken back</h3>
      <Columns data={phases} x="at" y="count" label="Attacks by their place in the quarter note" />
      <h3>Off one plain grid, ms</h3>
      <Columns
        data={evidence.grids.map(({ slots, away }) => ({ slots, away: Math.round(10 * away) / 10 }))}
        x="slots"
        y="away"
        label="Mean deviation in milliseconds from one grid throughout, by its slots in a quarter note"
      />
      <h3>Tempo, quarters a minute</h3>
      <Curve data={bars} y="tempo" label="Tempo by bar" />
      <h3>Offbeats: ½ straight, ⅔ swung</h3>
      <Curve data={bars} y="ratio" label="Swing ratio by bar" marks={[0.5, 2 / 3]} />
      <h3>Lead of each strand, ms</h3>
      <Columns data={leads} x="name" y="lead" label="Lead of each strand in milliseconds" />
    </>
  );
}

function histogram(values: readonly number[]): { at: number; count: number }[] {
  const steps = FARTHEST / DEVIATION_STEP;
  const counts = new Array<number>(2 * steps + 1).fill(0);
  for (const value of values) {
    const step = Math.round(value / DEVIATION_STEP);
    counts[Math.min(steps, Math.max(-steps, step)) + steps]!++;
  }
  return counts.map((count, index) => ({ at: (index - steps) * DEVIATION_STEP, count }));
}

interface ColumnsProps {
  data: Record<string, number | string>[];
  x: string;
  y: string;
  mark?: number;
  label: string;
}

function Columns({ data, x, y, mark, label }: ColumnsProps) {
  return (
    <figure className={styles.chart} style={{ margin: 0 }} aria-label={label}>
      <ResponsiveContainer width="100%" height={128}>
        <BarChart data={data} margin={{ top: 6, right: 2, bottom: 0, left: -24 }} barCategoryGap={1}>
          <CartesianGrid stroke="var(--line)" strokeDasharray="1 3" vertical={false} />
          <XAxis dataKey={x} tick={{ fontSize: 10, fill: 'var(--ink-soft)' }} stroke="var(--line)" />
          <YAxis
            tick={{ fontSize: 10, fill: 'var(--ink-soft)' }}
            stroke="var(--line)"
            allowDecimals={false}
          />
          <Tooltip
            contentStyle={{ background: 'var(--sheet)', border: '1px solid var(--line)', fontSize: 12 }}
            cursor={{ fill: 'var(--accent-wash)' }}
          />
          {mark !== undefined && <ReferenceLine x={mark} stroke="var(--accent)" />}
          <Bar dataKey={y} fill="var(--ink-soft)" isAnimationActive={false} />
        </BarChart>
      </ResponsiveContainer>
    </figure>
  );
}

interface CurveProps {
  data: Record<string, number | null>[];
  y: string;
  marks?: number[];
  label: string;
}

/** A value over the bars of the piece. */
function Curve({ data, y, marks = [], label }: CurveProps) {
  return (
    <figure className={styles.chart} style={{ margin: 0 }} aria-label={label}>
      <ResponsiveContainer width="100%" height={110}>
        <LineChart data={data} margin={{ top: 6, right: 2, bottom: 0, left: -24 }}>
          <CartesianGrid stroke="var(--line)" strokeDasharray="1 3" vertical={false} />
          <XAxis dataKey="bar" tick={{ fontSize: 10, fill: 'var(--ink-soft)' }} stroke="var(--line)" />
          <YAxis
            tick={{ fontSize: 10, fill: 'var(--ink-soft)' }}
            stroke="var(--line)"
            domain={marks.length > 0 ? [0.4, 0.8] : ['dataMin - 5', 'dataMax + 5']}
            tickFormatter={(value: number) => (marks.length > 0 ? value.toFixed(1) : `${Math.round(value)}`)}
          />
          <Tooltip
            contentStyle={{ background: 'var(--sheet)', border: '1px solid var(--line)', fontSize: 12 }}
          />
          {marks.map((mark) => (
            <ReferenceLine key={mark} y={mark} stroke="var(--accent)" strokeDasharray="3 3" />
          ))}
          <Line
            dataKey={y}
            type={marks.length > 0 ? 'linear' : 'stepAfter'}
            stroke="var(--ink-soft)"
            dot={marks.length > 0 && { r: 1.5 }}
            isAnimationActive={false}
          />
        </LineChart>
      </ResponsiveContainer>
    </figure>
  );
}
