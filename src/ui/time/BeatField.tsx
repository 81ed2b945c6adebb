'use client';

import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';
import type { BeatSheet } from '../../core/workbench/beat-sheet';
import { useAppearance } from '../common/Providers';
import { useSize } from '../common/useSize';
import { coloursOf } from '../note-bars/inks';
import styles from './BeatField.module.css';

/** Heights of the tempo curve and of the line with the bar numbers, in pixels. */
const CURVE = 84;
const NUMBERS = 20;
/** Pixels within which a press is a click, not a drag. */
const SLACK = 3;
/** What an arrow key moves a beat by, and how long one waits for the next press; seconds, milliseconds. */
const NUDGE = 0.01;
const PAUSE = 250;

interface Props {
  sheet: BeatSheet;
  from: number;
  span: number;
  chosen: number | null;
  taps: readonly number[];
  playhead: () => number | null;
  isPlaying: boolean;
  onChoose: (index: number) => void;
  /** Resolves to whether the beat went anywhere. */
  onMove: (index: number, seconds: number) => Promise<boolean>;
  onBar: (index: number) => void;
  onRemove: (index: number) => void;
  onAdd: (seconds: number) => void;
  onGo: (seconds: number) => void;
}

/** Notes over seconds with the beats as lines to drag, and the tempo that they make as a curve above. */
export function BeatField(props: Props) {
  const { sheet, from, span, chosen, taps, playhead, isPlaying } = props;
  const { isNight } = useAppearance();
  const field = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(field);
  /** A beat on its way: pressed at `from` (pixels), or already moved when that is not finite. */
  const [drag, setDrag] = useState<{ index: number; seconds: number; from: number } | null>(null);
  const pause = useRef<ReturnType<typeof setTimeout>>(undefined);
  const xOf = (second: number) => ((second - from) / span) * width;
  const secondOf = (x: number) => from + (x / width) * span;

  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || width === 0) return;
    const scale = window.devicePixelRatio || 1;
    Object.assign(context.canvas, { width: width * scale, height: height * scale });
    context.scale(scale, scale);
    drawNotes(context, sheet.notes, { from, span, width, height }, coloursOf(isNight).ink);
  }, [sheet, from, span, width, height, isNight]);

  useEffect(() => {
    if (!isPlaying) return;
    let due = 0;
    const step = () => {
      const now = playhead();
      if (head.current) {
        head.current.style.display = now === null ? 'none' : 'block';
        if (now !== null) head.current.style.transform = `translateX(${((now - from) / span) * width}px)`;
      }
      due = requestAnimationFrame(step);
    };
    step();
    return () => cancelAnimationFrame(due);
  }, [isPlaying, playhead, from, span, width]);

  // What was moved stays where it was put until the new beats are there.
  useEffect(() => setDrag(null), [sheet]);
  useEffect(() => () => clearTimeout(pause.current), []);

  const { seconds, beats, firstBar } = sheet;
  const bars = new Map(beats.bars.map((beat, bar) => [beat, bar + firstBar]));
  const shown: number[] = [];
  seconds.forEach((second, index) => {
    if (second >= from - 0.1 && second <= from + span + 0.1) shown.push(index);
  });

  const onPointerDown = (event: PointerEvent<HTMLElement>, index: number) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    props.onChoose(index);
    setDrag({ index, seconds: seconds[index]!, from: event.clientX });
  };
  const onPointerMove = (event: PointerEvent) => {
    if (!drag || Math.abs(event.clientX - drag.from) < SLACK) return;
    const left = field.current!.getBoundingClientRect().left;
    setDrag({ ...drag, seconds: secondOf(event.clientX - left), from: Number.NEGATIVE_INFINITY });
  };
  const move = async (index: number, second: number) => {
    if (!(await props.onMove(index, Math.max(0, second)))) setDrag(null);
  };
  const onPointerUp = () => {
    if (drag && !Number.isFinite(drag.from)) void move(drag.index, drag.seconds);
    else setDrag(null);
  };
  const nudge = (index: number, step: number) => {
    const now = drag?.index === index ? drag.seconds : seconds[index]!;
    const next = now + step * NUDGE;
    setDrag({ index, seconds: next, from: Number.NEGATIVE_INFINITY });
    clearTimeout(pause.current);
    pause.current = setTimeout(() => void move(index, next), PAUSE);
  };
  /** A move that still waits for a next press comes before what is done now. */
  const settleThen = async (act: () => void) => {
    if (drag) {
      clearTimeout(pause.current);
      await move(drag.index, drag.seconds);
    }
    act();
  };
  const onKeyDown = (event: KeyboardEvent, index: number) => {
    const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (step !== 0) event.shiftKey ? props.onChoose(index + step) : nudge(index, step);
    else if (event.key === 'Enter') void settleThen(() => props.onBar(index));
    else if (event.key === 'Delete' || event.key === 'Backspace')
      void settleThen(() => props.onRemove(index));
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  return (
    <>
      <TempoCurve {...props} width={width} />
      {/* biome-ignore lint/a11y/noStaticElementInteractions: adding a beat by keyboard is a button in the inspector */}
      <div
        ref={field}
        className={styles.beatField}
        onDoubleClick={(event) => {
          const rect = event.currentTarget.getBoundingClientRect();
          props.onAdd(secondOf(event.clientX - rect.left));
        }}
        onWheel={(event) => props.onGo(from + ((event.deltaX + event.deltaY) / 600) * span)}
      >
        <canvas ref={canvas} style={{ width, height }} role="img" aria-label="The notes as they sound" />
        {shown.map((index) => {
          const isDragged = drag?.index === index;
          const second = isDragged ? drag.seconds : seconds[index]!;
          const bar = bars.get(index);
          return (
            <div
              key={index}
              data-beat={index}
              className={`${styles.beat} ${bar ? styles.downbeat : ''} ${chosen === index ? styles.beatChosen : ''}`}
              style={{ left: xOf(second) }}
              role="slider"
              tabIndex={chosen === index || (chosen === null && index === shown[0]) ? 0 : -1}
              aria-label={bar ? `Bar line of bar ${bar}` : `Beat ${index + 1}`}
              aria-valuemin={0}
              aria-valuemax={sheet.end}
              aria-valuenow={second}
              aria-valuetext={`${second.toFixed(3)} seconds`}
              onPointerDown={(event) => onPointerDown(event, index)}
              onPointerMove={onPointerMove}
              onPointerUp={onPointerUp}
              onDoubleClick={(event) => event.stopPropagation()}
              onFocus={() => chosen !== index && props.onChoose(index)}
              onKeyDown={(event) => onKeyDown(event, index)}
            >
              {bar && <span className={styles.beatNumber}>{bar}</span>}
            </div>
          );
        })}
        {taps.map((tap) => (
          <div key={tap} className={styles.tap} style={{ left: xOf(tap) }} />
        ))}
        <div ref={head} className={styles.playhead} style={{ display: 'none' }} />
      </div>
    </>
  );
}

/** Beats a minute, beat by beat, over the seconds in view. */
function TempoCurve({ sheet, from, span, width }: Props & { width: number }) {
  const { seconds } = sheet;
  const tempos = Array.from(seconds.subarray(0, -1), (second, index) => 60 / (seconds[index + 1]! - second));
  const sorted = tempos.toSorted((a, b) => a - b);
  const [low, high] = [(sorted[0] ?? 60) * 0.97, (sorted.at(-1) ?? 120) * 1.03];
  const y = (tempo: number) => CURVE - 8 - ((tempo - low) / Math.max(1, high - low)) * (CURVE - 16);
  const x = (second: number) => ((second - from) / span) * width;
  const points = tempos.flatMap((tempo, index) =>
    seconds[index + 1]! < from || seconds[index]! > from + span
      ? []
      : [`${x(seconds[index]!)},${y(tempo)}`, `${x(seconds[index + 1]!)},${y(tempo)}`],
  );
  return (
    <svg
      className={styles.tempoCurve}
      width="100%"
      height={CURVE}
      role="img"
      aria-label="Tempo, beat by beat"
    >
      <polyline points={points.join(' ')} className={styles.tempoLine} />
      <text x={4} y={12} className={styles.number}>
        {Math.round(high / 1.03)} a minute
      </text>
      <text x={4} y={CURVE - 4} className={styles.number}>
        {Math.round(low / 0.97)}
      </text>
    </svg>
  );
}

interface Window {
  from: number;
  span: number;
  width: number;
  height: number;
}

function drawNotes(
  context: CanvasRenderingContext2D,
  { on, off, key }: BeatSheet['notes'],
  { from, span, width, height }: Window,
  ink: string,
): void {
  let [lowest, highest] = [127, 0];
  for (const each of key) {
    lowest = Math.min(lowest, each);
    highest = Math.max(highest, each);
  }
  const row = Math.min(9, (height - NUMBERS - 8) / Math.max(12, highest - lowest + 1));
  context.clearRect(0, 0, width, height);
  context.fillStyle = ink;
  context.globalAlpha = 0.55;
  const perSecond = width / span;
  for (let index = 0; index < key.length; index++) {
    if (off[index]! < from || on[index]! > from + span) continue;
    const x = (on[index]! - from) * perSecond;
    const long = Math.max(2, (off[index]! - on[index]!) * perSecond);
    context.fillRect(x, NUMBERS + (highest - key[index]!) * row, long, Math.max(2, row - 1));
  }
}
