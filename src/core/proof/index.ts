import type { Steps } from '../basics/steps';
import type { Oddity } from '../stock/oddities';
import { checkAgreement } from './agreement';
import { checkBars } from './bars';
import { checkBreath } from './breath';
import { checkChanges } from './changes';
import { checkClefs } from './clefs';
import { checkCrossing } from './crossing';
import { checkEnds } from './ends';
import { type Check, type CheckId, type Finding, findingOf, type Subject, WEIGHTS } from './finding';
import { checkHands } from './hands';
import { checkHeard } from './heard';
import { checkLeftOut } from './left-out';
import { checkLoneVoice } from './lone-voice';
import { checkLyrics } from './lyrics';
import { checkMarkers } from './markers';
import { checkNames } from './names';
import { checkNeedless } from './needless';
import { checkOtherSources } from './other-sources';
import { checkRanges } from './ranges';
import { checkSilence } from './silence';
import { checkSingle } from './single';
import { checkSource } from './source';
import { checkSpecks } from './specks';
import { checkSpelling } from './spelling';
import { checkStringCrossings } from './string-crossings';
import { checkStruckHeld } from './struck-held';
import { checkTechniques } from './techniques';
import { checkNarrow, checkTogether } from './together';

const RUN: Readonly<Record<Exclude<CheckId, 'source'>, Check>> = {
  heard: checkHeard,
  agreement: checkAgreement,
  bars: checkBars,
  ranges: checkRanges,
  hands: checkHands,
  crossings: checkStringCrossings,
  single: checkSingle,
  struck: checkStruckHeld,
  breath: checkBreath,
  changes: checkChanges,
  techniques: checkTechniques,
  together: checkTogether,
  narrow: checkNarrow,
  specks: checkSpecks,
  spelling: checkSpelling,
  ends: checkEnds,
  crossing: checkCrossing,
  lone: checkLoneVoice,
  needless: checkNeedless,
  clefs: checkClefs,
  names: checkNames,
  silence: checkSilence,
  markers: checkMarkers,
  others: checkOtherSources,
  lyrics: checkLyrics,
  leftout: checkLeftOut,
};

/**
 * Proof: everything that wants a look before hand-over, what cannot stay first,
 * then in order of bars and parts. Those that were said to be meant are in it, too.
 *
 * @param oddities of the source, as stock-taking has them
 */
export function* prove(subject: Subject, oddities: readonly Oddity[]): Steps<Finding[]> {
  const found = checkSource(oddities, subject).map((each) => ({
    ...findingOf('source', each, subject),
    id: each.about ?? '',
  }));
  for (const [id, check] of Object.entries(RUN) as [CheckId, Check][]) {
    for (const each of check(subject)) found.push(findingOf(id, each, subject));
    yield;
  }
  return found.sort(
    (a, b) =>
      WEIGHTS.indexOf(a.weight) - WEIGHTS.indexOf(b.weight) ||
      (a.at ?? -1) - (b.at ?? -1) ||
      (a.part ?? -1) - (b.part ?? -1),
  );
}
