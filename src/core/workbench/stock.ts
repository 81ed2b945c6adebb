import { listControllers } from '../stock/controllers';
import { takeStock } from '../stock/inventory';
import { listKits } from '../stock/kits';
import type { Stock } from './replies';
import type { State } from './workbench';

/** What the sources hold under a brief, and what its cleaning did. */
export const stockOf = ({ revision, desk }: State): Stock => ({
  revision,
  source: desk.source.source,
  notes: desk.source.strands.reduce((sum, { notes }) => sum + notes.length, desk.source.beyond),
  removed: desk.removed,
  inventory: takeStock(desk.smf, desk.performance, desk.decisions),
  changes: desk.changes,
  refusals: desk.refusals,
  lanes: listControllers(desk.source),
  kits: listKits(desk),
});
