import { counted } from '../../basics/words';
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
  | 'notation'
  | 'technique'
  | 'tempo'
  | 'meter'
  | 'key'
  | 'silence'
  | 'offset'
  | 'grid'
  | 'pulse'
  | 'threes'
  | 'one-player'
  | 'default-meter';

interface Mend {
  label: string;
  directives: PlainDirective[];
}

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
  /** How sure it is that this is not meant, 0–1; from evidence about the notes, or common practice. */
  sure: number;
  /** What the mend would take away or change, where that could be music: it is said before it is done. */
  harm: Harm | null;
  mend: Mend;
  /** What may be done instead, where the mend holds already. */
  instead?: Mend;
  /** Of key switches: each with the notes that it governs, and the printed number of the bar where it first does. */
  switches?: { key: number; notes: number; bar: number }[];
}

/** Notes that go, sounds that become others, one part that becomes several, or bar lines that move. */
export type Harm =
  | { takes: 'notes' | 'sounds'; notes: number }
  | { takes: 'part'; parts: number }
  | { takes: 'bars' };

/** From here on a finding is next to certain. */
export const NEXT_TO_CERTAIN = 0.98;

/** Whether an oddity may be mended together with others, unseen: what could harm music must be next to certain. */
export const isInBulk = ({ sure, harm }: Oddity): boolean => harm === null || sure >= NEXT_TO_CERTAIN;

/** One kind of finding over a whole performance. */
export type Finder = (performance: Performance, decisions: Decisions) => Oddity[];

/** What a mend would take away or change, for people: it is said before it is done. */
export function harmWords(harm: Harm): string {
  switch (harm.takes) {
    case 'notes':
      return `Mending takes out ${counted(harm.notes, 'note')}.`;
    case 'sounds':
      return `Mending changes how ${counted(harm.notes, 'note')} sound.`;
    case 'part':
      return `Mending makes ${harm.parts} parts of one.`;
    case 'bars':
      return 'Mending moves the bar lines.';
  }
}
