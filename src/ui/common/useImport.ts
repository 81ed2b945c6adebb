'use client';

import { App } from 'antd';
import { useRouter } from 'next/navigation';
import { useCallback, useState } from 'react';
import { FIRST_SOURCE } from '../../core/model/ids';
import type { Opened } from '../../core/workbench/replies';
import { addJob } from '../../store/jobs';
import { withCore } from '../../workers/client';
import { isFilm, isRecording } from '../recording/is-recording';
import { type HeardFile, hearNotes } from '../recording/listen';

/** A recording whose notes are being heard. */
export interface Listening {
  name: string;
  /** 0–1. */
  share: number;
  stop: () => void;
}

/**
 * Reads a file in a worker of its own and makes it a job.
 * @param onListening of a recording, as its notes are heard
 * @param opensNext its job is gone to when it is made
 * @returns its id; null where it was stopped
 * @throws Error that says why not
 */
async function asJob(
  file: File,
  onListening: (now: Listening) => void,
  opensNext: boolean,
): Promise<string | null> {
  if (isFilm(file)) throw new Error('This is a film: save its sound as WAV or MP3, and open that.');
  let source: { bytes: Uint8Array; recording?: HeardFile['recording'] };
  if (isRecording(file)) {
    const controller = new AbortController();
    const stop = () => controller.abort();
    const told = (share: number) => onListening({ name: file.name, share, stop });
    told(0);
    const heard = await hearNotes(file, told, controller.signal);
    if (!heard) return null;
    source = heard;
  } else source = { bytes: new Uint8Array(await file.arrayBuffer()) };
  const { title, strands, notes } = await openedOnce(source.bytes, file.name, { opensNext });
  return addJob({
    ...source,
    title: title || file.name.replace(/\.[^.]+$/, ''),
    sourceName: file.name,
    strands,
    notes,
  });
}

/**
 * What a list of jobs says of a file.
 * @param how.opensNext its score is begun, for the job that is made of it
 * @throws Error that says why it cannot be opened
 */
export async function openedOnce(
  bytes: Uint8Array,
  name: string,
  { opensNext }: { opensNext: boolean },
): Promise<Opened> {
  return withCore<Opened>(async (core) => {
    const refusal = await core.open([{ id: FIRST_SOURCE, version: 1, name, bytes }], null);
    if (refusal) throw new Error(refusal.refused);
    const opened = await core.opened();
    if (opensNext) core.ahead().catch(() => {});
    return opened;
  });
}

/** Makes files jobs, and goes to the job where it is one. */
export function useImport(): {
  importFiles: (files: readonly File[]) => Promise<void>;
  busy: boolean;
  listening: Listening | null;
} {
  const { notification } = App.useApp();
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const [listening, setListening] = useState<Listening | null>(null);

  const importFiles = useCallback(
    async (files: readonly File[]) => {
      if (files.length === 0) return;
      setBusy(true);
      const made: string[] = [];
      const refuse = (name: string, why: string) =>
        notification.error({ title: `${name} was not taken in`, description: why, duration: 0 });
      for (const file of files)
        try {
          const id = await asJob(file, setListening, files.length === 1);
          if (id !== null) made.push(id);
        } catch (error) {
          // One file that cannot be taken in does not keep the others out.
          refuse(file.name, error instanceof Error ? error.message : 'It could not be read.');
        } finally {
          setListening(null);
        }
      setBusy(false);
      const [first] = made;
      if (made.length === 1 && first) router.push(`/job/${first}/sources`, { scroll: false });
    },
    [notification, router],
  );
  return { importFiles, busy, listening };
}
