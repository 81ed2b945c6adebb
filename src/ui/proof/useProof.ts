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
  /** Null until the checks have run for the first time. */
  proof: Proof | null;
  findings: readonly OpenFinding[];
  /** What still wants a look: remarks do not count. */
  open: number;
  /** The checks run anew. */
  isOld: boolean;
}

const NONE: readonly OpenFinding[] = [];

/** What the checks found in the score as it was last written. */
export function useProof(): Proved {
  const { decisions } = useSession('decisions');
  const { data, isOld } = useOfScore(['proof'], (core, revision) => core.proof(revision));
  const { meant } = decisions;
  return useMemo(() => {
    const proof = data ?? null;
    const findings =
      proof?.findings.map((finding, index) => ({
        ...finding,
        number: index + 1,
        isMeant: meant.has(finding.id),
        note: meant.get(finding.id) ?? '',
      })) ?? NONE;
    const open = findings.filter(({ weight, isMeant }) => weight !== 'remark' && !isMeant).length;
    return { proof, findings, open, isOld };
  }, [data, meant, isOld]);
}

/** A share as people read it: never rounded up to all of it. */
export const percent = (share: number): string =>
  share >= 1 ? '100 %' : `${(Math.floor(share * 1000) / 10).toFixed(1)} %`;
