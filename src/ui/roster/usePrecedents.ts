import { App } from 'antd';
import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useMemo } from 'react';
import { type Offer, offersFor, type Precedent, precedentsOf, withJob } from '../../core/cast/precedents';
import { changePrecedents, listPrecedents } from '../../store/precedents';
import { useSession } from '../job/session';

const NONE: Precedent[] = [];

/** All precedents that are kept. */
export const usePrecedents = (): Precedent[] => useLiveQuery(listPrecedents) ?? NONE;

/** What earlier jobs offer for the strands of this one. */
export function useOffers(): Offer[] {
  const { job, inventory, decisions } = useSession('job', 'inventory', 'decisions');
  const all = usePrecedents();
  return useMemo(
    () =>
      offersFor(
        inventory.strands,
        decisions,
        all.filter(({ jobId }) => jobId !== job.id),
      ),
    [inventory, decisions, all, job.id],
  );
}

/** Keeps what this job decides about its strands, for later ones. */
export function useKeepPrecedents(): void {
  const { job, inventory, decisions } = useSession('job', 'inventory', 'decisions');
  const { notification } = App.useApp();
  useEffect(() => {
    const own = precedentsOf(inventory.strands, decisions, {
      jobId: job.id,
      job: job.title,
      at: Date.now(),
    });
    changePrecedents((now) => withJob(now, job.id, own)).catch((error: unknown) =>
      notification.error({ title: 'The precedents were not kept', description: (error as Error).message }),
    );
  }, [job, inventory, decisions, notification]);
}
