import { steppedNode } from '../basics/graph';
import { rememberedInSteps } from '../basics/remember';
import type { Steps } from '../basics/steps';
import { beyondPage, type Decisions, decide } from '../decisions/decisions';
import { areHeard } from '../decisions/kinds/beats';
import type { Performance } from '../model/performance';
import { confidenceOf, DOUBTFUL, type HearingSettings } from '../recording/heard';
import type { HeardReading } from '../sources/audio/source';
import type { ScoreReading } from '../sources/musicxml/source';
import type { Smf } from '../sources/smf/events';
import { listControllers } from '../stock/controllers';
import { stockInSteps } from '../stock/inventory';
import { listKits } from '../stock/kits';
import { unheeded } from './read-score';
import type { HeardStock, MarkUse, Stock } from './replies';
import type { State } from './workbench';

const INVENTORY = steppedNode(
  'inventory',
  (of: { file: Smf | null; performance: Performance; decisions: Decisions; mayBeOdd: boolean }) =>
    stockInSteps(of.file, of.performance, of.decisions, of.mayBeOdd),
);

/** What the sources hold under a brief, and what its cleaning did. */
export function* stockOf({ revision, desk }: State): Steps<Stock> {
  const { file, performance } = desk;
  const inventory = yield* rememberedInSteps(performance, INVENTORY, {
    file,
    performance,
    // Beats that are followed as they are heard are in no brief.
    decisions: { ...decide(beyondPage(desk.brief)), beats: desk.decisions.beats },
    mayBeOdd: desk.can.mayBeOdd,
  });
  const lanes = listControllers(desk.source);
  yield;
  return {
    revision,
    source: desk.source.source,
    name: desk.name,
    kind: desk.kind,
    heard: desk.heard && heardStock(desk.heard, desk.decisions.hearing),
    marks: desk.written && marksOf(desk.written),
    notes: desk.source.strands.reduce((sum, { notes }) => sum + notes.length, desk.source.beyond),
    removed: desk.gone.size,
    shared: desk.shared,
    added: desk.added,
    followsHeard: areHeard(desk.decisions.beats),
    inventory: desk.written
      ? { ...inventory, mends: [...desk.written.mends, ...desk.written.cut, ...inventory.mends] }
      : inventory,
    changes: desk.changes,
    refusals: [...desk.refusals, ...unheeded(desk).map((why) => ({ step: 'score', why }))],
    lanes,
    kits: listKits(desk),
  };
}

/** Shares of sureness that are counted apart. */
const SHARES = 20;

function heardStock({ heard, read, taken }: HeardReading, settings: HearingSettings): HeardStock {
  const { mix } = heard;
  const sureness = Array<number>(SHARES).fill(0);
  for (const note of read === 'mix' ? [...(mix?.tune ?? []), ...(mix?.bass ?? [])] : heard[read]) {
    const share = Math.min(SHARES - 1, Math.floor(confidenceOf(note, settings.rules) * SHARES));
    sureness[share]!++;
  }
  return {
    facts: heard.facts,
    tuning: heard.tuning,
    guess: heard.guess,
    read,
    isBand: mix !== null,
    chords: read === 'mix' ? (mix?.chords.length ?? 0) : null,
    taken: taken.notes.length,
    doubtful: taken.notes.filter(({ confidence }) => confidence < DOUBTFUL).length,
    kept: read === 'many' ? taken.kept : null,
    below: taken.below,
    outside: taken.outside,
    sureness,
  };
}

function marksOf({ performed, lost, played }: ScoreReading): Stock['marks'] {
  const counted = (uses: ReadonlyMap<string, number>): MarkUse[] =>
    [...uses].map(([name, count]) => ({ name, count })).sort((a, b) => b.count - a.count);
  return {
    became: [...performed.became].map(([name, { count, as }]) => ({ name, count, as })),
    silent: counted(performed.silent),
    lost: counted(lost),
    techniques: [
      ...new Set(played.strands.flatMap(({ notes }) => notes.flatMap(({ technique }) => technique ?? []))),
    ].sort(),
  };
}
