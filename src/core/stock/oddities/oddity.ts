import type { Decisions } from '../../decisions/decisions';
import type { PlainDirective } from '../../decisions/kinds';
import type { StrandId, TrackId } from '../../model/ids';
import type { Performance } from '../../model/performance';
import type { Place } from '../place';

export type OddityKind =
  | 'doubled'
  | 'echo'
  | 'empty-track'
  | 'key-switches'
  | 'hanging'
  | 'stacked'
  | 'specks'
  | 'program'
  | 'program-changes'
  | 'channel'
  | 'shared-channel'
  | 'kit'
  | 'mixer'
  | 'tempo'
  | 'meter'
  | 'key'
  | 'silence'
  | 'grid'
  | 'pulse'
  | 'default-meter';

/** Something in a file that is most likely not meant, where it is, and what mends it. */
export interface Oddity {
  /** Its kind and what it is about: stable as long as the source is. */
  id: string;
  kind: OddityKind;
  /** The strand, or `t` and a track number, or null for the whole piece. */
  strand: StrandId | TrackId | null;
  place: Place | null;
  /** Events or notes concerned. */
  count: number;
  what: string;
  mend: { label: string; directives: PlainDirective[] };
}

/** One kind of finding over a whole performance. */
export type Finder = (performance: Performance, decisions: Decisions) => Oddity[];
