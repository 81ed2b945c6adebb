'use client';

import { useEffect, useState } from 'react';
import { readSetting, writeSetting } from '../../store/jobs';
import styles from './InspectorEdge.module.css';

/** Pixels. */
const USUAL = 290;
const LEAST = 240;
const MOST = 620;
const STEP = 20;
const SETTING = 'inspector width';

const within = (width: number): number => Math.min(MOST, Math.max(LEAST, Math.round(width)));

/** The edge of the panel on the right, by which it is made wider and narrower; its width is kept for all stages. */
export function InspectorEdge() {
  const [width, setWidth] = useState(USUAL);
  useEffect(() => {
    void readSetting(SETTING).then((kept) => {
      const number = Number(kept);
      if (number > 0) setWidth(within(number));
    });
  }, []);
  useEffect(() => {
    document.documentElement.style.setProperty('--inspector', `${width}px`);
  }, [width]);
  const keep = (next: number) => {
    setWidth(next);
    // A width that cannot be kept holds until the page is left.
    writeSetting(SETTING, String(next)).catch(() => {});
  };
  return (
    // biome-ignore lint/a11y/useSemanticElements: a rule between panels that can be moved is a separator with a value
    <div
      role="separator"
      aria-orientation="vertical"
      aria-label="Width of the panel on the right"
      aria-valuenow={width}
      aria-valuemin={LEAST}
      aria-valuemax={MOST}
      tabIndex={0}
      className={styles.edge}
      onDoubleClick={() => keep(USUAL)}
      onKeyDown={({ key }) => {
        if (key === 'ArrowLeft') keep(within(width + STEP));
        if (key === 'ArrowRight') keep(within(width - STEP));
      }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        event.preventDefault();
      }}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId))
          setWidth(within(document.documentElement.clientWidth - event.clientX));
      }}
      onPointerUp={() => keep(width)}
    />
  );
}
