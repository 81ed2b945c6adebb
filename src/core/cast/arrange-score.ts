import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import type { Decisions } from '../decisions/decisions';
import {
  type EventId,
  isAdded,
  ownEvent,
  type PartId,
  partId,
  type StrandId,
  wholeStrand,
} from '../model/ids';
import type { Performance, Strand } from '../model/performance';
import type { Part, PartGroup, Score } from '../model/score';
import { clefsOf } from '../notate/clefs';
import { restingBar } from '../notate/rests';
import { transposeScore } from '../notate/transpose';
import type { ScoreReading } from '../sources/musicxml/source';
import { partOfPlayer } from './divide-part';
import { joinedPart, whyApart } from './join-parts';
import type { PartPlan } from './route';
import { leaderOf, pieceOfPart, plansOf } from './written';

/** A score that was read, with its parts routed. */
export interface ArrangedScore {
  /** Parts stand where those of the document stood that they are made of; what was added comes last. */
  score: Score;
  plans: PartPlan[];
  /** Parts that the document does not have as they are now. */
  made: ReadonlySet<PartId>;
  /** What could not be joined, as sentences. */
  refused: string[];
}

/**
 * The parts of a score that was read as they are routed: divided over players,
 * joined on one staff, or added. A score in which nothing of the kind was
 * decided comes back as the same object.
 */
export function arrangedScore(
  { score }: ScoreReading,
  performance: Performance,
  decisions: Decisions,
): ArrangedScore {
  const plans = plansOf(performance, decisions, score.parts);
  return remembered(score, ARRANGED, { score, performance, plans });
}

const ARRANGED = node('arranged', (of: { score: Score; performance: Performance; plans: PartPlan[] }) =>
  arrange(of.score, of.performance, of.plans),
);

function arrange(score: Score, { strands }: Performance, plans: PartPlan[]): ArrangedScore {
  const pieces = new Map<StrandId, Strand[]>();
  for (const strand of strands) {
    const whole = wholeStrand(strand.id);
    pieces.set(whole, [...(pieces.get(whole) ?? []), strand]);
  }
  const partBy = new Map<StrandId, Part>();
  const made = new Set<PartId>();
  for (const part of score.parts) {
    const own = pieces.get(leaderOf(part)) ?? [];
    if (own.length < 2) partBy.set(leaderOf(part), part);
    else
      for (const [at, piece] of own.entries()) {
        partBy.set(piece.id, partOfPiece(score, part, piece, at === 0));
        made.add(partId(piece.id));
      }
  }
  const refused: string[] = [];
  const parts = plans.flatMap((plan): Part[] => {
    const members = plan.strands.flatMap((id) => partBy.get(id) ?? []);
    if (members.length === 1 && !isAdded(plan.leader)) return members;
    made.add(plan.id);
    const names = { id: plan.id, name: plan.name, abbreviation: plan.abbreviation };
    if (members.length === 0) return [{ ...restingPart(score, plan), ...names }];
    const why = whyApart(members);
    if (why === null) return [{ ...joined(score, members, plan), ...names }];
    made.delete(plan.id);
    refused.push(`${members.map(({ name }) => name).join(' and ')} stay apart: ${why}.`);
    return members;
  });
  const silent = score.parts.filter((part) => !pieces.has(leaderOf(part)));
  const isSame = made.size === 0 && refused.length === 0;
  if (isSame) return { score, plans, made, refused };
  const places = new Map(score.parts.map((part, index) => [leaderOf(part), index]));
  const placeOf = (part: Part) => places.get(wholeStrand(leaderOf(part))) ?? places.size;
  const all = [...parts, ...silent].sort((a, b) => placeOf(a) - placeOf(b));
  const groups = score.groups?.flatMap((group): PartGroup[] => {
    const own = all.flatMap((part, index) =>
      placeOf(part) >= group.from && placeOf(part) <= group.to ? [index] : [],
    );
    return own.length > 1 ? [{ ...group, from: own[0]!, to: own.at(-1)! }] : [];
  });
  return { score: { ...score, parts: all, ...(groups && { groups }) }, plans, made, refused };
}

/** What a piece of a divided strand is on paper. */
function partOfPiece(score: Score, part: Part, { id, notes }: Strand, isFirst: boolean): Part {
  const { name, abbreviation } = pieceOfPart(part, id);
  const events = new Map(notes.map((note): [EventId, EventId] => [ownEvent(note.id), note.id]));
  return partOfPlayer(score, part, { part: { id: partId(id), name, abbreviation }, events, isFirst });
}

function restingPart(
  score: Score,
  { instrument, staves }: PartPlan,
): Omit<Part, 'id' | 'name' | 'abbreviation'> {
  return {
    instrument: instrument.id,
    transposition: instrument.transposition,
    clefs: clefsOf(instrument, staves).map(([usual]) => usual ?? 'treble'),
    bars: score.bars.map((bar) => restingBar(bar, staves)),
  };
}

function joined(score: Score, members: readonly Part[], { leader, players, instrument }: PartPlan): Part {
  const [first] = members;
  const transposition = isAdded(leader) ? instrument.transposition : first!.transposition;
  const aligned = transposeScore(
    { ...score, parts: [...members] },
    new Map(
      members
        .filter(
          (part) =>
            part.transposition.chromatic !== transposition.chromatic ||
            part.transposition.diatonic !== transposition.diatonic,
        )
        .map((part) => [part.id, { to: () => transposition }]),
    ),
  ).score.parts;
  // The first player's line is the upper one.
  const stack = aligned
    .map((part, at) => ({ part, player: players[at] ?? at + 1 }))
    .sort((a, b) => a.player - b.player);
  const part = joinedPart(
    score,
    stack.map((each) => each.part),
    stack.map(({ player }) => player),
  );
  const { clefs, changes, instrument: cast } = aligned[0]!;
  return {
    ...part,
    clefs,
    ...(changes && { changes }),
    transposition,
    instrument: isAdded(leader) ? instrument.id : cast,
  };
}
