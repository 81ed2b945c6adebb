import { remembered } from '../basics/remember';
import {
  type Decisions,
  decidedFor,
  jobSlice,
  type StrandDecisions,
  strandSlice,
} from '../decisions/decisions';
import type { Performance, Strand } from '../model/performance';
import { cleanClock } from './clock';
import {
  closeHanging,
  dropSpecks,
  mendStacked,
  shapeVelocities,
  takeOutKeySwitches,
  translateKit,
} from './notes';
import { setChannel, setPrograms, thinControllers } from './shaping';
import { splitStrand } from './split';
import type { Change, CleanStep } from './step';

export type { Change } from './step';

/** A performance as the brief wants it, and what that took. */
export interface Cleaned {
  performance: Performance;
  changes: Change[];
}

const STEPS: readonly [kind: string, step: CleanStep][] = [
  ['channel', setChannel],
  ['key-switches', takeOutKeySwitches],
  ['hanging', closeHanging],
  ['stacked', mendStacked],
  ['specks', dropSpecks],
  ['kit', translateKit],
  ['controllers', thinControllers],
  ['programs', setPrograms],
  ['velocities', shapeVelocities],
];

/**
 * Cleans a performance by the brief: clock, splits, then each strand step by
 * step. The source is never changed, and a strand that no decision touches
 * comes back as the same object, as does one whose decisions did not change
 * since the last call: so whoever depends on a strand can go by identity.
 */
export function clean(source: Performance, decisions: Decisions): Cleaned {
  const { performance, changes: clockChanges } = remembered(
    source,
    'clock',
    jobSlice(decisions, 'clock'),
    () => cleanClock(source, decisions),
  );
  const changes = [...clockChanges];
  const strands: Strand[] = [];
  for (const strand of performance.strands)
    for (const piece of pieces(strand, decisions, performance, changes)) {
      const decided = decidedFor(decisions, piece.id);
      const result = remembered(piece, 'clean', strandSlice(decided, 'clean'), () =>
        cleanStrand(piece, decided, performance),
      );
      changes.push(...result.changes);
      if (result.strand) strands.push(result.strand);
    }
  const untouched = strands.length === performance.strands.length && strands.every(isIn(performance.strands));
  return { performance: untouched ? performance : { ...performance, strands }, changes };
}

const isIn = (all: readonly Strand[]) => (strand: Strand, index: number) => all[index] === strand;

/** A strand's pieces, and the pieces of these. */
function pieces(strand: Strand, decisions: Decisions, performance: Performance, changes: Change[]): Strand[] {
  const split = decisions.strands.get(strand.id)?.split;
  if (!split?.by) return [strand];
  const result = remembered(strand, 'split', JSON.stringify(split), () =>
    splitStrand(strand, split, performance.clock),
  );
  changes.push(...result.changes);
  const [first, ...others] = result.strands;
  return first ? [first, ...others.flatMap((each) => pieces(each, decisions, performance, changes))] : [];
}

function cleanStrand(strand: Strand, decided: StrandDecisions, { clock }: Performance) {
  const changes: Change[] = [];
  let result: Strand | null = strand;
  for (const [kind, step] of STEPS) {
    if (!result) break;
    result = step(result, decided, clock, (what, before, after) => {
      changes.push({ strand: strand.id, step: kind, what, before, after });
    });
  }
  return { strand: result, changes };
}
