import { medianOf } from '../basics/average';
import type { Steps } from '../basics/steps';
import { type Candidate, FEATURES, PARTIALS, type Strength } from './candidates';
import { type MaybeNote, oddsOf, RULES, type Rule } from './heard';
import learnt from './weights.json';

/** What is seen of a candidate among the others, in whose name. */
export const COMPANY: readonly (Rule | 'strength')[] = [
  ...Array<'ghosts'>(15).fill('ghosts'),
  'ringing',
  'doubled',
  'neighbours',
  'strength',
  'strength',
  'faint',
];

/**
 * A tree of questions, by its nodes: which of what is seen is asked for (−1 where nothing is), the least with which one
 * goes to the second of two next nodes, the first of those, and what the node says: log-odds.
 */
export interface Tree {
  of: readonly number[];
  at: readonly number[];
  next: readonly number[];
  says: readonly number[];
}

/** All trees of a round, whose words are summed, and what holds without any: log-odds. */
export interface Weights {
  bias: number;
  trees: readonly Tree[];
}

/** Two rounds: each candidate by itself, then among the others; and what each rule says of true notes on average. */
export interface AllWeights {
  alone: Weights;
  among: Weights;
  usual: Readonly<Record<Rule, number>>;
}

/** Seconds: what begins together, what is heard twice, how far back what sounds is looked for, what is about a note. */
const TOGETHER = 0.05;
const TWICE = 0.12;
const BACK = 6;
const ABOUT = 3;
/** So much sooner what a note rests on has not ended. */
const STILL = 0.03;
/** Less likely ones are no company. */
const LIKELY = 0.05;
/** Candidates between two breaths. */
const BETWEEN = 2000;
/** Semitones up to the partials that are told apart; others are one. */
const APART = [12, 19, 24];

const shareOf = (odds: number) => 1 / (1 + Math.exp(-odds));

/**
 * What all trees say of what is seen: log-odds.
 * @param told each step that a question makes on the way, by what was asked for; with the bias and what trees begin with they are the sum
 */
function asked(
  { bias, trees }: Weights,
  seen: readonly number[],
  told: (of: number, step: number) => void = () => {},
): number {
  let all = bias;
  for (const { of, at, next, says } of trees) {
    let node = 0;
    while (of[node]! >= 0) {
      const to = next[node]! + (seen[of[node]!]! < at[node]! ? 0 : 1);
      told(of[node]!, says[to]! - says[node]!);
      node = to;
    }
    all += says[node]!;
  }
  return all;
}

/** How likely each candidate is by itself, 0–1. */
export const alone = (candidates: readonly Candidate[], weights: Weights): Float64Array =>
  Float64Array.from(candidates, ({ seen }) => shareOf(asked(weights, seen)));

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
  const usual = loudAbout(company, ABOUT * perSecond);
  const sounding = (from: number, on: number, each: (other: Weighed, isTogether: boolean) => void) => {
    for (let at = from; at < company.length; at++) {
      const other = company[at]!;
      const since = (on - other.on) / perSecond;
      if (since < -TOGETHER) break;
      const isTogether = Math.abs(since) < TOGETHER;
      if (isTogether || other.rings > on + STILL * perSecond) each(other, isTogether);
    }
  };
  const startOf = () => {
    let first = 0;
    return (on: number) => {
      while (first < company.length && company[first]!.on < on - BACK * perSecond) first++;
      return first;
    };
  };
  const profile = new PartialProfile();
  const firstFor = startOf();
  for (const [index, { on, key, share, over }] of company.entries()) {
    if (share > CERTAIN) {
      const doubled = PARTIALS.map(() => false);
      sounding(firstFor(on), on, (other) => {
        const at = PARTIALS.indexOf(other.key - key);
        if (at >= 0 && other.share > PERHAPS) doubled[at] = true;
      });
      over.forEach((partial, at) => {
        if (!doubled[at]) profile.add(at, key, partial);
      });
    }
    if (index % BETWEEN === BETWEEN - 1) yield;
  }
  const firstOf = startOf();
  const rows: number[][] = [];
  for (const [index, { on, key, loud, share, own, under }] of others.entries()) {
    const row = COMPANY.map(() => 0);
    const raise = (at: number, value: number) => {
      row[at] = Math.max(row[at]!, value);
    };
    const [NONE, NONE_SEEN] = [4, 1];
    let expected = Number.NEGATIVE_INFINITY;
    row.fill(NONE, 10, 12);
    row.fill(NONE_SEEN, 12, 14);
    row[14] = NONE;
    sounding(firstOf(on), on, (other, isTogether) => {
      const above = key - other.key;
      const partial = PARTIALS.indexOf(above);
      if (partial >= 0) {
        const which = APART.includes(above) ? APART.indexOf(above) : APART.length;
        raise((isTogether ? 0 : 4) + which, other.share);
        if (isTogether) raise(8, (other.share * Math.min(30, other.loud - loud)) / 10);
        if (other.share > PERHAPS) {
          const usually = profile.of(partial, other.key);
          const level = under[partial]! + usually.level;
          const excess = Math.max(-3, Math.min(NONE, (own.level - level) / 10));
          if (above === APART[0]) row[10] = Math.min(row[10]!, excess);
          if (isTogether) row[14] = Math.min(row[14]!, excess);
          if (level > expected) {
            expected = level;
            row[11] = excess;
            row[12] = own.frame - usually.frame;
            row[13] = own.onset - (isTogether ? usually.onset : 0);
          }
        }
      }
      if (isTogether && APART.includes(-above)) raise(9, other.share);
      const since = (on - other.on) / perSecond;
      if (above === 0 && since > 0 && other.rings > on + STILL * perSecond) {
        raise(15, other.share);
        if (since < TWICE) raise(16, other.share);
      }
      if (Math.abs(above) === 1 && isTogether) raise(17, other.share);
      if (above !== 0 && isTogether) row[18] = Math.min(4, row[18]! + other.share);
    });
    row[19] = oddsOf(share);
    row[20] = (loud - usual(on)) / 10;
    rows.push(row);
    if (index % BETWEEN === BETWEEN - 1) yield;
  }
  return rows;
}

type Weighed = Candidate & { share: number };

/** So likely notes tell how strong partials are in this recording, and so likely ones hide that. */
const CERTAIN = 0.7;
const PERHAPS = 0.3;
/** As many neighbours tell it of a key. */
const NEIGHBOURS = 21;
/** What is told of partials where nothing is known yet. */
const UNKNOWN: Strength = { level: -15, frame: 0.2, onset: 0.2 };

/** How strong the partials of notes are that nothing doubles, in this recording, by key. */
class PartialProfile {
  private readonly seen: { key: number; strength: Strength }[][] = PARTIALS.map(() => []);
  private readonly known = new Map<string, Strength>();

  add(partial: number, key: number, strength: Strength): void {
    this.seen[partial]!.push({ key, strength });
  }

  /** In the middle of what the nearest keys show. */
  of(partial: number, key: number): Strength {
    const name = `${partial} ${key}`;
    const known = this.known.get(name);
    if (known) return known;
    const near = this.seen[partial]!.toSorted((a, b) => Math.abs(a.key - key) - Math.abs(b.key - key))
      .slice(0, NEIGHBOURS)
      .map(({ strength }) => strength);
    const made: Strength =
      near.length === 0
        ? UNKNOWN
        : {
            level: medianOf(near.map(({ level }) => level)),
            frame: medianOf(near.map(({ frame }) => frame)),
            onset: medianOf(near.map(({ onset }) => onset)),
          };
    this.known.set(name, made);
    return made;
  }
}

/** How loud notes are about a moment on average, as likely as each is; decibels. */
function loudAbout(company: readonly { on: number; loud: number; share: number }[], about: number) {
  let [from, to, weight, sum] = [0, 0, 0, 0];
  return (moment: number): number => {
    for (; to < company.length && company[to]!.on <= moment + about; to++) {
      weight += company[to]!.share;
      sum += company[to]!.share * company[to]!.loud;
    }
    for (; from < to && company[from]!.on < moment - about; from++) {
      weight -= company[from]!.share;
      sum -= company[from]!.share * company[from]!.loud;
    }
    return weight < 1e-6 ? 0 : sum / weight;
  };
}

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
