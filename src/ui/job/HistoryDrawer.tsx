'use client';

import { Drawer } from 'antd';
import { useLiveQuery } from 'dexie-react-hooks';
import { useCallback } from 'react';
import { type StrandId, spelledStrand, wholeStrand } from '../../core/model/ids';
import { listSteps } from '../../store/history';
import styles from './HistoryDrawer.module.css';
import { stepWords } from './history-words';
import { useSession } from './session';

/** A strand as people know it: by its part, its name in the file, or its place. */
function useNameOf(): (strand: StrandId) => string {
  const { inventory, summary } = useSession('inventory', 'summary');
  return useCallback(
    (strand) => {
      const part = summary?.parts.find(({ strands }) => strands.includes(strand));
      const entry = inventory.strands.find(({ id }) => id === strand || id === wholeStrand(strand));
      return part?.name ?? (entry?.name || spelledStrand(strand));
    },
    [inventory, summary],
  );
}

/** All steps of the job; going to one undoes or redoes what lies between. */
export function HistoryDrawer({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { job, history, goTo } = useSession('job', 'history', 'goTo');
  const nameOf = useNameOf();
  const steps = useLiveQuery(() => (open ? listSteps(job.id) : []), [job.id, open]) ?? [];
  return (
    <Drawer title="History" open={open} onClose={onClose} mask={false} size={380}>
      <ol className={styles.steps} aria-label="Steps">
        <li>
          <button
            type="button"
            aria-current={history.position === 0 ? 'step' : undefined}
            onClick={() => goTo(0)}
          >
            As the source came
          </button>
        </li>
        {steps.map((step) => (
          <li key={step.index} className={step.index >= history.position ? styles.undone : undefined}>
            <button
              type="button"
              aria-current={history.position === step.index + 1 ? 'step' : undefined}
              onClick={() => goTo(step.index + 1)}
            >
              {stepWords(step, nameOf)}
              <time dateTime={new Date(step.at).toISOString()}>
                {new Date(step.at).toLocaleTimeString('en-GB', { timeStyle: 'short' })}
              </time>
            </button>
          </li>
        ))}
      </ol>
    </Drawer>
  );
}
