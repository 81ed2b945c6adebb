'use client';

import { type KeyboardEvent, type MouseEvent, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { type EventId, eventOfNote, type PartId } from '../../../core/model/ids';
import type { InterlinearData, InterlinearRow } from '../../../core/workbench/replies';
import { Engraving } from '../../engraving/Engraving';
import { trim } from '../../engraving/picture';
import styles from './Interlinear.module.css';
import { type Head, NoteStrip, STRIP } from './NoteStrip';
import { type Axis, FOUND, idOnPage, type Staves } from './useStaves';

/** Room to expect of a staff until it is engraved, in pixels, and the air around it, in the engraver's lengths. */
const STAFF = 90;
const STAFF_AIR = 120;

interface Props {
  part: PartId;
  staves: Staves | null;
  axis: Axis | null;
  /** In pixels. */
  width: number;
  name: string;
  /** What is said above it where two versions stand side by side. */
  label?: string;
  /** Without any decision about the rhythm. */
  found?: boolean;
  flags: ReadonlyMap<EventId, number>;
  selected: ReadonlySet<EventId>;
  onSelect: (notes: ReadonlySet<EventId>) => void;
}

/** Note bars and staff of one version of a part. */
export function Version({ part, staves, label, ...shared }: Props) {
  const row = staves?.data.rows.find((each) => each.part === part);
  const picture = staves?.pictures.get(part);
  return (
    <div>
      {label && <p className={`${styles.version} soft`}>{label}</p>}
      <div className={styles.pair} style={{ minHeight: STRIP + STAFF }}>
        {row && picture && <Drawn {...shared} picture={picture} row={row} bars={staves!.data.bars} />}
      </div>
    </div>
  );
}

interface DrawnProps extends Omit<Props, 'part' | 'staves' | 'label'> {
  picture: SVGSVGElement;
  row: InterlinearRow;
  bars: InterlinearData['bars'];
}

interface Layout {
  /** Top of each written head by note, from the top of the pair. */
  heads: ReadonlyMap<string, Head>;
  height: number;
}

function Drawn({
  picture,
  row,
  bars,
  axis,
  width,
  name,
  found = false,
  flags,
  selected,
  onSelect,
}: DrawnProps) {
  const staff = useRef<HTMLDivElement>(null);
  const [layout, setLayout] = useState<Layout | null>(null);

  useLayoutEffect(() => {
    const element = staff.current;
    if (!element) return;
    trim(picture, STAFF_AIR);
    const outer = element.getBoundingClientRect();
    const heads = new Map<string, Head>();
    for (const note of element.querySelectorAll('g.note')) {
      const rect = note.querySelector('.notehead')?.getBoundingClientRect();
      if (rect)
        heads.set(note.id, { x: rect.left + rect.width / 2 - outer.left, y: rect.top - outer.top + STRIP });
    }
    setLayout({ heads, height: outer.height + STRIP });
  }, [picture]);

  const ordered = useMemo(
    () => row.notes.toSorted((a, b) => a.playedStart - b.playedStart || b.key - a.key),
    [row],
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
    const drawn =
      target.closest('[data-note]')?.getAttribute('data-note') ??
      target.closest('g.note')?.id.slice(found ? FOUND.length : 0);
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
      <div data-staves={found ? 'found' : 'decided'}>
        <Engraving ref={staff} className={styles.staff} svg={picture} />
      </div>
      {layout && axis && (
        <svg className={styles.over} width={width} height={layout.height} aria-hidden="true">
          <NoteStrip
            row={row}
            bars={bars}
            axis={axis}
            headOf={(note) => layout.heads.get(idOnPage(note, found))}
            width={width}
            flags={flags}
            selected={selected}
          />
        </svg>
      )}
    </div>
  );
}
