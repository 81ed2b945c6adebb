'use client';

import { useMemo, useRef } from 'react';
import type { EventId } from '../../../core/model/ids';
import type { PartSummary } from '../../../core/workbench/replies';
import { leadText } from '../../common/names';
import { useSize } from '../../common/useSize';
import styles from './Interlinear.module.css';
import { useStaves } from './useStaves';
import { Version } from './Version';

/** Between what was decided and what was found, in pixels. */
const GAP = 18;
const NO_FLAGS: ReadonlyMap<EventId, number> = new Map();

interface Props {
  parts: readonly PartSummary[];
  /** Bars from `from` up to but not including `to` (indices). */
  from: number;
  to: number;
  /** Beside what it would be without decisions about the rhythm. */
  compared: boolean;
  /** Numbers of findings by note. */
  flags: ReadonlyMap<EventId, number>;
  selected: ReadonlySet<EventId>;
  onSelect: (notes: ReadonlySet<EventId>, part: PartSummary) => void;
}

/**
 * Some parts, each twice on one time axis that all share: note bars as played
 * above, the engraved staff of the same bars below.
 */
export function Interlinear({ parts, from, to, compared, flags, selected, onSelect }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const { width: room } = useSize(box);
  const width = compared ? Math.floor((room - GAP) / 2) : room;
  const ids = useMemo(() => parts.map(({ id }) => id), [parts]);
  const asked = { parts: ids, from, to, width };
  const decided = useStaves(box, { ...asked, found: false, isShown: true });
  const found = useStaves(box, { ...asked, found: true, isShown: compared });
  return (
    <div ref={box} className={styles.rows}>
      {parts.map((part) => {
        const shared = {
          part: part.id,
          width,
          selected,
          onSelect: (notes: ReadonlySet<EventId>) => onSelect(notes, part),
        };
        return (
          <section key={part.leader} className={styles.row} aria-label={part.name} data-strand={part.leader}>
            <h3 className={styles.name}>
              {part.name}
              <span className="soft"> {leadText(part.leads)}</span>
            </h3>
            {compared ? (
              <div className={styles.versions}>
                <Version
                  {...shared}
                  {...decided}
                  name={`${part.name}, as decided`}
                  label="As decided"
                  flags={flags}
                />
                <Version
                  {...shared}
                  {...found}
                  found
                  name={`${part.name}, as found`}
                  label="As found, without decisions"
                  flags={NO_FLAGS}
                />
              </div>
            ) : (
              <Version {...shared} {...decided} name={part.name} flags={flags} />
            )}
          </section>
        );
      })}
    </div>
  );
}
