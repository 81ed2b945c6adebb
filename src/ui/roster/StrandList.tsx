'use client';

import { useDraggable } from '@dnd-kit/core';
import { type KeyboardEvent, memo, useRef } from 'react';
import { counted } from '../../core/basics/words';
import type { StrandDecisions } from '../../core/decisions/decisions';
import { SURE } from '../../core/instruments/recognise';
import { type StrandId, spelledStrand } from '../../core/model/ids';
import type { StrandEntry } from '../../core/stock/inventory';
import { Stepwise } from '../common/Stepwise';
import styles from './RosterStage.module.css';

/** A strand as the list shows it. */
export interface StrandRow {
  entry: StrandEntry;
  decided: StrandDecisions;
  /** The instrument is guessed, and not to be trusted unseen. */
  isUnsure: boolean;
}

/** @param isScore a score says what its strands are played on */
export const rowOf = (entry: StrandEntry, decided: StrandDecisions, isScore: boolean): StrandRow => ({
  entry,
  decided,
  isUnsure: !isScore && !decided.out && !decided.instrument && !decided.into && entry.guess.confidence < SURE,
});

export const strandName = ({ name, id, piece, guess }: StrandEntry): string =>
  `${name || spelledStrand(id)}${piece && !guess.number ? `, ${piece}` : ''}`;

/** So many lines are drawn at a time. */
const LINES = 24;

interface Props {
  rows: readonly StrandRow[];
  chosen: ReadonlySet<StrandId>;
  onChoose: (ids: readonly StrandId[], isChosen: boolean) => void;
}

/** The strands of the source, to be ticked, dragged onto parts, and walked through with the arrow keys. */
export function StrandList({ rows, chosen, onChoose }: Props) {
  const list = useRef<HTMLUListElement>(null);
  const onKeyDown = (event: KeyboardEvent) => {
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (by === 0 || !(event.target instanceof HTMLInputElement)) return;
    const boxes = [...(list.current?.querySelectorAll<HTMLInputElement>('input[type=checkbox]') ?? [])];
    const at = boxes.indexOf(event.target);
    const next = at + by;
    const row = rows[next];
    if (!row) return;
    event.preventDefault();
    boxes[next]!.focus();
    // With Shift the ticks go along.
    if (event.shiftKey) onChoose([rows[at]!.entry.id, row.entry.id], true);
  };
  return (
    <ul className={styles.strands} aria-label="Strands of the source" ref={list} onKeyDown={onKeyDown}>
      <Stepwise by={LINES}>
        {rows.map((row) => (
          <StrandLine
            key={row.entry.id}
            entry={row.entry}
            isOut={row.decided.out ?? false}
            technique={row.decided.technique ?? row.entry.guess.technique}
            isUnsure={row.isUnsure}
            isChosen={chosen.has(row.entry.id)}
            onChoose={onChoose}
          />
        ))}
      </Stepwise>
    </ul>
  );
}

/** Drawn anew only where it changes: there may be hundreds. */
const StrandLine = memo(function StrandLine({
  entry,
  isOut,
  technique,
  isUnsure,
  isChosen,
  onChoose,
}: {
  entry: StrandEntry;
  isOut: boolean;
  technique: string | null;
  isUnsure: boolean;
  isChosen: boolean;
  onChoose: Props['onChoose'];
}) {
  const { setNodeRef, listeners, transform, isDragging } = useDraggable({
    id: `strand ${entry.id}`,
    data: { strand: entry.id },
  });
  const { guess } = entry;
  const name = strandName(entry);
  const says = [guess.number && `player ${guess.number}`, technique].filter(Boolean).join(', ');
  return (
    <li
      ref={setNodeRef}
      className={`${styles.strand} ${isOut ? styles.out : ''} ${isDragging ? styles.dragged : ''}`}
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : undefined}
      {...listeners}
    >
      <input
        type="checkbox"
        className={styles.tick}
        checked={isChosen}
        aria-label={`Choose ${name}`}
        onPointerDown={(event) => event.stopPropagation()}
        onChange={(event) => onChoose([entry.id], event.target.checked)}
      />
      <span className={styles.strandName} title={`${name}: ${guess.why}`}>
        {name}
      </span>
      <span className={`soft ${styles.says}`}>
        {isOut ? 'left out' : isUnsure ? <em className="rubric">a guess</em> : says}
      </span>
      <span className="soft figures" title={counted(entry.notes, 'note')}>
        {entry.notes.toLocaleString('en')}
      </span>
    </li>
  );
});
