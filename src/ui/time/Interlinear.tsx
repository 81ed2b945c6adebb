'use client';

import {
  type KeyboardEvent,
  type MouseEvent,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import { type EventId, eventOfNote, noteIdOf, type PartId } from '../../core/model/ids';
import type { InterlinearData, PartSummary, PlayedAndWritten } from '../../core/workbench/replies';
import { leadText } from '../common/names';
import { useSize } from '../common/useSize';
import { Engraving } from '../engraving/Engraving';
import { engrave } from '../engraving/engrave';
import { useOfScore } from '../job/session';
import { axisOf, knotsOf } from './axis';
import styles from './Interlinear.module.css';

/** Height of the strip of note bars, and of one semitone at most, in pixels. */
const STRIP = 104;
const TALLEST = 9;
const AIR = 6;
/** Room for the bar numbers above the notes. */
const NUMBERS = 16;
const SCALE = 38;

interface Props {
  part: PartSummary;
  from: number;
  to: number;
  /** Beside what it would be without decisions about the rhythm. */
  compared: boolean;
  /** Numbers of findings by note. */
  flags: ReadonlyMap<EventId, number>;
  selected: ReadonlySet<EventId>;
  onSelect: (notes: ReadonlySet<EventId>, part: PartSummary) => void;
  /** Room left free at the left, so that the bars of all parts stand under each other. */
  indent: number;
  /** Told where the first bar begins without it, in pixels. */
  onHead: (part: PartId, x: number) => void;
}

/** One part, twice on one time axis: note bars as played above, the engraved staff of the same bars below. */
export function Interlinear({ part, from, to, compared, flags, ...shared }: Props) {
  const pair = { part, from, to, ...shared };
  return (
    <section className={styles.row} aria-label={part.name} data-strand={part.strands[0]}>
      <h3 className={styles.name}>
        {part.name}
        <span className="soft"> {leadText(part.leads)}</span>
      </h3>
      {compared ? (
        <div className={styles.versions}>
          <Pair {...pair} flags={flags} name={`${part.name}, as decided`} />
          <Pair {...pair} flags={NO_FLAGS} name={`${part.name}, as found`} found />
        </div>
      ) : (
        <Pair {...pair} flags={flags} name={part.name} />
      )}
    </section>
  );
}

const NO_FLAGS: ReadonlyMap<EventId, number> = new Map();

interface PairProps extends Omit<Props, 'compared'> {
  name: string;
  /** Without any decision about the rhythm. */
  found?: boolean;
}

/** Note bars and staff of one version of a part. */
function Pair({ part, from, to, flags, selected, onSelect, indent, onHead, name, found = false }: PairProps) {
  const [drawn, setDrawn] = useState<{ data: InterlinearData; svg: string } | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const { width: room } = useSize(box);
  const width = room - indent;

  const { data: read, isOld } = useOfScore(['interlinear', part.id, from, to, found], (core, revision) =>
    core.interlinear(revision, { part: part.id, from, to, found }),
  );

  useEffect(() => {
    if (width < 100 || !read || isOld) return;
    const controller = new AbortController();
    const { signal } = controller;
    void engrave({ document: read.document, width, scale: SCALE, even: true }, signal).then((svg) => {
      if (!signal.aborted && svg !== null) setDrawn({ data: read, svg });
    });
    return () => controller.abort();
  }, [read, isOld, width]);

  return (
    <div>
      {found && <p className={`${styles.version} soft`}>As found, without decisions</p>}
      {name !== part.name && !found && <p className={`${styles.version} soft`}>As decided</p>}
      <div ref={box} className={styles.pair} style={{ minHeight: STRIP + 90, paddingLeft: indent }}>
        {drawn && (
          <Drawn
            key={`${from} ${to}`}
            {...drawn}
            width={width}
            name={name}
            flags={flags}
            selected={selected}
            onSelect={(notes) => onSelect(notes, part)}
            onHead={(x) => onHead(part.id, x)}
          />
        )}
      </div>
    </div>
  );
}

interface DrawnProps {
  svg: string;
  data: InterlinearData;
  width: number;
  name: string;
  flags: ReadonlyMap<EventId, number>;
  selected: ReadonlySet<EventId>;
  onSelect: (notes: ReadonlySet<EventId>) => void;
  onHead: (x: number) => void;
}

interface Layout {
  axis: (moment: number) => number;
  /** Top of each written head by note, from the top of the pair. */
  heads: ReadonlyMap<string, { x: number; y: number }>;
  height: number;
}

function Drawn({ svg, data, width, name, flags, selected, onSelect, onHead }: DrawnProps) {
  const told = useRef(onHead);
  told.current = onHead;
  const staff = useRef<HTMLDivElement>(null);
  const [layout, setLayout] = useState<Layout | null>(null);

  useLayoutEffect(() => {
    const element = staff.current;
    if (!element) return;
    const starts = new Map(data.notes.map((note) => [noteIdOf(note.id), note.start]));
    const knots = knotsOf(
      element,
      starts,
      data.bars.map((bar) => bar.end),
    );
    const outer = element.getBoundingClientRect();
    const heads = new Map<string, { x: number; y: number }>();
    for (const note of element.querySelectorAll('g.note')) {
      const rect = note.querySelector('.notehead')?.getBoundingClientRect();
      if (rect)
        heads.set(note.id, { x: rect.left + rect.width / 2 - outer.left, y: rect.top - outer.top + STRIP });
    }
    const axis = axisOf(knots);
    setLayout({ axis, heads, height: outer.height + STRIP });
    told.current(Math.round(axis(data.bars[0]!.start)));
  }, [svg, data, width]);

  const ordered = useMemo(
    () => data.notes.toSorted((a, b) => a.playedStart - b.playedStart || b.key - a.key),
    [data],
  );

  const choose = (id: EventId | null, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    if (id === null) return onSelect(new Set());
    if (event.ctrlKey || event.metaKey) {
      const next = new Set(selected);
      if (!next.delete(id)) next.add(id);
      return onSelect(next);
    }
    const [anchor] = selected;
    const at = ordered.findIndex((note) => note.id === id);
    const start = event.shiftKey && anchor ? ordered.findIndex((note) => note.id === anchor) : -1;
    if (start < 0) return onSelect(new Set([id]));
    const range = ordered.slice(Math.min(at, start), Math.max(at, start) + 1).map((note) => note.id);
    onSelect(new Set(at < start ? range.reverse() : range));
  };

  const onClick = (event: MouseEvent) => {
    const target = event.target as Element;
    const drawn = target.closest('[data-note]')?.getAttribute('data-note') ?? target.closest('g.note')?.id;
    choose(drawn ? eventOfNote(drawn) : null, event);
  };

  const onKeyDown = (event: KeyboardEvent) => {
    if (event.shiftKey || (event.key !== 'ArrowRight' && event.key !== 'ArrowLeft')) return;
    event.preventDefault();
    const at = ordered.findIndex((note) => selected.has(note.id));
    const next = ordered[event.key === 'ArrowRight' ? at + 1 : Math.max(0, at - 1)];
    if (next) onSelect(new Set([next.id]));
  };

  return (
    <div
      className={styles.drawn}
      style={{ paddingTop: STRIP }}
      role="application"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: arrow keys walk from note to note
      tabIndex={0}
      aria-label={`${name}, as played and as written. Arrow keys go from note to note.`}
      onClick={onClick}
      onKeyDown={onKeyDown}
    >
      <Engraving ref={staff} className={styles.staff} svg={svg} />
      {layout && (
        <svg className={styles.over} width={width} height={layout.height} aria-hidden="true">
          <Strip data={data} layout={layout} width={width} flags={flags} selected={selected} />
        </svg>
      )}
    </div>
  );
}

function Strip({
  data,
  layout,
  width,
  flags,
  selected,
}: {
  data: InterlinearData;
  layout: Layout;
  width: number;
  flags: ReadonlyMap<EventId, number>;
  selected: ReadonlySet<EventId>;
}) {
  const { axis, heads } = layout;
  const rows = Math.max(12, data.highest - data.lowest + 1);
  const room = STRIP - NUMBERS - AIR;
  const row = Math.min(TALLEST, room / rows);
  const used = row * (data.highest - data.lowest + 1);
  const yOf = (key: number) => NUMBERS + (room - used) / 2 + (data.highest - key) * row;
  const lastX = width - 2;
  return (
    <>
      <line x1={0} x2={width} y1={STRIP - 0.5} y2={STRIP - 0.5} className={styles.floor} />
      {data.bars.map((bar) => (
        <g key={bar.start}>
          {bar.beats.map((beat, index) => (
            <line
              key={beat}
              x1={axis(beat)}
              x2={axis(beat)}
              y1={index === 0 ? 0 : 12}
              y2={STRIP}
              className={index === 0 ? styles.barLine : styles.beatLine}
            />
          ))}
          <text x={axis(bar.start) + 3} y={10} className={styles.number}>
            {bar.number}
          </text>
        </g>
      ))}
      {data.notes.map((note) => (
        <Bar
          key={note.id}
          note={note}
          axis={axis}
          y={yOf(note.key)}
          height={Math.max(3, row - 1)}
          lastX={lastX}
          head={heads.get(noteIdOf(note.id))}
          flag={flags.get(note.id)}
          isSelected={selected.has(note.id)}
        />
      ))}
    </>
  );
}

interface BarProps {
  note: PlayedAndWritten;
  axis: (moment: number) => number;
  y: number;
  height: number;
  lastX: number;
  head: { x: number; y: number } | undefined;
  flag: number | undefined;
  isSelected: boolean;
}

function Bar({ note, axis, y, height, lastX, head, flag, isSelected }: BarProps) {
  const x = Math.max(0, axis(note.playedStart));
  const end = Math.min(lastX, axis(note.playedEnd));
  const written = Math.max(0, axis(note.start));
  const writtenEnd = Math.min(lastX, axis(note.end));
  return (
    <g data-note={noteIdOf(note.id)}>
      {head && (
        <line
          x1={x}
          y1={y + height / 2}
          x2={head.x}
          y2={head.y}
          className={isSelected ? styles.threadChosen : styles.thread}
        />
      )}
      {!note.grace && (
        <rect
          x={written}
          y={y - 1.5}
          width={Math.max(2, writtenEnd - written - 1)}
          height={height + 3}
          className={styles.fitted}
        />
      )}
      <rect
        x={x}
        y={y}
        width={Math.max(2, end - x)}
        height={height}
        className={styles.played}
        style={{ fillOpacity: 0.35 + (0.65 * note.velocity) / 127 }}
      />
      {flag !== undefined && (
        <>
          <path
            d={`M${x} ${y}v-14h${8 + 6 * String(flag).length}l-3 5.5l3 5.5h-${5 + 6 * String(flag).length}`}
            className={styles.flag}
          />
          <text x={x + 4} y={y - 4.5} className={styles.flagNumber}>
            {flag}
          </text>
        </>
      )}
      {note.decided && <circle cx={x} cy={y - 6} r={2.5} className={styles.decided} />}
      {isSelected && (
        <rect
          x={x - 2.5}
          y={y - 3}
          width={Math.max(2, end - x) + 5}
          height={height + 6}
          className={styles.chosen}
        />
      )}
    </g>
  );
}
