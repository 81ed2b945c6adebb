'use client';

import { Tooltip } from 'antd';
import Link from 'next/link';
import { counted } from '../../core/basics/words';
import styles from './ProofStage.module.css';
import { percent, useProof } from './useProof';

/** How far source and score agree, at all times. */
export function AgreementFigure({ jobId }: { jobId: string }) {
  const { proof, isOld } = useProof();
  if (!proof) return null;
  const { notes, agree, meant } = proof.agreement;
  const open = notes - agree - meant;
  const words =
    open === 0
      ? `All ${counted(notes, 'note')} of the source stand in the score as played${meant > 0 ? `, ${meant.toLocaleString('en')} otherwise by decision` : ''}.`
      : `${counted(open, 'note')} of ${notes.toLocaleString('en')} ${open === 1 ? 'is' : 'are'} otherwise in the score, and nothing explains it.`;
  return (
    <Tooltip title={words}>
      <Link
        href={`/job/${jobId}/proof`}
        scroll={false}
        className={styles.figure}
        aria-label={`Source and score agree: ${percent((agree + meant) / Math.max(1, notes))}`}
        aria-busy={isOld}
        data-open={open > 0}
      >
        {notes === 0 ? '' : percent((agree + meant) / notes)}
      </Link>
    </Tooltip>
  );
}
