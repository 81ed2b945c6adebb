import type { EventId } from '../../core/model/ids';
import type { NoteOrigin } from '../../core/workbench/replies';
import { useOfScore } from '../job/session';

const NONE: readonly NoteOrigin[] = [];

/** What is known of the chosen notes; those of the revision before stay in view, those of another choice do not. */
export function useOrigins(notes: readonly EventId[]): readonly NoteOrigin[] {
  const of = notes.join(' ');
  const { data } = useOfScore(
    ['origins', of],
    async (core, revision) => ({ of, origins: await core.origins(revision, { notes }) }),
    notes.length > 0,
  );
  return notes.length > 0 && data?.of === of ? data.origins : NONE;
}
