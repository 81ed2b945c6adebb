'use client';

import { type Query, type QueryCache, useQueryClient } from '@tanstack/react-query';
import { Alert, Button } from 'antd';
import { useCallback, useRef, useSyncExternalStore } from 'react';
import { saysDamaged } from './control';
import styles from './JobFrame.module.css';
import { QUESTIONS, type Question } from './questions';
import { isStale, useSession } from './session';

/** The question of a query, whose key begins with what it is asked of and the revision. */
const questionOf = ({ queryKey }: Query): Question => queryKey[2] as Question;

/** Questions of this page that were not answered. */
const unanswered = (cache: QueryCache): Query[] =>
  cache
    .getAll()
    .filter(
      (query) =>
        query.state.status === 'error' && query.getObserversCount() > 0 && !isStale(query.state.error),
    );

/** Says of this page what is not known and why, so that nothing that is missing looks like nothing to see. */
export function NotKnown() {
  const cache = useQueryClient().getQueryCache();
  const last = useRef<Query[]>([]);
  const subscribe = useCallback((onChange: () => void) => cache.subscribe(onChange), [cache]);
  const failed = useSyncExternalStore(
    subscribe,
    () => {
      const now = unanswered(cache);
      const same = now.length === last.current.length && now.every((query, at) => query === last.current[at]);
      if (!same) last.current = now;
      return last.current;
    },
    () => last.current,
  );
  const { failure, resume, damaged } = useSession('failure', 'resume', 'damaged');
  if (damaged.length > 0)
    return <Alert type="error" showIcon className={styles.notKnown!} title={saysDamaged(damaged)} />;
  if (failed.length === 0 && failure === null) return null;
  const laidOut = failure === null ? [] : ['what the decisions come to'];
  const names = new Set([...laidOut, ...failed.map((query) => QUESTIONS[questionOf(query)])]);
  const reasons = new Set([failure ?? '', ...failed.map(({ state }) => state.error?.message ?? '')]);
  const again = () => {
    if (failure !== null) resume();
    else for (const query of failed) query.fetch().catch(() => {});
  };
  return (
    <Alert
      type="error"
      showIcon
      className={styles.notKnown!}
      title={`Not known: ${[...names].join('; ')}.`}
      description={[...reasons].join(' ').trim()}
      action={
        <Button size="small" onClick={again}>
          Try again
        </Button>
      }
    />
  );
}
