'use client';

import { keepPreviousData, QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { createContext, type ReactNode, use, useDeferredValue, useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { Core } from '../../workers/client';
import { openJob, type Session } from './control';

export type JobStore = ReturnType<typeof openJob>['store'];

const StoreContext = createContext<JobStore | null>(null);

/** The store of the open job; only below `JobProvider`. */
function useJobStore(): JobStore {
  const store = use(StoreContext);
  if (!store) throw new Error('There is no open job here.');
  return store;
}

/**
 * Some of what there is to see and do of the open job: a component is drawn anew when that changes, and only then.
 * What follows from it is drawn in small pieces between which the page answers, since a score changes everywhere at once.
 */
export function useSession<K extends keyof Session>(...names: K[]): Pick<Session, K> {
  const picked = useStore(
    useJobStore(),
    useShallow(
      (session) => Object.fromEntries(names.map((name) => [name, session[name]])) as Pick<Session, K>,
    ),
  );
  return useDeferredValue(picked);
}

/** Keeps a job open as long as it is on the page. */
export function JobProvider({ jobId, children }: { jobId: string; children: ReactNode }) {
  const [store, setStore] = useState<JobStore | null>(null);
  const [client] = useState(
    () =>
      new QueryClient({
        defaultOptions: {
          queries: {
            // What was made of one revision stays what it is; another revision is another question.
            staleTime: Number.POSITIVE_INFINITY,
            gcTime: 60_000,
            retry: false,
            refetchOnWindowFocus: false,
            refetchOnReconnect: false,
            networkMode: 'always',
            structuralSharing: false,
          },
        },
      }),
  );
  useEffect(() => {
    const job = openJob(jobId);
    setStore(job.store);
    return () => {
      job.stop();
      client.clear();
      setStore(null);
    };
  }, [jobId, client]);
  if (!store) return null;
  return (
    <QueryClientProvider client={client}>
      <StoreContext value={store}>{children}</StoreContext>
    </QueryClientProvider>
  );
}

interface Answer<T> {
  data: T | undefined;
  /** The answer is of an earlier revision, or of another question, until the one that was asked for comes. */
  isOld: boolean;
  failed: boolean;
}

/**
 * What the worker says of the performance as it is laid out now. The answer
 * of the revision before stays in view until this one's comes.
 *
 * @param question everything that the answer depends on, beside the revision
 */
export function useOfPerformance<T>(
  question: readonly unknown[],
  ask: (core: Core, revision: number) => Promise<T>,
  enabled = true,
): Answer<T> {
  const { core, stock } = useSession('core', 'stock');
  return useAnswer(['performance', stock.revision, ...question], () => ask(core, stock.revision), enabled);
}

/** The same of the score as it was last written. */
export function useOfScore<T>(
  question: readonly unknown[],
  ask: (core: Core, revision: number) => Promise<T>,
  enabled = true,
): Answer<T> {
  const { core, summary } = useSession('core', 'summary');
  const revision = summary?.revision ?? -1;
  return useAnswer(['score', revision, ...question], () => ask(core, revision), enabled && summary !== null);
}

function useAnswer<T>(queryKey: readonly unknown[], queryFn: () => Promise<T>, enabled: boolean): Answer<T> {
  const { data, isPlaceholderData, isError } = useQuery({
    queryKey,
    queryFn,
    enabled,
    placeholderData: keepPreviousData,
  });
  return { data, isOld: isPlaceholderData, failed: isError };
}
