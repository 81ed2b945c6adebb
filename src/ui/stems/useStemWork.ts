import { App } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import type { Timeline } from '../../core/sound/events';
import { useSession } from '../job/session';
import { isShort } from '../recording/decode';
import type { Stem } from './laid-stems';
import { layStems, stemsBySound } from './match';

interface StemWork {
  /** How much is done; null where nothing is at work. */
  share: number | null;
  lay: (stems: readonly Stem[]) => Promise<void>;
  match: (stems: readonly Stem[]) => Promise<void>;
  stop: () => void;
}

/** Listens to stems: where they lie, and what they are of. What comes of it is one step. */
export function useStemWork(): StemWork {
  const { core, stock, summary, take } = useSession('core', 'stock', 'summary', 'take');
  const { notification, message } = App.useApp();
  const [share, setShare] = useState<number | null>(null);
  const work = useRef<AbortController | null>(null);
  useEffect(() => () => work.current?.abort(), []);

  const doing = async (
    what: string,
    listen: (timeline: Timeline, signal: AbortSignal) => Promise<void>,
  ): Promise<void> => {
    const controller = new AbortController();
    work.current = controller;
    setShare(0);
    try {
      await listen(await core.timeline(stock.revision, { heard: 'cleaned' }), controller.signal);
    } catch (error) {
      if (!controller.signal.aborted)
        notification.error({ title: what, description: (error as Error).message, duration: 0 });
    } finally {
      setShare(null);
    }
  };

  const lay = (stems: readonly Stem[]) =>
    doing('The stems were not laid', async (timeline, signal) => {
      const laid = await layStems(stems, timeline, setShare, signal);
      if (signal.aborted) return;
      if (!laid?.sure)
        return notification.warning({
          title: 'The stems were not laid',
          description: laid
            ? 'No place is clearly better than others: are they of another piece, or at another tempo?'
            : 'Nothing begins in them, or in the piece, that could be laid over the other.',
        });
      const moved = stems.filter(({ file, offset }) => laid.offsets.get(file) !== offset);
      await take(
        ...moved.map(({ file }) => ({
          kind: 'stem' as const,
          stem: file,
          offset: laid.offsets.get(file) ?? 0,
        })),
      );
      message.success(moved.length === 0 ? 'The stems lie right.' : `${counted(moved.length, 'stem')} laid.`);
    });

  const match = (stems: readonly Stem[]) =>
    doing('The stems were not matched', async (timeline, signal) => {
      const parts = summary?.parts ?? [];
      const short = stems.filter(({ row }) => isShort(row.seconds));
      const found = await stemsBySound(short, parts, timeline, setShare, signal);
      if (!found) return;
      const told = short.filter(({ file, part }) => found.has(file) && found.get(file) !== part);
      if (told.length > 0)
        await take(
          ...told.map(({ file }) => ({ kind: 'stem' as const, stem: file, part: found.get(file) ?? null })),
        );
      const left = stems.length - found.size;
      message.info(
        `${found.size} of ${counted(stems.length, 'stem')} told by sound${left > 0 ? '; the others are like several parts, or like none' : ''}.`,
      );
    });

  return { share, lay, match, stop: () => work.current?.abort() };
}
