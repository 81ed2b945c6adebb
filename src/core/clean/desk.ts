import { remembered } from '../basics/remember';
import type { Brief } from '../decisions/brief';
import { type Decisions, decide } from '../decisions/decisions';
import type { Performance } from '../model/performance';
import type { Smf } from '../sources/smf/events';
import { readPerformance } from '../sources/smf/performance';
import { type Change, clean } from '.';

/** A source laid out for work under a brief. */
export interface Desk {
  smf: Smf;
  brief: Brief;
  decisions: Decisions;
  /** As read. */
  source: Performance;
  /** As cleaned; the same object where nothing was. */
  performance: Performance;
  changes: Change[];
}

/** Reads and cleans a source under a brief. What a changed brief leaves alone keeps its identity. */
export function layOut(smf: Smf, brief: Brief): Desk {
  const decisions = decide(brief);
  const source = remembered(smf, 'performance', JSON.stringify(decisions.clock), () =>
    readPerformance(smf, decisions.clock),
  );
  return { smf, brief, decisions, source, ...clean(source, decisions) };
}
