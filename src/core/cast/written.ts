import type { Decisions } from '../decisions/decisions';
import { decidedFor } from '../decisions/decisions';
import { type Instrument, instrumentOf } from '../instruments/catalogue';
import { recogniseInstrument } from '../instruments/recognise';
import type { StrandId } from '../model/ids';
import type { Performance } from '../model/performance';
import type { Part } from '../model/score';
import { type PartPlan, routeStrands } from './route';

/** From this confidence on a name names its instrument. */
const NAMED = 0.7;

/** The strand that is played of a part of a score. */
export const leaderOf = (part: Part): StrandId => part.id.slice(1) as StrandId;

/** The instrument that was chosen for a part of a score, if one was. */
export function instrumentWanted(part: Part, decisions: Decisions): Instrument | null {
  const { instrument } = decidedFor(decisions, leaderOf(part));
  return instrument ? instrumentOf(instrument) : null;
}

/** Whether a part can be written for an instrument. */
export const isAlike = ({ instrument }: Part, wanted: Instrument): boolean =>
  wanted.unpitched === instrumentOf(instrument).unpitched;

/** What a name is shortened to: as its instrument is, with its number; else it stays (common practice). */
function abbreviationOf(name: string): string {
  const { instrument, number, confidence } = recogniseInstrument({ name, programs: [], channel: 0 });
  if (confidence < NAMED) return name;
  return number === null ? instrument.abbreviation : `${instrument.abbreviation} ${number}`;
}

/** A part of a score with the name and the instrument that were decided for it. */
export function decidedPart(part: Part, decisions: Decisions): Part {
  const name = decidedFor(decisions, leaderOf(part)).name?.trim();
  const wanted = instrumentWanted(part, decisions);
  const isRenamed = name && name !== part.name;
  const isRecast = wanted && wanted.id !== part.instrument && isAlike(part, wanted);
  if (!isRenamed && !isRecast) return part;
  return {
    ...part,
    ...(isRenamed && { name, abbreviation: abbreviationOf(name) }),
    ...(isRecast && { instrument: wanted.id }),
  };
}

/**
 * What the roster says of a performance that a score was played for: parts
 * have the names, instruments and order of the score, unless it was decided
 * otherwise.
 *
 * @param written the parts as they were read; null for a source that is no score
 */
export function plansOf(
  performance: Performance,
  decisions: Decisions,
  written: readonly Part[] | null,
): PartPlan[] {
  const plans = routeStrands(performance, decisions);
  if (!written) return plans;
  const places = new Map(written.map((part, index) => [part.id, { part, index }]));
  const rank = new Map(decisions.order.map((id, index) => [id, index]));
  const place = ({ id, strands }: PartPlan) =>
    (rank.get(strands[0]!) ?? rank.size) * (places.size + 1) + (places.get(id)?.index ?? places.size);
  return plans
    .map((plan): PartPlan => {
      const own = places.get(plan.id);
      if (!own) return plan;
      const { name, abbreviation, instrument, clefs } = decidedPart(own.part, decisions);
      return {
        ...plan,
        name,
        abbreviation,
        instrument: instrumentOf(instrument),
        staves: clefs.length > 1 ? 2 : 1,
      };
    })
    .sort((a, b) => place(a) - place(b));
}
