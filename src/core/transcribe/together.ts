import type { SwingMark } from '../score/score';
import type { Beat } from './beats';
import type { Frame } from './frame';
import { type Hearing, playedAttacks } from './hear';
import { settleLeads } from './lead';
import { findSwing } from './swing';

/** What holds for the ensemble as it plays: the lead of each part in seconds, and where it swings. */
export interface Together {
  leads: number[];
  swings: SwingMark[];
}

/**
 * Leads and swing can be taken for each other: offbeats that come late may be
 * swung, or the part may be behind. Both orders are tried, and the one that
 * explains the swing better stands.
 */
export function hearTogether(hearings: readonly Hearing[], frame: Frame, beats: readonly Beat[]): Together {
  const swingUnder = (leads: readonly number[]) =>
    findSwing(
      hearings.map((hearing, index) => playedAttacks(hearing, leads[index]!, frame)),
      beats,
      frame.bars.length,
    );
  const leads = settleLeads(hearings, frame, []);
  const after = swingUnder(leads);
  if (leads.every((lead) => lead === 0)) return { leads, swings: after.swings };
  const first = swingUnder(leads.map(() => 0));
  if (first.gain <= after.gain) return { leads, swings: after.swings };
  const straightened = settleLeads(hearings, frame, first.swings);
  return { leads: straightened, swings: swingUnder(straightened).swings };
}
