'use client';

import { keepPreviousData, QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { createContext, type ReactNode, use, useDeferredValue, useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { Core } from '../../workers/client';
import type { OpenJob, Session } from './control';
import { takeJob } from './opened';
import type { Asked } from './questions';

export type JobStore = OpenJob['store'];

const StoreContext = createContext<JobStore | null>(null);

/** The store of the open job, for what must not lag behind a press; only below `JobProvider`. */
export function useJobStore(): JobStore {
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
    const job = takeJob(jobId);
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

/** An answer is known, being worked out, or not known and why. */
export interface Answer<T> {
  data: T | undefined;
  /** The answer is of an earlier revision, or of another question, until the one that was asked for comes. */
  isOld: boolean;
  /** Why it is not known; null where it is, or is being worked out. */
  why: string | null;
  /** Asks once more. */
  again: () => void;
}

/** Whether a question was about a state that is past: it is asked again under the new one. */
export const isStale = (error: unknown): boolean => (error as Error | null)?.name === 'StaleError';

/**
 * What the worker says of the performance as it is laid out now. The answer
 * of the revision before stays in view until this one's comes.
 */
export function useOfPerformance<T>(
  question: Asked,
  ask: (core: Core, revision: number) => Promise<T>,
  enabled = true,
): Answer<T> {
  const { core, stock } = useSession('core', 'stock');
  return useAnswer('performance', stock.revision, question, () => ask(core, stock.revision), enabled);
}

/** The same of the score as it was last written; of one that is behind the decisions, the answer is old. */
export function useOfScore<T>(
  question: Asked,
  ask: (core: Core, revision: number) => Promise<T>,
  enabled = true,
): Answer<T> {
  const { core, summary } = useSession('core', 'summary');
  const revision = summary?.revision ?? -1;
  return useAnswer('score', revision, question, () => ask(core, revision), enabled && summary !== null);
}

function useAnswer<T>(
  of: 'performance' | 'score',
  revision: number,
  question: Asked,
  queryFn: () => Promise<T>,
  enabled: boolean,
): Answer<T> {
  const { data, isPlaceholderData, error, refetch } = useQuery({
    queryKey: [of, revision, ...question],
    queryFn,
    enabled,
    placeholderData: keepPreviousData,
  });
  const why = error && !isStale(error) ? error.message : null;
  return { data, isOld: isPlaceholderData, why, again: () => void refetch() };
}
