'use client';

import { App } from 'antd';
import { useRouter } from 'next/navigation';
import { useCallback, useState } from 'react';
import { addJob, StorageFullError } from '../../store/jobs';
import { startCore } from '../../workers/client';

/** Reads a file in a worker and, if it is a MIDI file, makes it a job. */
export function useImport(): { importFiles: (files: readonly File[]) => Promise<void>; busy: boolean } {
  const { notification } = App.useApp();
  const router = useRouter();
  const [busy, setBusy] = useState(false);

  const importFiles = useCallback(
    async (files: readonly File[]) => {
      if (files.length === 0) return;
      setBusy(true);
      const { core, stop } = startCore();
      const made: string[] = [];
      const refuse = (name: string, why: string) =>
        notification.error({ title: `${name} was not taken in`, description: why, duration: 0 });
      try {
        for (const file of files) {
          const bytes = new Uint8Array(await file.arrayBuffer());
          const opened = await core.open(bytes);
          if ('refused' in opened) {
            refuse(file.name, opened.refused);
            continue;
          }
          made.push(
            await addJob({
              title: opened.title || file.name.replace(/\.[^.]+$/, ''),
              sourceName: file.name,
              bytes,
              strands: opened.strands,
              notes: opened.notes,
            }),
          );
        }
      } catch (error) {
        refuse(
          'The file',
          error instanceof StorageFullError ? error.message : 'It could not be read. Choose it once more.',
        );
      } finally {
        stop();
        setBusy(false);
      }
      const [first] = made;
      if (made.length === 1 && first) router.push(`/job/${first}/sources`);
    },
    [notification, router],
  );
  return { importFiles, busy };
}
