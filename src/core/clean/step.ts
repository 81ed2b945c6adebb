import type { StrandDecisions } from '../decisions/decisions';
import type { Clock } from '../model/clock';
import type { StrandId } from '../model/ids';
import type { PlayedNote, Strand } from '../model/performance';

/** What a cleaning step did, as counts before and after. */
export interface Change {
  /** The strand, or null for the clock. */
  strand: StrandId | null;
  /** The kind of directive that asked for it. */
  step: string;
  what: string;
  before: number;
  after: number;
}

/** A decision that cannot be done to this source, and why: a sentence for people. */
export interface Refusal {
  /** The kind of directive. */
  step: string;
  why: string;
}

/**
 * One step of cleaning on one strand. Steps return the strand itself where
 * nothing is to be done, and null where no note is left.
 */
export type CleanStep = (
  strand: Strand,
  decided: StrandDecisions,
  clock: Clock,
  /** @param gone the notes that the step takes out, one by one: what is gone and not told is lost */
  report: (what: string, before: number, after: number, gone?: readonly PlayedNote[]) => void,
) => Strand | null;
