import type { Steps } from '../basics/steps';
import { prove } from '../proof';
import { type Finding, subjectInSteps } from '../proof/finding';
import { type GoingOut, goingOut } from '../proof/going-out';
import { sourceLedgerInSteps } from '../proof/source-ledger';
import { stockOf } from './stock';
import type { Written } from './workbench';

/** So many findings of one check are told one by one. */
const MOST_OF_CHECK = 500;

/** What wants a look before hand-over, and how far source and score agree. */
export interface Proof {
  revision: number;
  findings: Finding[];
  /** Findings of a check beyond those that are told, by its id. */
  more: { check: Finding['check']; count: number }[];
  agreement: Agreement;
}

/** Notes of the source: those that stand in the score as they were played, those that are otherwise by decision, all. */
export interface Agreement {
  notes: number;
  agree: number;
  meant: number;
}

/** All checks over what was written last. */
export function* proofOf(written: Written): Steps<Proof> {
  const { desk, transcription } = written;
  const { inventory } = yield* stockOf(written);
  const subject = yield* subjectInSteps(desk, transcription);
  const { notes, agree, meant } = yield* sourceLedgerInSteps(desk, transcription);
  const all = yield* prove(subject, inventory.oddities);
  const counts = new Map<Finding['check'], number>();
  const findings = all.filter(({ check }) => {
    const count = (counts.get(check) ?? 0) + 1;
    counts.set(check, count);
    return count <= MOST_OF_CHECK;
  });
  return {
    revision: written.revision,
    findings,
    more: [...counts].flatMap(([check, count]) =>
      count > MOST_OF_CHECK ? [{ check, count: count - MOST_OF_CHECK }] : [],
    ),
    agreement: { notes, agree, meant },
  };
}

/** What goes out, read back. */
export function* goingOutOf({ desk, transcription }: Written): Steps<GoingOut[]> {
  return yield* goingOut(yield* subjectInSteps(desk, transcription));
}
