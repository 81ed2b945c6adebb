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
  findLooseGrid,
  findMeterCuts,
  findOtherPulse,
  findSilence,
  findTempoJumps,
} from './clock';
import { findHanging, findKeySwitches, findSpecks, findStacked } from './notes';
import type { Finder, Oddity } from './oddity';
import { findCopies, findEchoing, findEmptyTracks, findMixers } from './tracks';

export type { Oddity, OddityKind } from './oddity';

const FINDERS: readonly Finder[] = [
  findLooseGrid,
  findOtherPulse,
  findTempoJumps,
  findMeterCuts,
  findDefaultKey,
  findDefaultMeter,
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
  findMixers,
];

/**
 * Everything odd in a performance, under what was decided so far: what is
 * mended, left out or meant is not found again.
 */
export const findOddities: Finder = (performance, decisions): Oddity[] =>
  FINDERS.flatMap((find) => find(performance, decisions)).filter(
    (oddity) =>
      !decisions.meant.has(oddity.id) && !(oddity.strand && decisions.strands.get(oddity.strand)?.out),
  );
