import { rememberedInSteps } from '../basics/remember';
import type { Steps } from '../basics/steps';
import { beyondPage } from '../decisions/decisions';
import { areHeard } from '../decisions/kinds/beats';
import type { ScoreReading } from '../sources/musicxml/source';
import { listControllers } from '../stock/controllers';
import { stockInSteps } from '../stock/inventory';
import { listKits } from '../stock/kits';
import { unheeded } from './read-score';
import type { MarkUse, Stock } from './replies';
import type { State } from './workbench';

/** What the sources hold under a brief, and what its cleaning did. */
export function* stockOf({ revision, desk }: State): Steps<Stock> {
  const { smf, performance, decisions, written } = desk;
  const said = JSON.stringify(beyondPage(desk.brief));
  const inventory = yield* rememberedInSteps(performance, 'inventory', [smf, written, said], () =>
    stockInSteps(smf, performance, decisions, written !== null),
  );
  const lanes = listControllers(desk.source);
  yield;
  return {
    revision,
    source: desk.source.source,
    name: desk.name,
    kind: desk.written ? 'musicxml' : 'smf',
    marks: desk.written && marksOf(desk.written),
    notes: desk.source.strands.reduce((sum, { notes }) => sum + notes.length, desk.source.beyond),
    removed: desk.removed,
    added: desk.added,
    followsHeard: areHeard(desk.decisions.beats),
    inventory: desk.written ? { ...inventory, mends: desk.written.mends } : inventory,
    changes: desk.changes,
    refusals: [...desk.refusals, ...unheeded(desk).map((why) => ({ step: 'score', why }))],
    lanes,
    kits: listKits(desk),
  };
}

function marksOf({ performed, lost, manners }: ScoreReading): Stock['marks'] {
  const counted = (uses: ReadonlyMap<string, number>): MarkUse[] =>
    [...uses].map(([name, count]) => ({ name, count })).sort((a, b) => b.count - a.count);
  return {
    became: [...performed.became].map(([name, { count, as }]) => ({ name, count, as })),
    silent: counted(performed.silent),
    lost: counted(lost),
    techniques: [...new Set([...manners.values()].flatMap(({ technique }) => technique ?? []))].sort(),
  };
}
