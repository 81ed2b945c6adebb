'use client';

import { Tooltip } from 'antd';
import Link from 'next/link';
import { counted } from '../../core/basics/words';
import type { Proof } from '../../core/workbench/proof';
import { percent } from '../common/percent';
import styles from './ProofStage.module.css';
import { useProof } from './useProof';

/** How far source and score agree, at all times: known, being checked, or not known and why. */
export function AgreementFigure({ jobId }: { jobId: string }) {
  const { proof, isOld, why } = useProof();
  const { figure, words, isOpen, short = figure } = said(proof, isOld, why);
  return (
    <Tooltip title={words}>
      <Link
        href={`/job/${jobId}/proof`}
        scroll={false}
        className={styles.figure}
        aria-label={`Source and score agree: ${figure}`}
        aria-busy={isOld && why === null}
        data-open={isOpen}
      >
        {short}
      </Link>
    </Tooltip>
  );
}

function said(
  proof: Proof | null,
  isOld: boolean,
  why: string | null,
): { figure: string; words: string; isOpen: boolean; short?: string } {
  if (why !== null) return { figure: 'not known', words: `Not known: ${why}`, isOpen: true, short: '?' };
  if (!proof) return { figure: '…', words: 'Source and score are being compared.', isOpen: false };
  const { notes, agree, meant } = proof.agreement;
  if (notes === 0) return { figure: 'no notes', words: 'The source has no notes to compare.', isOpen: false };
  const open = notes - agree - meant;
  const otherwise = meant > 0 ? `, ${meant.toLocaleString('en')} otherwise by decision` : '';
  const words =
    open === 0
      ? `All ${counted(notes, 'note')} of the source stand in the score as played${otherwise}.`
      : `${counted(open, 'note')} of ${notes.toLocaleString('en')} ${open === 1 ? 'is' : 'are'} otherwise in the score, and nothing explains it.`;
  return {
    figure: percent((agree + meant) / notes),
    words: isOld ? `Before the last decision: ${words} It is being checked again.` : words,
    isOpen: open > 0,
  };
}
