'use client';

import { App } from 'antd';
import { useRouter } from 'next/navigation';
import { useCallback, useState } from 'react';
import { FIRST_SOURCE } from '../../core/model/ids';
import type { Opened } from '../../core/workbench/replies';
import { addJob } from '../../store/jobs';
import { startCore } from '../../workers/client';
import { isRecording } from '../recording/is-recording';

/** Reads a file in a worker of its own and makes it a job. @returns its id @throws Error that says why not */
async function asJob(file: File): Promise<string> {
  if (isRecording(file))
    throw new Error('It is a recording: open the job that it belongs to, and drop it there.');
  const bytes = new Uint8Array(await file.arrayBuffer());
  const opened = await openedOnce(bytes, file.name);
  return addJob({
    title: opened.title || file.name.replace(/\.[^.]+$/, ''),
    sourceName: file.name,
    bytes,
    strands: opened.strands,
    notes: opened.notes,
  });
}

/** What a list of jobs says of a file. @throws Error that says why it cannot be opened */
export async function openedOnce(bytes: Uint8Array, name: string): Promise<Opened> {
  let stop = () => {};
  try {
    const opened = await new Promise<Opened | { refused: string }>((resolve, reject) => {
      const started = startCore(() => reject(new Error('It could not be read: the reader failed on it.')));
      stop = started.stop;
      started.core.open([{ id: FIRST_SOURCE, version: 1, name, bytes }], null).then(resolve, reject);
    });
    if ('refused' in opened) throw new Error(opened.refused);
    return opened;
  } finally {
    stop();
  }
}

/** Makes files jobs, and goes to the job where it is one. */
export function useImport(): { importFiles: (files: readonly File[]) => Promise<void>; busy: boolean } {
  const { notification } = App.useApp();
  const router = useRouter();
  const [busy, setBusy] = useState(false);

  const importFiles = useCallback(
    async (files: readonly File[]) => {
      if (files.length === 0) return;
      setBusy(true);
      const made: string[] = [];
      const refuse = (name: string, why: string) =>
        notification.error({ title: `${name} was not taken in`, description: why, duration: 0 });
      for (const file of files)
        try {
          made.push(await asJob(file));
        } catch (error) {
          // One file that cannot be taken in does not keep the others out.
          refuse(file.name, error instanceof Error ? error.message : 'It could not be read.');
        }
      setBusy(false);
      const [first] = made;
      if (made.length === 1 && first) router.push(`/job/${first}/sources`, { scroll: false });
    },
    [notification, router],
  );
  return { importFiles, busy };
}
