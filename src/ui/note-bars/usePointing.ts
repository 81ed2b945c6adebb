import { type PointerEvent, type RefObject, useRef } from 'react';
import { noteAt, notesIn, stripAt } from './picking';
import type { NoteSelection, Strip, View } from './view';

/** Pixels within which a press is a click, not a drag. */
const SLACK = 4;
/** Fingers nearer than this do not zoom, in pixels. */
const PINCH = 8;
const NOTHING: NoteSelection = new Map();

interface Point {
  x: number;
  y: number;
}

interface Pointing {
  view: RefObject<View>;
  strips: readonly Strip[];
  /** The rubber band, corner to corner, while there is one. */
  band: RefObject<[number, number, number, number] | null>;
  look: (next: View) => void;
  /** The view zoomed about a place, pixels from the left. */
  zoomedAt: (x: number, factor: number) => View;
  onBand: () => void;
  /** What was clicked or banded, and the strand under it, if any; `adds` to what was chosen before. */
  onPick: (picked: { active?: number; notes: NoteSelection; adds: boolean }) => void;
}

/**
 * Pointers over the notes: a click picks one, a drag draws a band, a finger
 * moves the view and two zoom it.
 */
export function usePointing({ view, strips, band, look, zoomedAt, onBand, onPick }: Pointing) {
  const fingers = useRef(new Map<number, Point>());
  const press = useRef<(Point & { moved: boolean }) | null>(null);

  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    event.currentTarget.focus();
    event.currentTarget.setPointerCapture(event.pointerId);
    const at = pointOf(event);
    fingers.current.set(event.pointerId, at);
    press.current = { ...at, moved: false };
  };

  const onPointerMove = (event: PointerEvent) => {
    const before = fingers.current.get(event.pointerId);
    if (!before || !press.current) return;
    const at = pointOf(event);
    if (Math.hypot(at.x - press.current.x, at.y - press.current.y) > SLACK) press.current.moved = true;
    if (event.pointerType === 'touch') moveFinger(event.pointerId, before, at);
    else if (press.current.moved) {
      band.current = [press.current.x, press.current.y, at.x, at.y];
      onBand();
    }
    fingers.current.set(event.pointerId, at);
  };

  const moveFinger = (pointer: number, before: Point, at: Point) => {
    const now = view.current;
    const other = [...fingers.current].find(([id]) => id !== pointer)?.[1];
    if (!other) {
      const start = now.start - (at.x - before.x) * now.ticksPerPixel;
      return look({ ...now, start, top: now.top - (at.y - before.y) });
    }
    const [was, is] = [Math.abs(before.x - other.x), Math.abs(at.x - other.x)];
    if (was > PINCH && is > PINCH) look(zoomedAt((at.x + other.x) / 2, was / is));
  };

  const onPointerUp = (event: PointerEvent) => {
    fingers.current.delete(event.pointerId);
    const start = press.current;
    press.current = null;
    if (!start) return;
    const adds = event.shiftKey;
    if (band.current) {
      const notes = notesIn(strips, view.current, band.current);
      band.current = null;
      const [active] = notes.keys();
      onPick({ ...(active !== undefined && { active }), notes, adds });
    } else if (!start.moved) {
      const found = noteAt(strips, view.current, start.x, start.y);
      const strip = stripAt(strips, view.current, start.y);
      const notes = found ? new Map([[found.strip.index, new Set([found.note])]]) : NOTHING;
      onPick({ ...(strip && { active: strip.index }), notes, adds });
    }
  };

  return { onPointerDown, onPointerMove, onPointerUp, onPointerCancel: onPointerUp };
}

const pointOf = ({ nativeEvent: { offsetX, offsetY } }: PointerEvent): Point => ({ x: offsetX, y: offsetY });
