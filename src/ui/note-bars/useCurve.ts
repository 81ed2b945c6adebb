import { type KeyboardEvent, type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import { decidedFor } from '../../core/decisions/decisions';
import {
  type CurvePoint,
  snapped,
  valueAt,
  withLine,
  withMoved,
  withoutPoint,
  withPoint,
} from '../../core/edit/curves';
import { barAt, tickAt } from '../../core/model/clock';
import type { NoteBarsData, StrandBars } from '../../core/workbench/note-bars';
import { useJobStore, useSession } from '../job/session';
import { usePlayback } from '../playback/playback';
import { laneValueAt, laneYOf } from './draw';
import { highestOf, isDrawable, tickOfX, type View, xOf } from './view';

/** A press this near to a point takes it, and a tick this near to a bar line or marker goes there. Pixels. */
const REACH = 7;
/** A press that moves less puts a point; more draws a line. Pixels. */
const SLACK = 4;
const NOTHING: readonly CurvePoint[] = [];

interface Press {
  x: number;
  /** The tick of the point that is moved; null for a line. */
  moves: number | null;
  line: CurvePoint[];
  /** The curve as it was before. */
  before: readonly CurvePoint[];
  isDrag: boolean;
}

/** The curve of one lane of one strand while it is worked on. */
export interface Curve {
  isDrawable: boolean;
  /** As they are now, drawn or decided. */
  points: () => readonly CurvePoint[];
  /** The tick of the chosen point. */
  chosen: number | null;
  isRecording: boolean;
  record: () => void;
  save: (points: readonly CurvePoint[]) => void;
  handlers: {
    onPointerDown: (event: PointerEvent<HTMLElement>) => void;
    onPointerMove: (event: PointerEvent<HTMLElement>) => void;
    onPointerUp: (event: PointerEvent<HTMLElement>) => void;
    onPointerCancel: () => void;
    onKeyDown: (event: KeyboardEvent<HTMLElement>) => void;
  };
}

/**
 * Draws a curve by pointer and keys: a press puts a point, a drag draws a line
 * or moves a point; arrows go from point to point and move it; while it
 * records, the height of the pointer or the arrows are the value at the playhead.
 */
export function useCurve(
  data: NoteBarsData,
  strand: StrandBars | undefined,
  lane: string,
  view: RefObject<View>,
  paint: () => void,
): Curve {
  const { take } = useSession('take', 'decisions');
  const job = useJobStore();
  const playback = usePlayback();
  const { isPlaying, position, toggle } = playback;
  const listening = useRef(playback);
  listening.current = playback;
  /** As it is decided at this moment, drawn or not. */
  const decided = () => (strand && decidedFor(job.getState().decisions, strand.id).curves?.[lane]) ?? NOTHING;
  /** While it is drawn or moved. */
  const draft = useRef<readonly CurvePoint[] | null>(null);
  const press = useRef<Press | null>(null);
  const hand = useRef(64);
  const recorded = useRef<CurvePoint[]>([]);
  const [chosen, setChosen] = useState<number | null>(null);
  const [isRecording, setRecording] = useState(false);
  const highest = highestOf(lane);
  const canDraw = strand !== undefined && isDrawable(lane);
  const points = () => draft.current ?? decided();
  const show = (next: readonly CurvePoint[] | null) => {
    draft.current = next;
    paint();
  };
  const save = (next: readonly CurvePoint[]) => {
    if (!strand) return;
    draft.current = null;
    void take({ kind: 'curve', strand: strand.id, lane, points: [...next] });
  };
  const latest = useRef({ save, points, paint });
  latest.current = { save, points, paint };

  // What is decided is drawn at once, and what is drawn goes with the lane and strand that it was drawn for.
  useEffect(() => {
    draft.current = null;
    latest.current.paint();
    return job.subscribe((now, before) => {
      if (now.decisions !== before.decisions) latest.current.paint();
    });
  }, [job, lane, strand?.id]);

  useEffect(() => {
    if (!isRecording || !isPlaying) return;
    recorded.current = [];
    let frame = 0;
    const follow = () => {
      const tick = Math.round(tickAt(data.clock, listening.current.position()));
      if ((recorded.current.at(-1)?.tick ?? -1) < tick) recorded.current.push({ tick, value: hand.current });
      frame = requestAnimationFrame(follow);
    };
    frame = requestAnimationFrame(follow);
    return () => {
      cancelAnimationFrame(frame);
      setRecording(false);
      if (recorded.current.length > 1)
        latest.current.save(withLine(latest.current.points(), recorded.current));
    };
  }, [isRecording, isPlaying, data.clock]);

  const at = ({ nativeEvent: { offsetX, offsetY } }: PointerEvent): CurvePoint & { x: number } => ({
    x: offsetX,
    tick: Math.max(0, Math.round(tickOfX(view.current, offsetX))),
    value: laneValueAt(offsetY, highest),
  });
  const placed = (tick: number, isFree: boolean): number =>
    isFree ? tick : snapped(data.clock, data.markers, tick, REACH * view.current.ticksPerPixel);

  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    if (!canDraw) return;
    event.currentTarget.focus();
    event.currentTarget.setPointerCapture(event.pointerId);
    const { x, tick, value } = at(event);
    const y = event.nativeEvent.offsetY;
    const near = points().find(
      (point) => Math.hypot(xOf(view.current, point.tick) - x, laneYOf(point.value, highest) - y) <= REACH,
    );
    press.current = {
      x,
      moves: near?.tick ?? null,
      line: [{ tick, value }],
      before: points(),
      isDrag: false,
    };
    setChosen(near?.tick ?? null);
  };
  const onPointerMove = (event: PointerEvent<HTMLElement>) => {
    if (!canDraw) return;
    const { x, tick, value } = at(event);
    hand.current = value;
    const now = press.current;
    if (!now) return;
    now.isDrag ||= Math.abs(x - now.x) > SLACK || now.moves !== null;
    if (!now.isDrag) return;
    if (now.moves !== null) {
      const to = placed(tick, event.altKey);
      show(withMoved(now.before, now.moves, { tick: to, value }));
      setChosen(to);
    } else {
      now.line.push({ tick, value });
      show(withLine(now.before, now.line));
    }
  };
  const onPointerUp = (event: PointerEvent<HTMLElement>) => {
    const now = press.current;
    press.current = null;
    if (!now || !canDraw) return;
    if (now.isDrag) return save(points());
    if (now.moves !== null) return;
    const { tick, value } = now.line[0]!;
    const to = placed(tick, event.altKey);
    setChosen(to);
    save(withPoint(now.before, { tick: to, value }));
  };
  const onPointerCancel = () => {
    if (press.current) show(null);
    press.current = null;
  };

  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    if (!canDraw || event.ctrlKey || event.metaKey) return;
    const all = points();
    const index = all.findIndex(({ tick }) => tick === chosen);
    const point = all[index];
    const by = event.shiftKey ? 10 : 1;
    const beat = (4 * data.clock.ticksPerQuarter) / barAt(data.clock, point?.tick ?? 0).meter.denominator;
    const choose = (next: CurvePoint | undefined) => {
      if (next) setChosen(next.tick);
      paint();
    };
    const lift = (more: number) => {
      hand.current = Math.max(0, Math.min(highest, hand.current + more));
      if (isRecording || !point) return;
      const value = Math.max(0, Math.min(highest, point.value + more));
      save(withPoint(all, { tick: point.tick, value }));
    };
    const shift = (ticks: number) => {
      if (!point) return;
      const tick = Math.max(0, Math.round(point.tick + ticks));
      setChosen(tick);
      save(withMoved(all, point.tick, { tick, value: point.value }));
    };
    const keys: Record<string, () => void> = {
      ArrowUp: () => lift(by),
      ArrowDown: () => lift(-by),
      ArrowRight: () => (event.altKey ? shift(beat) : choose(all[index + 1] ?? all.at(-1))),
      ArrowLeft: () => (event.altKey ? shift(-beat) : choose(all[Math.max(0, index - 1)])),
      Enter: () => {
        const tick = Math.round(tickAt(data.clock, position()));
        setChosen(tick);
        save(withPoint(all, { tick, value: Math.round(valueAt(all, tick) ?? hand.current) }));
      },
      Delete: () => point && save(withoutPoint(all, point.tick)),
      Backspace: () => point && save(withoutPoint(all, point.tick)),
    };
    const act = keys[event.key];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };

  return {
    isDrawable: canDraw,
    points,
    chosen,
    isRecording,
    record: () => {
      setRecording(!isRecording);
      if (isRecording === isPlaying) toggle();
    },
    save,
    handlers: { onPointerDown, onPointerMove, onPointerUp, onPointerCancel, onKeyDown },
  };
}
