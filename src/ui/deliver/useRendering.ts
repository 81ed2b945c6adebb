import { App } from 'antd';
import { useRef, useState } from 'react';
import { type Heard, isOfScore } from '../../core/sound/events';
import type { StemsChoice } from '../../core/sound/stem-choice';
import { renderedWords, type StemsBy, tooMuchSound } from '../../core/workbench/stems';
import { proxy, withSound } from '../../workers/client';
import { saveFile } from '../common/saveFile';
import { unlessStopped } from '../common/unlessStopped';
import { useSession } from '../job/session';
import { bankBytes } from '../playback/bank';
import { levelsOf } from '../playback/hearing';
import { usePlayback } from '../playback/playback';

export interface Rendering {
  heard: Heard;
  by: StemsBy;
  /** With mutes, levels and pans of the mixer. */
  asHeard: boolean;
  choice: StemsChoice;
}

/** Renders sound files offline, and saves them: one, or a zip of several. */
export function useRendering() {
  const { core, job, inventory, decisions, stock, summary } = useSession(
    'core',
    'job',
    'inventory',
    'decisions',
    'stock',
    'summary',
  );
  const { hearing } = usePlayback();
  const { notification } = App.useApp();
  const [share, setShare] = useState<number | null>(null);
  const running = useRef<AbortController | null>(null);

  const files = async ({ heard, by, asHeard, choice }: Rendering, signal: AbortSignal) => {
    const revision = isOfScore(heard) ? summary?.revision : stock.revision;
    if (revision === undefined) throw new Error('The score is still being written.');
    const [timeline, stems] = await Promise.all([
      core.timeline(revision, { heard }),
      core.stems(revision, { heard, by }),
    ]);
    const leftOut =
      heard === 'source' ? [] : inventory.strands.filter(({ id }) => decisions.strands.get(id)?.out);
    const levels = levelsOf(
      timeline.voicings.map(({ strand }) => strand),
      asHeard ? hearing : new Map(),
      new Set(leftOut.map(({ id }) => id)),
    );
    // What is silent throughout has no file.
    const sounding = stems.filter(({ strands }) => strands.some((id) => levels.get(id)?.gain !== 0));
    if (sounding.length === 0) throw new Error('Everything is muted.');
    const why = tooMuchSound(timeline, sounding, choice, sounding.length > 1);
    if (why) throw new Error(why);
    const bank = await bankBytes();
    const rendering = withSound(
      (sound) => sound.render(bank, timeline, sounding, choice, levels, proxy(setShare)),
      signal,
    );
    return unlessStopped(signal, rendering);
  };

  const render = async (of: Rendering) => {
    setShare(0);
    const controller = new AbortController();
    running.current = controller;
    try {
      const done = await files(of, controller.signal);
      if (!done) return;
      const { content, made } = done;
      const extension = made.names.length === 1 ? of.choice.format : 'zip';
      const what = of.by === 'all' ? of.heard : `stems ${of.heard}`;
      saveFile(`${job.sourceName.replace(/\.[^.]+$/, '')} ${what}.${extension}`, content);
      notification.success({ title: 'Rendered', description: renderedWords(made, of.choice.rate) });
    } catch (error) {
      notification.error({ title: 'The audio was not rendered', description: (error as Error).message });
    } finally {
      running.current = null;
      setShare(null);
    }
  };

  return { share, render, stop: () => running.current?.abort() };
}
