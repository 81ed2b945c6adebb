import { useEffect } from 'react';
import { ENGINE } from '../../core/workbench/engine';
import { noteState } from '../../store/jobs';
import { useProof } from '../proof/useProof';
import { useSession } from './session';

/** Keeps how the job stands for the list of jobs, once its score is written and checked. */
export function useKeepState(): void {
  const { job, summary, inventory, history } = useSession('job', 'summary', 'inventory', 'history');
  const { proof, open, isOld } = useProof();
  const { id } = job;
  const { position } = history;
  useEffect(() => {
    if (!proof || open === null || isOld || !summary) return;
    const { notes, agree, meant } = proof.agreement;
    noteState(id, position, {
      engine: ENGINE,
      parts: summary.parts.length,
      bars: summary.bars.length,
      seconds: inventory.clock.seconds,
      notes,
      settled: agree + meant,
      open,
      // What cannot be kept is not known in the list.
    }).catch(() => {});
  }, [id, position, proof, open, isOld, summary, inventory]);
}
