import { useMemo } from 'react';
import { SURE } from '../../core/instruments/recognise';
import type { StrandId } from '../../core/model/ids';
import { useSession } from '../job/session';

/** How sure the instruments of parts are, 0–1, by the strands that lead them, where they were guessed and want a look. */
export function useDoubts(): ReadonlyMap<StrandId, number> {
  const { inventory, decisions } = useSession('inventory', 'decisions');
  return useMemo(() => {
    const doubts = new Map<StrandId, number>();
    for (const { id, guess } of inventory.strands)
      if (guess.confidence < SURE && decisions.strands.get(id)?.instrument === undefined)
        doubts.set(id, guess.confidence);
    return doubts;
  }, [inventory, decisions]);
}
