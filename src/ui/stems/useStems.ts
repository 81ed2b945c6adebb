import { useLiveQuery } from 'dexie-react-hooks';
import { useMemo } from 'react';
import type { RecordingRow } from '../../store/rows';
import { findStems } from '../../store/stems';
import { useSession } from '../job/session';
import { laidStems, type Stem } from './laid-stems';

const NONE: readonly RecordingRow[] = [];

/** The stems of the job in the order of their files, whichever tab took them in. */
export function useStems(): readonly Stem[] {
  const { job, decisions, summary, inventory } = useSession('job', 'decisions', 'summary', 'inventory');
  const rows = useLiveQuery(() => findStems(job.id), [job.id]) ?? NONE;
  const parts = summary?.parts;
  const { stems: choices } = decisions;
  const { strands } = inventory;
  return useMemo(() => laidStems(rows, choices, parts ?? [], strands), [rows, choices, parts, strands]);
}
