import { useCallback, useEffect, useRef, useState } from 'react';
import type { PlainDirective } from '../../core/decisions/kinds';
import type { BeatSheet } from '../../core/workbench/beat-sheet';
import type { EditBeatsRequest } from '../../workers/messages';
import { useSession } from '../job/session';

/** After this long an edit is made even if the one before it never showed, in milliseconds. */
const PATIENCE = 3000;

/** Whether a sheet has what was decided; one that was asked for earlier may come later. */
function shows({ beats, from }: BeatSheet, directives: readonly PlainDirective[]): boolean {
  const wanted = directives.find((each) => each.kind === 'beats');
  if (!wanted || wanted.ticks.length === 0) return from === 'file';
  return (
    from === 'decided' &&
    beats.unit === (wanted.unit ?? 1) &&
    `${beats.ticks}` === `${wanted.ticks}` &&
    `${beats.bars}` === `${wanted.bars}`
  );
}

/** Edits of the beats one after the other, and what the last one has to say for itself. */
export function useBeatEdits(sheet: BeatSheet | null, isOld: boolean) {
  const { core, stock, take } = useSession('core', 'stock', 'take');
  const [said, setSaid] = useState('');
  /** Edits wait for each other: each starts from the beats that the one before it made. */
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const arrived = useRef<(found: BeatSheet | null) => void>(() => {});

  useEffect(() => {
    if (!isOld) arrived.current(sheet);
  }, [sheet, isOld]);
  /** An edit starts from the beats as they are when its turn comes. */
  const revision = useRef(stock.revision);
  revision.current = stock.revision;

  const edit = useCallback(
    (request: EditBeatsRequest): Promise<boolean> => {
      const turn = queue.current.then(async () => {
        const decided = await core.editBeats(revision.current, request);
        setSaid(decided.length === 0 ? 'That changes nothing here.' : '');
        if (decided.length === 0) return false;
        await new Promise<void>((resolve) => {
          arrived.current = (found) => found && shows(found, decided) && resolve();
          setTimeout(resolve, PATIENCE);
          take(...decided);
        });
        return true;
      });
      const settled = turn.catch((error: unknown) => {
        setSaid(`That was not done. ${(error as Error).message}`);
        return false;
      });
      queue.current = settled;
      return settled;
    },
    [core, take],
  );
  return { edit, said, setSaid };
}
