'use client';

import { type RefObject, useEffect, useLayoutEffect, useState } from 'react';
import { type EventId, noteIdOf, type PartId } from '../../../core/model/ids';
import type { InterlinearData } from '../../../core/workbench/replies';
import { nextTask } from '../../common/nextTask';
import { engrave } from '../../engraving/engrave';
import { cutByParts, pictureOf } from '../../engraving/picture';
import { usePitchView } from '../../engraving/pitchView';
import { useOfScore } from '../../job/session';
import { axisOf, knotsOf } from './axis';

const SCALE = 38;
/** Below this no system can be engraved, in pixels. */
const NARROWEST = 100;

interface Asked {
  parts: readonly PartId[];
  /** Bars from `from` up to but not including `to` (indices). */
  from: number;
  to: number;
  /** Without any decision about the rhythm. */
  found: boolean;
  /** In pixels. */
  width: number;
  isShown: boolean;
}

export interface Staves {
  data: InterlinearData;
  pictures: ReadonlyMap<PartId, SVGSVGElement>;
}

/** From score time to pixels, the same for all rows; null until the staves of these rows stand on the page. */
export type Axis = (moment: number) => number;

/**
 * The staves of all rows, engraved as one system and cut by parts, so that
 * what sounds together stands under each other.
 *
 * @param column holds the rows once they are on the page
 */
export function useStaves(column: RefObject<HTMLElement | null>, asked: Asked) {
  const { parts, from, to, found, width, isShown } = asked;
  const [staves, setStaves] = useState<Staves | null>(null);
  const { concert } = usePitchView();
  const [axis, setAxis] = useState<{ axis: Axis } | null>(null);

  const { data: read, isOld } = useOfScore(
    ['interlinear', parts, from, to, found, concert],
    (core, revision) => core.interlinear(revision, { parts: [...parts], from, to, found, concert }),
    isShown && parts.length > 0,
  );

  useEffect(() => {
    if (!isShown || width < NARROWEST || !read || isOld) return;
    const controller = new AbortController();
    const { signal } = controller;
    void engrave({ document: read.document, width, scale: SCALE, even: true }, signal).then(async (svg) => {
      if (signal.aborted || svg === null) return;
      const system = pictureOf(svg, found ? FOUND : '');
      if (!system) return;
      const cut = cutByParts(
        system,
        read.rows.map((row) => row.staves),
      );
      // Read and cut in one task, drawn in the next.
      await nextTask();
      if (signal.aborted) return;
      setStaves({ data: read, pictures: new Map(read.rows.map((row, index) => [row.part, cut[index]!])) });
    });
    return () => controller.abort();
  }, [read, isOld, width, found, isShown]);

  useLayoutEffect(() => {
    if (!staves || !column.current) return;
    const { rows, bars } = staves.data;
    const starts = new Map<string, number>(
      rows.flatMap(({ notes }) => notes.map((note) => [idOnPage(note.id, found), note.start])),
    );
    const known = axisOf(
      knotsOf(
        [...column.current.querySelectorAll<HTMLElement>(`[data-staves="${found ? 'found' : 'decided'}"]`)],
        starts,
        bars.map((bar) => bar.end),
      ),
    );
    setAxis({ axis: known });
  }, [staves, column, found]);

  return { staves: isShown ? staves : null, axis: axis?.axis ?? null };
}

/** Before the ids of what is shown without decisions. */
export const FOUND = 'found-';

/** The id of a note's head on the page, where the same note may stand twice. */
export const idOnPage = (note: EventId, found: boolean): string => `${found ? FOUND : ''}${noteIdOf(note)}`;
