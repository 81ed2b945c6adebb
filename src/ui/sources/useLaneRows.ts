import { useMemo } from 'react';
import { decidedFor } from '../../core/decisions/decisions';
import type { PlainDirective } from '../../core/decisions/kinds';
import type { CONTROLLER_USES } from '../../core/decisions/kinds/controllers';
import { spelledStrand } from '../../core/model/ids';
import { fitsLane } from '../../core/model/lanes';
import type { LaneUse } from '../../core/stock/controllers';
import { useSession } from '../job/session';

export type Use = (typeof CONTROLLER_USES)[number];

export const USE_NAMES: Record<Use, string> = {
  keep: 'Keep',
  remove: 'Remove',
  first: 'First value only',
  neutral: 'One neutral value',
};

/** A lane of a strand with what becomes of it. */
export interface LaneRow extends LaneUse {
  id: string;
  strandName: string;
  use: Use;
}

/** Every controller, bend and pressure of the source, and the way to decide about them. */
export function useLaneRows(): { rows: LaneRow[]; decide: (targets: readonly LaneRow[], use: Use) => void } {
  const { lanes, inventory, decisions, take } = useSession('lanes', 'inventory', 'decisions', 'take');
  const rows = useMemo(() => {
    const names = new Map(inventory.strands.map(({ id, name }) => [id, name]));
    return (
      lanes
        // Banks go with programs, which are decided for the strand.
        .filter(({ lane }) => lane !== 'cc0' && lane !== 'cc32')
        .map((lane): LaneRow => {
          const rule = decidedFor(decisions, lane.strand).controllers?.findLast(
            (each) => each.from === undefined && each.lanes.some((pattern) => fitsLane(pattern, lane.lane)),
          );
          return {
            ...lane,
            id: `${lane.strand} ${lane.lane}`,
            strandName: names.get(lane.strand) || spelledStrand(lane.strand),
            use: rule?.use ?? 'keep',
          };
        })
    );
  }, [lanes, decisions, inventory]);
  const decide = (targets: readonly LaneRow[], use: Use) =>
    take(
      ...targets.map(
        ({ strand, lane }): PlainDirective => ({ kind: 'controllers', strand, lanes: [lane], use }),
      ),
    );
  return { rows, decide };
}
