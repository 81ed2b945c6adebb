import { App } from 'antd';
import { useState } from 'react';
import { keepRecording } from '../../store/recordings';
import { useSession } from '../job/session';
import { takeRecording } from './listen';

/** Attaches a file as the listening reference of the open job. */
export function useAttach(): { attach: (file: File) => Promise<void>; isBusy: boolean } {
  const { job, take, decisions } = useSession('job', 'take', 'decisions');
  const { notification, message } = App.useApp();
  const [isBusy, setBusy] = useState(false);
  const attach = async (file: File) => {
    setBusy(true);
    try {
      await keepRecording(await takeRecording(job.id, file));
      // Where the one before lay says nothing of this one.
      if (decisions.reference !== null) take({ kind: 'reference', offset: null });
      message.success(`${file.name} is the listening reference of this job.`);
    } catch (error) {
      notification.error({
        title: `${file.name} was not taken in`,
        description: (error as Error).message,
        duration: 0,
      });
    } finally {
      setBusy(false);
    }
  };
  return { attach, isBusy };
}
