import type { Brief } from './brief/brief';
import { type Decisions, decide } from './brief/decisions';
import { type Change, clean } from './clean';
import { type Performance, readPerformance } from './performance/performance';
import { remembered } from './remember';
import type { Smf } from './smf/events';

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
  const { firstBar, upbeatQuarters } = decisions;
  const source = remembered(smf, 'performance', JSON.stringify([firstBar, upbeatQuarters]), () =>
    readPerformance(smf, decisions),
  );
  return { smf, brief, decisions, source, ...clean(source, decisions) };
}
