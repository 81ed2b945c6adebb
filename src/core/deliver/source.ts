import type { Decisions } from '../brief/decisions';
import type { Performance } from '../performance/performance';
import type { PartPlan } from '../roster/route';
import type { Smf } from '../smf/events';

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
