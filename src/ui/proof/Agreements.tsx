'use client';

import { Spin } from 'antd';
import { counted } from '../../core/basics/words';
import { DIFFERENCES } from '../../core/reconcile/ledger';
import { percent } from '../common/percent';
import { useOfScore } from '../job/session';
import styles from './ProofStage.module.css';
import { useProof } from './useProof';

/** What agrees with what: the source with the score, and all that goes out with it. */
export function Agreements() {
  const { proof, isOld: isChecking, why: notProved } = useProof();
  const { data, isOld, why } = useOfScore(['going out'], (core, revision) => core.goingOut(revision));
  const { notes, agree, meant } = proof?.agreement ?? { notes: 0, agree: 0, meant: 0 };
  const open = notes - agree - meant;
  // What goes out is made of the score that the proof is of.
  const goingOut = why === null && notProved === null ? data : null;
  return (
    <section className={styles.agreements} aria-label="What agrees">
      {proof && (
        <Agreement
          title="Source and score"
          share={notes === 0 ? null : (agree + meant) / notes}
          says={`${counted(notes, 'note')}${meant > 0 ? `, ${meant.toLocaleString('en')} otherwise by decision` : ''}${open > 0 ? `; ${open.toLocaleString('en')} unexplained` : ''}`}
          isOld={isChecking}
        />
      )}
      {notProved !== null && (
        <Agreement title="Source and score" share={null} says={`not known: ${notProved}`} isOld={false} />
      )}
      {goingOut?.map(({ form, agree: same, differ, kinds }) => (
        <Agreement
          key={form}
          title={`${form}, read back`}
          share={same + differ === 0 ? null : same / (same + differ)}
          isOld={isOld || isChecking}
          says={
            differ === 0
              ? `${counted(same, 'note')} as in the score`
              : DIFFERENCES.filter((kind) => kinds[kind] > 0)
                  .map((kind) => `${kind} ${kinds[kind]}`)
                  .join(', ') || `${differ} differ`
          }
        />
      ))}
      {!goingOut && why === null && notProved === null && (
        <span className="soft" role="status">
          <Spin size="small" /> Reading back what goes out
        </span>
      )}
      {why !== null && (
        <Agreement title="What goes out" share={null} says={`not known: ${why}`} isOld={false} />
      )}
    </section>
  );
}

/** @param share null where there is none to tell */
function Agreement({
  title,
  share,
  says,
  isOld,
}: {
  title: string;
  share: number | null;
  says: string;
  isOld: boolean;
}) {
  return (
    <div className={styles.agreement} aria-busy={isOld}>
      <strong className={share !== null && share < 1 ? 'rubric' : undefined}>
        {share === null ? '–' : percent(share)}
      </strong>
      <span>
        {title}
        <span className="soft">{says}</span>
      </span>
    </div>
  );
}
