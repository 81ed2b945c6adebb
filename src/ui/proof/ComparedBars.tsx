'use client';

import { Button } from 'antd';
import { useEffect, useId, useRef, useState } from 'react';
import type { Compared, ComparedBars, ComparedRow } from '../../core/workbench/compare';
import { useSize } from '../common/useSize';
import { Engraving } from '../engraving/Engraving';
import { engrave } from '../engraving/engrave';
import { useOfScore, useSession } from '../job/session';
import { usePlayback } from '../playback/playback';
import styles from './ProofStage.module.css';

const HEIGHT = 92;
const SCALE = 34;
/** Room for the clef and signatures of a staff, so that bars stand above their notes roughly. */
const MARGIN = 14;

interface Props {
  which: [Compared, Compared];
  row: ComparedRow;
  names: readonly [string, string];
}

/** The bars around a difference, one reading above the other: as note bars, and as a staff where it is a score. */
export function ComparedBarsView({ which, row, names }: Props) {
  const [one, two] = which;
  const place = (of: ComparedRow['one']) => of && { line: of.line, bar: of.bar };
  const at = {
    one,
    two,
    ...(row.one && { atOne: place(row.one) }),
    ...(row.two && { atTwo: place(row.two) }),
  };
  const { data } = useOfScore(['compared bars', one, two, row.id], (core, revision) =>
    core.comparedBars(revision, at),
  );
  const { core, summary } = useSession('core', 'summary');
  const { isPlaying, sounding, toggle, playStretches } = usePlayback();
  const hear = async () => {
    if (isPlaying || !summary || !data) return toggle();
    const sides = await Promise.all(
      data.map(async (side, index) => {
        const key = `compared ${summary.revision} ${JSON.stringify(which)} ${index}`;
        const name = names[index]!;
        if (!side) return [];
        const { timeline, from, until } = await core.comparedSound(summary.revision, { one, two, index });
        const reading = { key, name, load: () => Promise.resolve(timeline), whole: true };
        return [{ reading, from: from[side.from]!, until: until[side.to - 1]! }];
      }),
    );
    playStretches(sides.flat());
  };
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const keys = (data ?? []).flatMap((each) => each?.notes.map(({ key }) => key) ?? []);
  const [lowest, highest] = [Math.min(...keys, 127) - 2, Math.max(...keys, 0) + 2];
  const length = Math.max(1, ...(data ?? []).map((each) => each?.length ?? 0));
  return (
    <div ref={box} className={styles.sides}>
      <div className={styles.hear}>
        <Button size="small" disabled={!data} onClick={() => void hear()}>
          {isPlaying ? 'Stop' : 'Hear both in turns'}
        </Button>
        {sounding && (
          <span className="soft" role="status">
            {sounding}
          </span>
        )}
      </div>
      {data?.map((side, index) => (
        <section key={names[index]} aria-label={names[index]}>
          <h3>
            {side?.name ?? ''} <span className="soft">{names[index]}</span>
          </h3>
          {side ? (
            <>
              <Strip side={side} width={width} lowest={lowest} highest={highest} length={length} />
              {side.document && <Staff document={side.document} width={width - 2 * MARGIN} />}
            </>
          ) : (
            <p className="soft">No music here.</p>
          )}
        </section>
      ))}
    </div>
  );
}

interface StripProps {
  side: ComparedBars;
  width: number;
  lowest: number;
  highest: number;
  length: number;
}

/** Note bars; what differs is outlined. */
function Strip({ side, width, lowest, highest, length }: StripProps) {
  const room = Math.max(1, width - 2 * MARGIN);
  const x = (moment: number) => MARGIN + (moment / length) * room;
  const step = HEIGHT / Math.max(1, highest - lowest + 1);
  const tall = Math.max(3, Math.min(9, step));
  return (
    <svg
      className={styles.strip}
      width={width}
      height={HEIGHT + 16}
      role="img"
      aria-label={`Note bars of ${side.name}`}
    >
      {side.bars.map(({ start, number }) => (
        <g key={`${start}`}>
          <line x1={x(start)} x2={x(start)} y1={14} y2={HEIGHT + 16} className={styles.barLine} />
          <text x={x(start) + 3} y={11} className={styles.barNumber}>
            {number}
          </text>
        </g>
      ))}
      {side.notes.map(({ id, key, start, end, differs }) => (
        <rect
          key={`${id} ${start}`}
          x={x(start)}
          y={14 + (highest - key) * step}
          width={Math.max(2, x(end) - x(start) - 1)}
          height={tall}
          className={differs ? styles.differing : styles.agreeing}
        />
      ))}
    </svg>
  );
}

function Staff({ document, width }: { document: string; width: number }) {
  const own = useId();
  const [svg, setSvg] = useState<string | null>(null);
  useEffect(() => {
    if (width < 100) return;
    const controller = new AbortController();
    void engrave({ document, width, scale: SCALE, even: true }, controller.signal).then((made) => {
      if (!controller.signal.aborted) setSvg(made);
    });
    return () => controller.abort();
  }, [document, width]);
  return svg && <Engraving svg={svg} own={own} isHidden />;
}
