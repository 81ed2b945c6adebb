import { medianOf } from '../basics/average';
import type { Steps } from '../basics/steps';
import { type Candidate, FEATURES, PARTIALS } from './candidates';
import { type MaybeNote, RULES, type Rule } from './heard';
import weights from './weights.json';

/** What is seen of a candidate among the others, in whose name. */
export const COMPANY: readonly (Rule | 'strength')[] = [
  'ghosts',
  'ghosts',
  'ghosts',
  'ghosts',
  'ghosts',
  'ringing',
  'doubled',
  'neighbours',
  'strength',
];

/** Logistic weights of a round: of what is seen, and what holds without any. */
export interface Weights {
  of: readonly number[];
  bias: number;
}

/** Two rounds: each candidate by itself, then among the others; and what each rule says of true notes on average. */
export interface AllWeights {
  alone: Weights;
  among: Weights;
  usual: Readonly<Record<Rule, number>>;
}

/** Seconds: what begins together, what is heard twice, how far back what sounds is looked for. */
const TOGETHER = 0.05;
const TWICE = 0.12;
const BACK = 6;
/** So much sooner what a note rests on has not ended. */
const STILL = 0.03;
/** Less likely ones are no company. */
const LIKELY = 0.05;
/** Candidates between two breaths. */
const BETWEEN = 2000;

const sum = ({ of, bias }: Weights, seen: readonly number[]): number =>
  of.reduce((all, weight, at) => all + weight * (seen[at] ?? 0), bias);

const shareOf = (odds: number) => 1 / (1 + Math.exp(-odds));

/** How likely each candidate is by itself, 0–1. */
export const alone = (candidates: readonly Candidate[], { alone: own }: AllWeights): Float64Array =>
  Float64Array.from(candidates, ({ seen }) => shareOf(sum(own, seen)));

/**
 * What each candidate is among the others, given how likely each is by itself: for every candidate in the order of COMPANY.
 *
 * @param candidates in order of beginning
 */
export function* among(
  candidates: readonly Candidate[],
  likely: Float64Array,
  perSecond: number,
): Steps<number[][]> {
  const others = candidates.map((each, at) => ({ ...each, share: likely[at]! }));
  const company = others.filter(({ share }) => share > LIKELY);
  const rows: number[][] = [];
  let first = 0;
  for (const [index, { on, key, loud }] of others.entries()) {
    while (first < company.length && company[first]!.on < on - BACK * perSecond) first++;
    const row = [0, 0, 0, 0, 0, 0, 0, 0, 0];
    const raise = (at: number, value: number) => {
      row[at] = Math.max(row[at]!, value);
    };
    for (let at = first; at < company.length; at++) {
      const other = company[at]!;
      const since = (on - other.on) / perSecond;
      if (since < -TOGETHER) break;
      const isTogether = Math.abs(since) < TOGETHER;
      const sounds = other.rings > on + STILL * perSecond;
      const above = key - other.key;
      if (PARTIALS.includes(above)) {
        if (isTogether && other.loud > loud - 6) raise(0, other.share);
        if (!isTogether && sounds) raise(1, other.share);
        if (isTogether) raise(3, (other.share * Math.min(30, other.loud - loud)) / 10);
      }
      if (isTogether && (above === -12 || above === -19 || above === -24)) raise(2, other.share);
      if (above === 12 && (isTogether || sounds)) raise(4, other.share);
      if (above === 0 && since > 0 && sounds) raise(5, other.share);
      if (above === 0 && since > 0 && since < TWICE && sounds) raise(6, other.share);
      if (Math.abs(above) === 1 && isTogether) raise(7, other.share);
      if (above !== 0 && isTogether) row[8] = Math.min(4, row[8]! + other.share);
    }
    rows.push(row);
    if (index % BETWEEN === BETWEEN - 1) yield;
  }
  return rows;
}

/** What each rule adds to a candidate, and what is left without them. */
function said(seen: readonly number[], { among: { of, bias }, usual }: AllWeights) {
  const rules = { ghosts: 0, ringing: 0, doubled: 0, neighbours: 0, faint: 0 };
  let says = bias;
  [...FEATURES, ...COMPANY].forEach((rule, at) => {
    const part = of[at]! * seen[at]!;
    if (rule === 'strength') says += part;
    else rules[rule] += part;
  });
  for (const rule of RULES) {
    rules[rule] -= usual[rule];
    says += usual[rule];
  }
  return { says, rules };
}

/** Less likely ones are not even kept as maybe. */
const NEVER = -4;
/** The middle of all is mezzo-forte; six decibels are a step of the scale of dynamics (common practice). */
const MIDDLE = 80;
const STEP_OF_SIX = 16;

/**
 * What may have been heard, weighed: candidates by what is seen of each and of those about it.
 * Source of the method: logistic regression in two rounds, the second with what the first says of the others; its
 * weights are learnt (`npm run fit:recordings`).
 *
 * @param candidates in order of beginning
 * @param perSecond moments a second
 * @returns seconds of the recording, in order of beginning
 */
export function* weighed(candidates: readonly Candidate[], perSecond: number): Steps<MaybeNote[]> {
  const company = yield* among(candidates, alone(candidates, weights), perSecond);
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
