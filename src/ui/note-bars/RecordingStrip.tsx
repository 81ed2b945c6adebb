import { type KeyboardEvent, type Ref, useRef } from 'react';
import styles from './NoteBars.module.css';

/** Seconds that a key shifts it by, with Shift and without. */
const COARSE = 0.1;
const FINE = 0.01;

interface Props {
  ref: Ref<HTMLCanvasElement>;
  /** The notes were heard in it: it lies where it lies. */
  isFixed: boolean;
  /** Seconds of the recording at which the piece begins. */
  offset: number;
  /** Seconds of the piece at a place, pixels from the left. */
  secondsAt: (x: number) => number;
  /** Shows it as it would lie. */
  onTry: (offset: number) => void;
  onLay: (offset: number) => void;
}

/** The outline of the recording above the notes; it is dragged along the piece. */
export function RecordingStrip({ ref, isFixed, offset, secondsAt, onTry, onLay }: Props) {
  const grip = useRef<{ seconds: number; offset: number } | null>(null);
  const at = useRef(offset);
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
    event.preventDefault();
    event.stopPropagation();
    const step = event.shiftKey ? COARSE : FINE;
    // To the right it sounds later, so that the piece begins earlier in it.
    onLay(offset + (event.key === 'ArrowLeft' ? step : -step));
  };
  if (isFixed)
    return (
      <div className={styles.wave} data-fixed="true">
        <canvas ref={ref} role="img" aria-label="Outline of the recording" data-testid="recording-wave" />
      </div>
    );
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Recording: drag along the piece, or arrow keys for 10 ms, with Shift for 100"
      aria-valuenow={Math.round(offset * 1000)}
      aria-valuetext={`the piece begins at ${offset.toFixed(3)} seconds of it`}
      className={styles.wave}
      onKeyDown={onKeyDown}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        grip.current = { seconds: secondsAt(event.nativeEvent.offsetX), offset };
        at.current = offset;
      }}
      onPointerMove={(event) => {
        if (!grip.current) return;
        at.current = grip.current.offset - (secondsAt(event.nativeEvent.offsetX) - grip.current.seconds);
        onTry(at.current);
      }}
      onPointerUp={() => {
        const moved = grip.current && Math.abs(at.current - grip.current.offset) > 0.0005;
        grip.current = null;
        if (moved) onLay(at.current);
      }}
    >
      <canvas ref={ref} data-testid="recording-wave" />
    </div>
  );
}
