'use client';

import { Spin } from 'antd';
import { counted } from '../../core/basics/words';
import { DIFFERENCES } from '../../core/reconcile/ledger';
import { useOfScore } from '../job/session';
import styles from './ProofStage.module.css';
import { percent, useProof } from './useProof';

/** What agrees with what: the source with the score, and all that goes out with it. */
export function Agreements() {
  const { proof } = useProof();
  const { data, failed } = useOfScore(['going out'], (core, revision) => core.goingOut(revision));
  const { notes, agree, meant } = proof?.agreement ?? { notes: 0, agree: 0, meant: 0 };
  const open = notes - agree - meant;
  return (
    <section className={styles.agreements} aria-label="What agrees">
      {proof && (
        <Agreement
          title="Source and score"
          share={notes === 0 ? 1 : (agree + meant) / notes}
          says={`${counted(notes, 'note')}${meant > 0 ? `, ${meant.toLocaleString('en')} otherwise by decision` : ''}${open > 0 ? `; ${open.toLocaleString('en')} unexplained` : ''}`}
        />
      )}
      {data?.map(({ form, agree: same, differ, kinds }) => (
        <Agreement
          key={form}
          title={`${form}, read back`}
          share={same + differ === 0 ? 1 : same / (same + differ)}
          says={
            differ === 0
              ? `${counted(same, 'note')} as in the score`
              : DIFFERENCES.filter((kind) => kinds[kind] > 0)
                  .map((kind) => `${kind} ${kinds[kind]}`)
                  .join(', ') || `${differ} differ`
          }
        />
      ))}
      {!data && !failed && (
        <span className="soft" role="status">
          <Spin size="small" /> Reading back what goes out
        </span>
      )}
      {failed && <span className="rubric">What goes out could not be read back.</span>}
    </section>
  );
}

function Agreement({ title, share, says }: { title: string; share: number; says: string }) {
  return (
    <div className={styles.agreement}>
      <strong className={share < 1 ? 'rubric' : undefined}>{percent(share)}</strong>
      <span>
        {title}
        <span className="soft">{says}</span>
      </span>
    </div>
  );
}
