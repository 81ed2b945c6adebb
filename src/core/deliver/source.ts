import type { PartPlan } from '../cast/route';
import type { Decisions } from '../decisions/decisions';
import type { Performance } from '../model/performance';
import type { Smf } from '../sources/smf/events';

/** What hand-overs are made from. */
export interface HandOverSource {
  smf: Smf;
  /** As read, before cleaning. */
  source: Performance;
  /** Cleaned (and varied). */
  performance: Performance;
  decisions: Decisions;
  plans: readonly PartPlan[];
  title: string;
}
