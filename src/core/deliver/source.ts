import type { PartPlan } from '../cast/route';
import type { Decisions } from '../decisions/decisions';
import type { EventId } from '../model/ids';
import type { Lane } from '../model/lanes';
import type { Performance } from '../model/performance';
import type { PlayedManner } from '../sources/musicxml/as-file';
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
  /** Of a score that is played: how notes are played beyond the ordinary. */
  manners: ReadonlyMap<EventId, PlayedManner>;
  /** Of parts on two staves: the staff of each note, 1 for the right hand and 2 for the left; empty where hands are not asked for. */
  staves: ReadonlyMap<EventId, number>;
  /** Lanes that the playing of a score was asked to have. */
  asked: readonly Lane[];
  title: string;
}
