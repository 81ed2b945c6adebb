import { App } from 'antd';
import { useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import { clockTime } from '../../core/deliver/bar-table';
import { type Heard, isOfScore } from '../../core/sound/events';
import { LARGEST_WAV } from '../../core/sound/sound-file';
import { bytesOfStem, endOfSound, type StemsChoice, type StemsMade } from '../../core/sound/stems';
import type { StemsBy } from '../../core/workbench/stems';
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

/** What became of sound, for people. */
function saidOf({ names, frames, turnedDown, peak }: StemsMade, rate: number): string {
  const all = names.length === 1 ? 'One file' : `${counted(names.length, 'file')} from one start`;
  const level = Number.isFinite(peak) ? `loudest place at ${peak.toFixed(1).replace('-', '−')} dB` : 'silent';
  const less = turnedDown > 0 ? `, turned down by ${turnedDown.toFixed(1)} dB to fit` : '';
  return `${all}, ${clockTime(frames / rate)} long; ${level}${less}.`;
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
    // Each by itself, and all in one zip, whose sizes have 32 bits as well.
    const bytes = bytesOfStem(choice, endOfSound(timeline, choice.leadInBars)) * (sounding.length + 2);
    if (bytes > LARGEST_WAV)
      throw new Error(
        `${counted(sounding.length, 'file')} would be ${(bytes / 1e9).toFixed(1)} GB, and a zip holds 4. Families, 16 bits or 44.1 kHz take less.`,
      );
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
      notification.success({ title: 'Rendered', description: saidOf(made, of.choice.rate) });
    } catch (error) {
      notification.error({ title: 'The audio was not rendered', description: (error as Error).message });
    } finally {
      running.current = null;
      setShare(null);
    }
  };

  return { share, render, stop: () => running.current?.abort() };
}
