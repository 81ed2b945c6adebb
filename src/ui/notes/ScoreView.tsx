'use client';

import { type KeyboardEvent, type MouseEvent, useCallback, useEffect, useRef, useState } from 'react';
import type { SystemPlan } from '../../core/engrave/systems';
import type { PartId } from '../../core/model/ids';
import { nextTask } from '../common/nextTask';
import { Engraving } from '../engraving/Engraving';
import { engrave } from '../engraving/engrave';
import { pictureOf } from '../engraving/picture';
import { usePitchView } from '../engraving/pitchView';
import { useOfScore } from '../job/session';
import styles from './ScoreView.module.css';
import { editOf, type NoteEdit } from './useNoteEdits';

/** The engraver's staff space at full scale, in pixels. */
const SPACE_AT_100 = 18;
/** Height to expect of one staff with its air, in staff spaces, until a system is engraved. */
const STAFF_ROOM = 11;
/** Systems are engraved when they come this near to the window, and let go when they are farther; pixels. */
const NEAR = '700px 0px';
const FAR = '4000px 0px';
/** How much looser systems are planned after one overflowed, and the loosest plan. */
const LOOSER = 0.9;
const LOOSEST = 0.5;

const countSystems = (svg: string): number => svg.split('class="system"').length - 1;

interface Props {
  parts: readonly PartId[];
  staves: number;
  /** Percent of the engraver's own size. */
  scale: number;
  selected: string | null;
  onSelect: (noteId: string | null) => void;
  onEdit: (edit: NoteEdit) => void;
}

/** The score in systems, engraved as they scroll into view. */
export function ScoreView({ parts, staves, scale, selected, onSelect, onEdit }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  const [fill, setFill] = useState(1);
  const { concert } = usePitchView();
  const space = (SPACE_AT_100 * scale) / 100;
  const room = Math.max(12, (fill * width) / space);
  const { data: systems = [] } = useOfScore(
    ['systems', parts, room, concert],
    (core, revision) => core.systems(revision, { parts, width: room, concert }),
    width >= 100 && parts.length > 0,
  );

  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => setWidth(Math.floor(entry!.contentRect.width)));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  // Where the estimate put more bars in a system than fit, all systems are planned a little looser.
  const onOverflow = useCallback(() => setFill((before) => Math.max(LOOSEST, before * LOOSER)), []);

  const onClick = (event: MouseEvent) => {
    const note = (event.target as Element).closest('g.note');
    onSelect(note?.id ?? null);
  };

  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>) => {
    if (event.key === 'Escape') return onSelect(null);
    const edit = selected === null ? undefined : editOf(event);
    if (edit) {
      event.preventDefault();
      return onEdit(edit);
    }
    if (event.key !== 'ArrowRight' && event.key !== 'ArrowLeft') return;
    event.preventDefault();
    const notes = [...event.currentTarget.querySelectorAll('g.note')];
    const at = notes.findIndex((note) => note.id === selected);
    const next = notes[event.key === 'ArrowRight' ? at + 1 : Math.max(0, at - 1)];
    if (!next) return;
    onSelect(next.id);
    next.scrollIntoView({ block: 'nearest' });
  };

  return (
    <div
      ref={frame}
      className={styles.score}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: arrow keys walk from note to note
      tabIndex={0}
      role="application"
      aria-label="Score. Left and right arrow keys go from note to note; up and down move one by a step, with Shift by a semitone, with Alt by an octave; a letter makes it the nearest note of that letter, with Shift it adds one above; Insert plays it again after it; Delete leaves it out."
      onClick={onClick}
      onKeyDown={onKeyDown}
    >
      {systems.map((system) => (
        <System
          key={system.from}
          plan={system}
          parts={parts}
          width={width}
          scale={scale}
          expected={(staves * STAFF_ROOM + 4) * space}
          selected={selected}
          onOverflow={onOverflow}
        />
      ))}
    </div>
  );
}

interface SystemProps {
  plan: SystemPlan;
  parts: readonly PartId[];
  width: number;
  scale: number;
  expected: number;
  selected: string | null;
  onOverflow: () => void;
}

/** Whether an element is within a margin around the window. */
function useNearness(box: React.RefObject<HTMLDivElement | null>, rootMargin: string): boolean {
  const [near, setNear] = useState(false);
  useEffect(() => {
    if (!box.current) return;
    const observer = new IntersectionObserver(([entry]) => setNear(entry!.isIntersecting), { rootMargin });
    observer.observe(box.current);
    return () => observer.disconnect();
  }, [box, rootMargin]);
  return near;
}

function System({ plan, parts, width, scale, expected, selected, onOverflow }: SystemProps) {
  const box = useRef<HTMLDivElement>(null);
  const isNear = useNearness(box, NEAR);
  const isHeld = useNearness(box, FAR);
  const [picture, setPicture] = useState<SVGSVGElement | null>(null);
  const [failed, setFailed] = useState(false);
  const [height, setHeight] = useState(expected);
  const { from, to } = plan;
  const { concert } = usePitchView();
  const { data: document } = useOfScore(
    ['window', parts, from, to, concert],
    (core, revision) => core.window(revision, { parts, from, to, concert }),
    isNear,
  );

  useEffect(() => {
    if (!isNear || !document) return;
    const { signal, abort } = abortable();
    engrave({ document, width, scale }, signal).then(
      async (made) => {
        if (made === null || signal.aborted) return;
        if (to - from > 1 && countSystems(made) > 1) onOverflow();
        const parsed = pictureOf(made);
        // A large system is long work: read in one task, drawn in the next.
        await nextTask();
        if (signal.aborted) return;
        setPicture(parsed);
        setFailed(parsed === null);
      },
      () => {
        if (!signal.aborted) setFailed(true);
      },
    );
    return abort;
  }, [isNear, document, width, scale, from, to, onOverflow]);

  // What scrolled far away is let go; its room stays.
  useEffect(() => {
    if (isHeld || picture === null) return;
    setHeight(box.current?.offsetHeight ?? expected);
    setPicture(null);
  }, [isHeld, picture, expected]);

  return (
    <div
      ref={box}
      className={styles.system}
      style={picture ? undefined : { minHeight: height }}
      data-from={from}
      data-engraved={picture !== null}
    >
      {failed && (
        <p className="rubric">
          These bars could not be engraved. The score itself is whole and can be delivered.
        </p>
      )}
      {picture && <Engraving svg={picture} />}
      <Marker box={box} noteId={selected} drawn={picture} />
    </div>
  );
}

function abortable() {
  const controller = new AbortController();
  return { signal: controller.signal, abort: () => controller.abort() };
}

/** A frame around the selected note; the note itself stays ink. */
function Marker({
  box,
  noteId,
  drawn,
}: {
  box: React.RefObject<HTMLDivElement | null>;
  noteId: string | null;
  /** What is drawn in the box; with another picture the note stands elsewhere. */
  drawn: unknown;
}) {
  const [place, setPlace] = useState<{ left: number; top: number; width: number; height: number } | null>(
    null,
  );
  useEffect(() => {
    const note =
      noteId && drawn ? box.current?.querySelector(`g.note[id="${CSS.escape(noteId)}"] .notehead`) : null;
    if (!note || !box.current) return setPlace(null);
    const outer = box.current.getBoundingClientRect();
    const inner = note.getBoundingClientRect();
    setPlace({
      left: inner.left - outer.left - 4,
      top: inner.top - outer.top - 4,
      width: inner.width + 8,
      height: inner.height + 8,
    });
  }, [noteId, box, drawn]);
  return place && <span className={styles.marker} style={place} aria-hidden />;
}
