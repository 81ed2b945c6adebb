import { useMemo } from 'react';
import type { Finding } from '../../core/proof/finding';
import type { Proof } from '../../core/workbench/proof';
import { useOfScore, useSession } from '../job/session';

/** A finding as it is worked through: open, or said to be meant. */
export interface OpenFinding extends Finding {
  /** From 1, in the order in which findings are told. */
  number: number;
  isMeant: boolean;
  /** What was noted of it. */
  note: string;
}

interface Proved {
  /** Null until the checks have run, and where they failed. */
  proof: Proof | null;
  findings: readonly OpenFinding[];
  /** What still wants a look, remarks not counted; null where it is not known. */
  open: number | null;
  /** What is shown is of the state before: the checks run anew. */
  isOld: boolean;
  /** Why nothing is known; null where it is known or being worked out. */
  why: string | null;
  again: () => void;
}

const NONE: readonly OpenFinding[] = [];

/** What the checks found in the score as it was last written. */
export function useProof(): Proved {
  const { decisions, behind, stopped, resume } = useSession('decisions', 'behind', 'stopped', 'resume');
  const answer = useOfScore(['proof'], (core, revision) => core.proof(revision));
  // A score that is not written cannot be proved, and what was found in the one before says nothing of it.
  const isStopped = behind !== null && stopped;
  const data = isStopped ? null : (answer.data ?? null);
  const why = isStopped ? behind : answer.why;
  const isOld = answer.isOld || behind !== null;
  const { meant } = decisions;
  const found = useMemo(() => {
    const findings =
      data?.findings.map((finding, index) => ({
        ...finding,
        number: index + 1,
        isMeant: meant.has(finding.id),
        note: meant.get(finding.id) ?? '',
      })) ?? NONE;
    const open = data && findings.filter(({ weight, isMeant }) => weight !== 'remark' && !isMeant).length;
    return { proof: data, findings, open };
  }, [data, meant]);
  return { ...found, isOld, why, again: isStopped ? resume : answer.again };
}
