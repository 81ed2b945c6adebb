import type { Steps } from '../basics/steps';
import { listControllers } from '../stock/controllers';
import { stockInSteps } from '../stock/inventory';
import { listKits } from '../stock/kits';
import type { Stock } from './replies';
import type { State } from './workbench';

/** What the sources hold under a brief, and what its cleaning did. */
export function* stockOf({ revision, desk }: State): Steps<Stock> {
  const inventory = yield* stockInSteps(desk.smf, desk.performance, desk.decisions);
  const lanes = listControllers(desk.source);
  yield;
  return {
    revision,
    source: desk.source.source,
    name: desk.name,
    notes: desk.source.strands.reduce((sum, { notes }) => sum + notes.length, desk.source.beyond),
    removed: desk.removed,
    inventory,
    changes: desk.changes,
    refusals: desk.refusals,
    lanes,
    kits: listKits(desk),
  };
}
