import type { EventId } from '../../core/model/ids';
import type { NoteOrigin } from '../../core/workbench/replies';
import { useOfScore } from '../job/session';

const NONE: readonly NoteOrigin[] = [];
/** Of more notes nothing is told one by one; what is done to them asks by itself. */
export const MOST_TOLD = 3000;

/**
 * What is known of the chosen notes, where they are not too many: of the revision before as long as this one's
 * is on its way. `shown` may be of the choice before for a moment, so that nothing flickers; `known` is not.
 */
export function useOrigins(notes: readonly EventId[]): {
  known: readonly NoteOrigin[];
  shown: readonly NoteOrigin[];
} {
  const isTold = notes.length > 0 && notes.length <= MOST_TOLD;
  const of = isTold ? notes.join(' ') : '';
  const { data } = useOfScore(
    ['origins', of],
    async (core, revision) => ({ of, origins: await core.origins(revision, { notes }) }),
    isTold,
  );
  if (!isTold || !data) return { known: NONE, shown: NONE };
  return { known: data.of === of ? data.origins : NONE, shown: data.origins };
}
