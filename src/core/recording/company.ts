import type { Steps } from '../basics/steps';
import { type Candidate, PARTIALS } from './candidates';
import { oddsOf, type Rule } from './heard';
import { PartialProfile } from './partials';

/** What is seen of a candidate among the others, in whose name; in the order of AT. */
export const COMPANY: readonly (Rule | 'strength')[] = [
  ...Array<'ghosts'>(15).fill('ghosts'),
  'ringing',
  'doubled',
  'neighbours',
  'strength',
  'strength',
  'faint',
];

/** Where it stands. */
export const AT = {
  /** How likely one is of which it would be a partial that begins with it: an octave, a twelfth, two octaves below, or other. */
  with: 0,
  /** Likewise one that began before and sounds. */
  under: 4,
  /** How much louder such a one is that begins with it. */
  louder: 8,
  /** How likely one is that begins with it and would be its partial. */
  above: 9,
  /** By how much it exceeds what partials usually are here: of an octave below; of whatever would be the strongest there. */
  overOctave: 10,
  over: 11,
  /** So does what the model says of its sounding and of its beginning. */
  frame: 12,
  onset: 13,
  /** The least by which it exceeds a partial of what begins with it. */
  overWith: 14,
  /** How likely its own key sounds already, and was struck just before. */
  rings: 15,
  twice: 16,
  /** How likely a semitone beside it begins with it. */
  beside: 17,
  /** How many begin with it. */
  together: 18,
  /** What speaks for it by itself. */
  odds: 19,
  /** How loud it is against what is about it. */
  loud: 20,
} as const;

/** What is seen where nothing lies below; an excess is told between its least and that. Tens of decibels, shares. */
const FREE = { least: -3, excess: 4, seen: 1 };
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

/** So likely notes tell how strong partials are in this recording, and so likely ones hide that. */
const CERTAIN = 0.7;
const PERHAPS = 0.3;

type Weighed = Candidate & { share: number };

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
    let expected = Number.NEGATIVE_INFINITY;
    for (const at of [AT.overOctave, AT.over, AT.overWith]) row[at] = FREE.excess;
    for (const at of [AT.frame, AT.onset]) row[at] = FREE.seen;
    sounding(firstOf(on), on, (other, isTogether) => {
      const above = key - other.key;
      const partial = PARTIALS.indexOf(above);
      if (partial >= 0) {
        const which = APART.includes(above) ? APART.indexOf(above) : APART.length;
        raise((isTogether ? AT.with : AT.under) + which, other.share);
        if (isTogether) raise(AT.louder, (other.share * Math.min(30, other.loud - loud)) / 10);
        if (other.share > PERHAPS) {
          const usually = profile.of(partial, other.key);
          const level = under[partial]! + usually.level;
          const excess = Math.max(FREE.least, Math.min(FREE.excess, (own.level - level) / 10));
          if (above === APART[0]) row[AT.overOctave] = Math.min(row[AT.overOctave]!, excess);
          if (isTogether) row[AT.overWith] = Math.min(row[AT.overWith]!, excess);
          if (level > expected) {
            expected = level;
            row[AT.over] = excess;
            row[AT.frame] = own.frame - usually.frame;
            row[AT.onset] = own.onset - (isTogether ? usually.onset : 0);
          }
        }
      }
      if (isTogether && APART.includes(-above)) raise(AT.above, other.share);
      const since = (on - other.on) / perSecond;
      if (above === 0 && since > 0 && other.rings > on + STILL * perSecond) {
        raise(AT.rings, other.share);
        if (since < TWICE) raise(AT.twice, other.share);
      }
      if (Math.abs(above) === 1 && isTogether) raise(AT.beside, other.share);
      if (above !== 0 && isTogether) row[AT.together] = Math.min(4, row[AT.together]! + other.share);
    });
    row[AT.odds] = oddsOf(share);
    row[AT.loud] = (loud - usual(on)) / 10;
    rows.push(row);
    if (index % BETWEEN === BETWEEN - 1) yield;
  }
  return rows;
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
