'use client';

import {
  type KeyboardEvent,
  type MouseEvent,
  type RefObject,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import type { SystemPlan } from '../../core/engrave/systems';
import { type EventId, eventOfNote, type PartId } from '../../core/model/ids';
import { countSystems, LOOSER, LOOSEST, SPACE_AT_100 } from '../../workers/system-options';
import { nextTask } from '../common/nextTask';
import { Engraving } from '../engraving/Engraving';
import { engrave } from '../engraving/engrave';
import { pictureOf } from '../engraving/picture';
import { usePitchView } from '../engraving/pitchView';
import { useOfScore } from '../job/session';
import styles from './ScoreView.module.css';
import { editOf, type NoteEdit } from './useNoteEdits';

/** Height to expect of one staff with its air, in staff spaces, until a system is engraved. */
const STAFF_ROOM = 11;
/** Systems are engraved when they come this near to the window, and let go when they are farther; pixels. */
const NEAR = '700px 0px';
const FAR = '4000px 0px';

type Way = 'next' | 'last' | 'above' | 'below';
const WAYS: Readonly<Record<string, Way>> = {
  ArrowRight: 'next',
  ArrowLeft: 'last',
  PageUp: 'above',
  PageDown: 'below',
};

const staffOf = (note: Element | undefined): string | null =>
  note?.closest('g.staff')?.getAttribute('data-n') ?? null;

/** The note beside one on its staff, or the nearest one on the staff above or below; the first where there is none yet. */
function neighbour(score: Element, id: string | null, way: Way): Element | undefined {
  const notes = [...score.querySelectorAll('g.note')];
  const at = notes.findIndex((note) => note.id === id);
  const from = notes[at];
  if (!from) return notes[0];
  const staff = staffOf(from);
  if (way === 'next') return notes.find((note, index) => index > at && staffOf(note) === staff);
  if (way === 'last') return notes.findLast((note, index) => index < at && staffOf(note) === staff);
  const middle = (note: Element) => {
    const { left, width } = note.getBoundingClientRect();
    return left + width / 2;
  };
  const own = [...(from.closest('g.system')?.querySelectorAll('g.note') ?? [])];
  const numbers = [...new Set(own.map((note) => Number(staffOf(note))))].sort((a, b) => a - b);
  const wanted = numbers[numbers.indexOf(Number(staff)) + (way === 'above' ? -1 : 1)];
  const x = middle(from);
  return own
    .filter((note) => Number(staffOf(note)) === wanted)
    .sort((a, b) => Math.abs(middle(a) - x) - Math.abs(middle(b) - x))[0];
}

interface Props {
  parts: readonly PartId[];
  staves: number;
  /** Percent of the engraver's own size. */
  scale: number;
  /** The score itself, which has the keys. */
  box: RefObject<HTMLDivElement | null>;
  /** The note that was chosen last. */
  focus: string | null;
  chosen: readonly EventId[];
  onSelect: (noteId: string | null, how: Choosing) => void;
  onEdit: (edit: NoteEdit) => void;
  /** A sign is to be put. */
  onSign: () => void;
  onAll: () => void;
}

/** A note is chosen alone, beside the others, or with all up to it. */
export type Choosing = 'only' | 'one-more' | 'up-to';

/** The score in systems, engraved as they scroll into view. */
export function ScoreView({
  parts,
  staves,
  scale,
  box: frame,
  focus,
  chosen,
  onSelect,
  onEdit,
  onSign,
  onAll,
}: Props) {
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
  }, [frame]);

  // Where the estimate put more bars in a system than fit, all systems are planned a little looser.
  const onOverflow = useCallback(() => setFill((before) => Math.max(LOOSEST, before * LOOSER)), []);

  const onClick = (event: MouseEvent) => {
    const note = (event.target as Element).closest('g.note');
    const { shiftKey, ctrlKey, metaKey } = event;
    onSelect(note?.id ?? null, shiftKey ? 'up-to' : ctrlKey || metaKey ? 'one-more' : 'only');
  };

  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>) => {
    if (event.key === 'Escape') return onSelect(null, 'only');
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'a') {
      event.preventDefault();
      return onAll();
    }
    if (chosen.length > 0 && event.key === 's' && !event.ctrlKey && !event.metaKey) {
      event.preventDefault();
      return onSign();
    }
    const edit = chosen.length === 0 ? undefined : editOf(event);
    if (edit) {
      event.preventDefault();
      return onEdit(edit);
    }
    const way = WAYS[event.key];
    if (!way) return;
    event.preventDefault();
    const next = neighbour(event.currentTarget, focus, way);
    if (!next) return;
    onSelect(next.id, event.shiftKey ? 'up-to' : 'only');
    next.scrollIntoView({ block: 'nearest' });
  };

  const marked = useMemo(() => new Set(chosen), [chosen]);
  return (
    <div
      ref={frame}
      className={styles.score}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: arrow keys walk from note to note
      tabIndex={0}
      role="application"
      aria-label="Score. Left and right arrow keys go from note to note, page up and down to the staff above and below; up and down move one by a step, with Shift by a semitone, with Alt by an octave; a letter makes it the nearest note of that letter, with Shift it adds one above; with Control, left and right move it in time, with Shift too they change its length; S puts a sign; with Shift, left and right choose more notes; Insert plays it again after it; Delete leaves it out."
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
          chosen={marked}
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
  chosen: ReadonlySet<EventId>;
  onOverflow: () => void;
}

/** Whether an element is within a margin around the window. @param first what is taken for so until it is known */
function useNearness(box: RefObject<HTMLDivElement | null>, rootMargin: string, first: boolean): boolean {
  const [near, setNear] = useState(first);
  useEffect(() => {
    if (!box.current) return;
    const observer = new IntersectionObserver(([entry]) => setNear(entry!.isIntersecting), { rootMargin });
    observer.observe(box.current);
    return () => observer.disconnect();
  }, [box, rootMargin]);
  return near;
}

function System({ plan, parts, width, scale, expected, chosen, onOverflow }: SystemProps) {
  const box = useRef<HTMLDivElement>(null);
  // The top of the page is where it is opened: its first system is not waited for to be seen.
  const isNear = useNearness(box, NEAR, plan.from === 0);
  const isHeld = useNearness(box, FAR, plan.from === 0);
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
      <Markers box={box} chosen={chosen} drawn={picture} />
    </div>
  );
}

function abortable() {
  const controller = new AbortController();
  return { signal: controller.signal, abort: () => controller.abort() };
}

interface Frame {
  id: string;
  left: number;
  top: number;
  width: number;
  height: number;
}

/** Frames around the chosen notes; the notes themselves stay ink. */
function Markers({
  box,
  chosen,
  drawn,
}: {
  box: RefObject<HTMLDivElement | null>;
  chosen: ReadonlySet<EventId>;
  /** What is drawn in the box; with another picture the notes stand elsewhere. */
  drawn: unknown;
}) {
  const [frames, setFrames] = useState<readonly Frame[]>([]);
  useEffect(() => {
    if (!box.current || !drawn || chosen.size === 0) return setFrames([]);
    const outer = box.current.getBoundingClientRect();
    const own = [...box.current.querySelectorAll('g.note')].filter(({ id }) => {
      const event = eventOfNote(id);
      return event !== null && chosen.has(event);
    });
    setFrames(
      own.flatMap((note): Frame[] => {
        const head = note.querySelector('.notehead');
        if (!head) return [];
        const { left, top, width, height } = head.getBoundingClientRect();
        return [
          {
            id: note.id,
            left: left - outer.left - 4,
            top: top - outer.top - 4,
            width: width + 8,
            height: height + 8,
          },
        ];
      }),
    );
  }, [chosen, box, drawn]);
  return frames.map(({ id, ...style }) => (
    <span key={id} className={styles.marker} style={style} aria-hidden />
  ));
}
