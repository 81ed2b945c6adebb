import type { PartPlan } from '../cast/route';
import type { Decisions } from '../decisions/decisions';
import type { EventId } from '../model/ids';
import type { Lane } from '../model/lanes';
import type { Performance, PlayedNote } from '../model/performance';
import type { Smf } from '../sources/smf/events';

/** How a note is played beyond the ordinary, and by whom. */
export type Manner = Pick<PlayedNote, 'technique' | 'players'>;

/** What hand-overs are made from. */
export interface HandOverSource {
  /** The leading source as a file of events; null for what never was one. */
  file: Smf | null;
  /** As read, before cleaning. */
  source: Performance;
  /** Cleaned (and varied). */
  performance: Performance;
  decisions: Decisions;
  plans: readonly PartPlan[];
  /** Of the notes that are not played in the ordinary way by everybody. */
  manners: ReadonlyMap<EventId, Manner>;
  /** Of parts on two staves: the staff of each note, 1 for the right hand and 2 for the left; empty where hands are not asked for. */
  staves: ReadonlyMap<EventId, number>;
  /** Lanes that the playing of a score was asked to have. */
  asked: readonly Lane[];
  title: string;
}
