import { eachInSteps, type Steps } from '../basics/steps';
import { divideLeads, settleLeads, type Voice } from '../infer/lead/lead';
import { hasLead, type Lead, NO_LEAD } from '../infer/lead/lead-of';
import type { Played } from '../infer/rhythm/fit-span';
import { findSwing } from '../infer/swing/swing';
import type { Beat } from '../model/beats';
import type { Frame } from '../model/frame';
import type { SwingMark, SwungValue } from '../model/score';
import { type Ears, playedAttacks, struckIn } from './ears';

/** What holds for the ensemble as it plays: the lead of each strand of each part, and where it swings. */
export interface Together {
  leads: Lead[][];
  swings: SwingMark[];
}

/**
 * Leads and swing can be taken for each other: offbeats that come late may be
 * swung, or the part may be behind. Both orders are tried, and the one that
 * explains the swing better stands.
 */
export function* hearTogether(ears: readonly Ears[], frame: Frame, beats: readonly Beat[]): Steps<Together> {
  let under = '';
  let attacks: Played[][] = [];
  function* swingUnder(leads: readonly (readonly Lead[])[], value: SwungValue = 'eighth') {
    // Eighths and 16ths are mostly asked for under the same leads.
    const name = JSON.stringify(leads);
    if (name !== under)
      attacks = yield* eachInSteps(ears.entries(), ([index, each]) =>
        playedAttacks(each, leads[index]!, frame),
      );
    under = name;
    return yield* findSwing(value, attacks, beats, frame.bars.length);
  }
  const leadsOf = (voices: readonly (readonly Voice[])[]) => voices.map((own) => own.map(({ lead }) => lead));
  const struck = ears.map(struckIn);
  const straight = yield* settleLeads(struck, frame, []);
  const leads = leadsOf(straight);
  let found = yield* swingUnder(leads);
  let voices = straight;
  if (leads.flat().some(hasLead)) {
    const first = yield* swingUnder(leads.map((own) => own.map(() => NO_LEAD)));
    if (first.gain > found.gain) {
      voices = yield* settleLeads(struck, frame, first.swings);
      found = yield* swingUnder(leadsOf(voices));
    }
  }
  // Late offbeats may look like a lead of short notes: what is swung is taken out before such are looked for.
  if (found.swings.length > 0) voices = yield* settleLeads(struck, frame, found.swings);
  yield* divideLeads(voices, frame);
  function* withSixteenths() {
    const sixteenths = yield* swingUnder(leadsOf(voices), '16th');
    return [
      ...found.swings,
      ...sixteenths.swings.filter(({ from, to }) =>
        found.swings.every((each) => each.to <= from || each.from >= to),
      ),
    ];
  }
  // A 16th that swings is late by little: only what no lead explains is that, before it is taken out and after.
  let swings = yield* withSixteenths();
  if (swings.length > found.swings.length) {
    const before = voices;
    voices = yield* settleLeads(struck, frame, swings);
    yield* divideLeads(voices, frame);
    swings = yield* withSixteenths();
    if (swings.length === found.swings.length) voices = before;
  }
  return { leads: leadsOf(voices), swings: swings.sort((one, two) => one.from - two.from) };
}
