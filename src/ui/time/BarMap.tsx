'use client';

import { type MouseEvent, useEffect, useMemo, useRef } from 'react';
import { counted } from '../../core/basics/words';
import type { PartSummary } from '../../core/workbench/replies';
import { useAppearance } from '../common/Providers';
import { coloursOf } from '../note-bars/inks';
import styles from './BarMap.module.css';

const ROW = 9;
const MOST_ROWS = 14;

interface Props {
  parts: readonly PartSummary[];
  /** Where something wants a look: index of a part and of a bar. */
  findings: readonly { part: number; at: { bar: number } }[];
  bars: number;
  from: number;
  to: number;
  onGo: (bar: number, part?: PartSummary) => void;
}

/** Parts by bars at a glance, the darker the more is found in a bar; the bars in view are framed. */
export function BarMap({ parts: all, findings, bars, from, to, onGo }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { isNight } = useAppearance();
  // Parts of which there is nothing to tell take no room; a line says at least where one is.
  const rows = useMemo(() => {
    const told = new Set(findings.map(({ part }) => part));
    return [...all.keys()].filter((part) => told.has(part)).slice(0, MOST_ROWS * 4);
  }, [all, findings]);
  const height = Math.max(1, rows.length) * ROW + (rows.length === 0 ? ROW / 2 : 0);

  useEffect(() => {
    const target = canvas.current;
    if (!target) return;
    const paint = () => {
      const scale = window.devicePixelRatio || 1;
      const width = target.clientWidth;
      target.width = width * scale;
      target.height = height * scale;
      const context = target.getContext('2d')!;
      context.scale(scale, scale);
      const { soft, line, accent } = coloursOf(isNight);
      const cell = width / Math.max(1, bars);
      context.fillStyle = line;
      context.globalAlpha = 0.28;
      for (let row = 0; row < Math.max(1, rows.length); row++)
        context.fillRect(0, row * ROW + 1, width, ROW - 2);
      // Findings of one bar lie over each other, and make it darker.
      context.fillStyle = soft;
      context.globalAlpha = 0.4;
      for (const { part, at } of findings)
        context.fillRect(at.bar * cell, rows.indexOf(part) * ROW + 1, Math.max(2, cell - 0.5), ROW - 2);
      context.globalAlpha = 1;
      context.strokeStyle = accent;
      context.lineWidth = 2;
      context.strokeRect(from * cell + 1, 1, Math.max(3, (to - from) * cell - 2), height - 2);
    };
    paint();
    const observer = new ResizeObserver(paint);
    observer.observe(target);
    return () => observer.disconnect();
  }, [rows, findings, bars, from, to, height, isNight]);

  const onClick = (event: MouseEvent<HTMLCanvasElement>) => {
    const rect = event.currentTarget.getBoundingClientRect();
    const bar = Math.floor(((event.clientX - rect.left) / rect.width) * bars);
    const row = rows[Math.floor((event.clientY - rect.top) / ROW)];
    onGo(Math.min(bars - 1, Math.max(0, bar)), row === undefined ? undefined : all[row]);
  };

  return (
    <section
      className={styles.map}
      aria-label="Bar map. Left and right arrow keys go from bar to bar."
      // biome-ignore lint/a11y/noNoninteractiveTabindex: arrow keys go from bar to bar
      tabIndex={0}
      onKeyDown={(event) => {
        const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
        if (step === 0 || event.shiftKey) return;
        event.preventDefault();
        onGo(Math.min(bars - 1, Math.max(0, from + step)));
      }}
    >
      <canvas
        ref={canvas}
        style={{ height }}
        role="img"
        aria-label={`Bar map: ${all.length} parts, ${bars} bars, ${counted(findings.length, 'finding')}`}
        onClick={onClick}
      />
    </section>
  );
}
