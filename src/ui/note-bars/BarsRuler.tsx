import { type KeyboardEvent, type Ref, useRef } from 'react';
import { barAt, type Clock } from '../../core/model/clock';
import styles from './NoteBars.module.css';

interface Props {
  ref: Ref<HTMLCanvasElement>;
  clock: Clock;
  /** Ticks from and before which bars are chosen. */
  bars: readonly [number, number] | null;
  /** The tick at a place, pixels from the left. */
  tickAt: (x: number) => number;
  onBars: (from: number, to: number) => void;
  onKeyDown: (event: KeyboardEvent) => void;
}

/** The bars above the notes; a drag chooses some. */
export function BarsRuler({ ref, clock, bars, tickAt, onBars, onKeyDown }: Props) {
  const from = useRef<number | null>(null);
  const [first, last] = bars ? [barAt(clock, bars[0]).number, barAt(clock, bars[1] - 1).number] : [0, 0];
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Bars: drag to select, Escape to clear"
      aria-valuenow={first}
      aria-valuetext={bars ? `bars ${first} to ${last}` : 'no bars selected'}
      className={styles.ruler}
      onKeyDown={onKeyDown}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        from.current = tickAt(event.nativeEvent.offsetX);
        onBars(from.current, from.current);
      }}
      onPointerMove={(event) => {
        if (from.current !== null) onBars(from.current, Math.max(0, tickAt(event.nativeEvent.offsetX)));
      }}
      onPointerUp={() => {
        from.current = null;
      }}
    >
      <canvas ref={ref} />
    </div>
  );
}
