import { eachInSteps, finished, type Steps } from '../../basics/steps';
import type { Decisions } from '../../decisions/decisions';
import type { Performance } from '../../model/performance';
import { doublesInSteps } from '../doubles';
import { echoesInSteps } from '../echoes';
import {
  findProgramChanges,
  findSharedChannels,
  findShiftedKits,
  findWrongChannels,
  findWrongPrograms,
} from './casting';
import {
  findDefaultKey,
  findDefaultMeter,
  findMeterCuts,
  findOffset,
  findOtherBeats,
  findSilence,
  findTempoJumps,
} from './clock';
import { findNotationFile } from './notation';
import { findHanging, findKeySwitches, findSpecks, findStacked } from './notes';
import type { Finder, Oddity } from './oddity';
import { findOnePlayer } from './one-player';
import { findTechniques } from './techniques';
import { findThrees } from './threes';
import { findCopies, findEchoing, findEmptyTracks, findMixers } from './tracks';

export type { Oddity, OddityKind } from './oddity';

const FINDERS: readonly Finder[] = [
  findOffset,
  findOtherBeats,
  findTempoJumps,
  findMeterCuts,
  findDefaultKey,
  findDefaultMeter,
  findThrees,
  findSilence,
  findEmptyTracks,
  findCopies,
  findEchoing,
  findKeySwitches,
  findHanging,
  findStacked,
  findSpecks,
  findWrongChannels,
  findShiftedKits,
  findWrongPrograms,
  findProgramChanges,
  findSharedChannels,
  findOnePlayer,
  findNotationFile,
  findTechniques,
  findMixers,
];

/**
 * Everything odd in a performance, under what was decided so far: what is
 * mended, left out or meant is not found again.
 */
export function* odditiesInSteps(performance: Performance, decisions: Decisions): Steps<Oddity[]> {
  // What takes longest to find is found first, in steps; its finders remember it.
  yield* doublesInSteps(performance);
  yield* echoesInSteps(performance);
  const found = yield* eachInSteps(FINDERS, (find) => find(performance, decisions));
  return found
    .flat()
    .filter(
      (oddity) =>
        !decisions.meant.has(oddity.id) && !(oddity.strand && decisions.strands.get(oddity.strand)?.out),
    );
}

export const findOddities: Finder = (performance, decisions) =>
  finished(odditiesInSteps(performance, decisions));
