import type { Decisions } from '../decisions/decisions';
import { decidedFor } from '../decisions/decisions';
import { type Instrument, instrumentOf } from '../instruments/catalogue';
import { recogniseInstrument } from '../instruments/recognise';
import { partId, pieceOf, type StrandId, wholeStrand } from '../model/ids';
import type { Performance } from '../model/performance';
import type { Part } from '../model/score';
import { nameOfPlayer } from '../perform/players';
import { type PartPlan, routeStrands } from './route';

/** From this confidence on a name names its instrument. */
const NAMED = 0.7;

/** The strand that is played of a part of a score. */
export const leaderOf = (part: Part): StrandId => part.id.slice(1) as StrandId;

/** The instrument that was chosen for a part of a score, if one was. */
export function instrumentWanted(part: Part, decisions: Decisions): Instrument | null {
  const { instrument, added } = decidedFor(decisions, leaderOf(part));
  const wanted = instrument ?? added;
  return wanted ? instrumentOf(wanted) : null;
}

/** Whether a part can be written for an instrument. */
export const isAlike = ({ instrument }: Part, wanted: Instrument): boolean =>
  wanted.unpitched === instrumentOf(instrument).unpitched;

const toldBy = (name: string) => recogniseInstrument({ name, programs: [], channel: 0 });

/**
 * What a name is shortened to: as its instrument is, with its number; else it stays (common practice). A name that
 * tells the same player as the one before keeps what that was shortened to.
 */
function abbreviationOf(name: string, before: Pick<Part, 'name' | 'abbreviation'>): string {
  const { instrument, number, confidence } = toldBy(name);
  if (confidence < NAMED) return name;
  const was = toldBy(before.name);
  if (
    before.abbreviation &&
    was.confidence >= NAMED &&
    was.instrument === instrument &&
    was.number === number
  )
    return before.abbreviation;
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
    ...(isRenamed && { name, abbreviation: abbreviationOf(name, part) }),
    ...(isRecast && { instrument: wanted.id }),
  };
}

/** A part as one of its pieces is called: "Horns 1 & 2" has "Horns 1" and "Horns 2". */
export function pieceOfPart<P extends Pick<Part, 'id' | 'name' | 'abbreviation'>>(
  part: P,
  piece: StrandId,
): P {
  const number = pieceOf(piece);
  return {
    ...part,
    id: partId(piece),
    name: nameOfPlayer(part.name, number),
    abbreviation: nameOfPlayer(part.abbreviation, number),
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
  const divided = new Set(
    performance.strands.filter(({ id }) => wholeStrand(id) !== id).map(({ id }) => wholeStrand(id)),
  );
  const rank = new Map(decisions.order.map((id, index) => [id, index]));
  // What was divided stays where it was.
  const placeOf = (leader: StrandId) => places.get(partId(wholeStrand(leader)))?.index ?? places.size;
  const place = ({ leader }: PartPlan) =>
    (rank.get(leader) ?? rank.size) * (places.size + 1) + placeOf(leader);
  return plans
    .map((plan): PartPlan => {
      const own = places.get(partId(wholeStrand(plan.leader)));
      if (!own) return plan;
      if (plan.players.length > 1) return { ...plan, staves: 1 };
      const part = divided.has(wholeStrand(plan.leader)) ? pieceOfPart(own.part, plan.leader) : own.part;
      const { name, abbreviation, instrument, clefs } = decidedPart(part, decisions);
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
