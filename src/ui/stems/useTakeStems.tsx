import { App } from 'antd';
import { useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import { keepStems } from '../../store/stems';
import { useSession } from '../job/session';
import { isRecording } from '../recording/is-recording';
import { takeRecording } from '../recording/listen';

interface Taking {
  /** How many of how many are in; null where nothing is being taken in. */
  progress: { done: number; of: number } | null;
  takeStems: (files: readonly File[]) => Promise<void>;
  /** What is in stays. */
  stop: () => void;
}

/** Takes sound files in as stems of the open job, one by one; what is no sound is left out and told. */
export function useTakeStems(): Taking {
  const { job } = useSession('job');
  const { notification, message } = App.useApp();
  const [progress, setProgress] = useState<Taking['progress']>(null);
  const stopped = useRef(false);
  const takeStems = async (files: readonly File[]) => {
    stopped.current = false;
    const sounds = files.filter(isRecording);
    const refused = files.filter((file) => !isRecording(file)).map(({ name }) => `${name}: no sound file.`);
    let kept = 0;
    for (const [done, file] of sounds.entries()) {
      if (stopped.current) break;
      setProgress({ done, of: sounds.length });
      try {
        await keepStems(job.id, [await takeRecording(job.id, file)]);
        kept++;
      } catch (error) {
        refused.push(`${file.name}: ${(error as Error).message}`);
      }
    }
    setProgress(null);
    if (kept > 0) message.success(`${counted(kept, 'stem')} taken in.`);
    if (refused.length > 0)
      notification.error({
        title: `${counted(refused.length, 'file')} not taken in`,
        description: refused.map((each) => <p key={each}>{each}</p>),
        duration: 0,
      });
  };
  return {
    progress,
    takeStems,
    stop: () => {
      stopped.current = true;
    },
  };
}
