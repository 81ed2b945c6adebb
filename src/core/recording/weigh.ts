import { medianOf } from '../basics/average';
import type { Steps } from '../basics/steps';
import { type Candidate, FEATURES } from './candidates';
import { among, COMPANY } from './company';
import { type MaybeNote, RULES, type Rule } from './heard';
import { asked, type Weights } from './trees';
import learnt from './weights.json';

/** Two rounds: each candidate by itself, then among the others; and what each rule says of true notes on average. */
export interface AllWeights {
  alone: Weights;
  among: Weights;
  usual: Readonly<Record<Rule, number>>;
}

const shareOf = (odds: number) => 1 / (1 + Math.exp(-odds));

/** How likely each candidate is by itself, 0–1. */
export const alone = (candidates: readonly Candidate[], weights: Weights): Float64Array =>
  Float64Array.from(candidates, ({ seen }) => shareOf(asked(weights, seen)));

/**
 * What each rule adds to a candidate, and what is left without them: a step of a tree is said by the rule that asked.
 * Source of dividing trees so: A. Saabas, "Interpreting random forests" (2014), from memory.
 */
export function said(seen: readonly number[], { among: round, usual }: AllWeights) {
  const rules = { ghosts: 0, ringing: 0, doubled: 0, neighbours: 0, faint: 0 };
  let says = asked(round, seen, (of, step) => {
    const rule = NAMES[of]!;
    if (rule !== 'strength') rules[rule] += step;
  });
  for (const rule of RULES) {
    says -= rules[rule];
    rules[rule] -= usual[rule];
    says += usual[rule];
  }
  return { says, rules };
}

/** In whose name each question of the second round is asked. */
const NAMES = [...FEATURES, ...COMPANY];

/** Less likely ones are not even kept as maybe. */
const NEVER = -4;
/** The middle of all is mezzo-forte; six decibels are a step of the scale of dynamics (common practice). */
const MIDDLE = 80;
const STEP_OF_SIX = 16;

/**
 * What may have been heard, weighed: candidates by what is seen of each and of those about it.
 * The method: boosted trees in two rounds, the second with what the first says of the others; they are learnt
 * (`npm run fit:recordings`).
 *
 * @param candidates in order of beginning
 * @param perSecond moments a second
 * @returns seconds of the recording, in order of beginning
 */
export function* weighed(
  candidates: readonly Candidate[],
  perSecond: number,
  weights: AllWeights = learnt,
): Steps<MaybeNote[]> {
  const company = yield* among(candidates, alone(candidates, weights.alone), perSecond);
  const maybe = candidates.flatMap(({ on, off, key, loud, cents, seen }, at) => {
    const { says, rules } = said([...seen, ...company[at]!], weights);
    const best = RULES.reduce((odds, rule) => odds + Math.max(0, rules[rule]), says);
    if (best < NEVER) return [];
    const all = RULES.reduce((odds, rule) => odds + rules[rule], says);
    return [{ on: on / perSecond, off: off / perSecond, key, loud, cents, says, rules, all }];
  });
  const middle = medianOf(maybe.filter(({ all }) => all > 0).map(({ loud }) => loud));
  const tuning = medianOf(maybe.filter(({ all }) => all > 0).map(({ cents }) => cents));
  return maybe.map(({ loud, all: _, ...note }) => ({
    ...note,
    cents: note.cents - tuning,
    velocity: Math.max(1, Math.min(127, Math.round(MIDDLE + ((loud - middle) * STEP_OF_SIX) / 6))),
  }));
}
