import { useLiveQuery } from 'dexie-react-hooks';
import { findRecording } from '../../store/recordings';
import type { RecordingRow } from '../../store/rows';
import { useSession } from '../job/session';

interface Recorded {
  /** The listening reference of the job; null for none. */
  recording: RecordingRow | null;
  /** Seconds of it at which the piece begins: what was decided, else its beginning. */
  offset: number;
  isLaid: boolean;
}

/** The recording that is laid along the piece, whichever tab attached it. */
export function useRecording(): Recorded {
  const { job, decisions } = useSession('job', 'decisions');
  const recording = useLiveQuery(() => findRecording(job.id), [job.id]) ?? null;
  return { recording, offset: decisions.reference ?? 0, isLaid: decisions.reference !== null };
}
