import type { Meter } from '../../model/clock';
import type { Performance } from '../../model/performance';
import { accentsAt } from './accents';

/** A meter that the music suggests, with the length of its upbeat in eighth notes. */
export interface ProposedMeter {
  meter: Meter;
  upbeatEighths: number;
  /** How much better it explains the accents than the best of the others, in nats; negative for the others. */
  worth: number;
  /** The same against 4/4 without an upbeat. */
  overDefault: number;
}

/** Fewer bars than this prove nothing. */
const ENOUGH_EIGHTHS = 48;
/** Longest piece that is weighed, in eighths; the opening tells the meter. */
const MOST_EIGHTHS = 2000;

/**
 * For each meter the ways to rank the eighths of its bar, 0 the downbeat, the
 * larger the weaker, one for each grouping; and how usual it is (common practice).
 */
const METERS: readonly [meter: Meter, rankings: readonly (readonly number[])[], share: number][] = [
  [{ numerator: 4, denominator: 4 }, [[0, 3, 2, 3, 1, 3, 2, 3]], 0.6],
  [{ numerator: 3, denominator: 4 }, [[0, 2, 1, 2, 1, 2]], 0.2],
  [{ numerator: 2, denominator: 4 }, [[0, 2, 1, 2]], 0.08],
  [{ numerator: 6, denominator: 8 }, [[0, 2, 2, 1, 2, 2]], 0.11],
  [
    { numerator: 5, denominator: 4 },
    [
      [0, 3, 2, 3, 2, 3, 1, 3, 2, 3],
      [0, 3, 2, 3, 1, 3, 2, 3, 2, 3],
    ],
    0.005,
  ],
  [
    { numerator: 7, denominator: 8 },
    [
      [0, 2, 1, 2, 1, 2, 2],
      [0, 2, 1, 2, 2, 1, 2],
      [0, 2, 2, 1, 2, 1, 2],
    ],
    0.005,
  ],
];
/** An upbeat of one beat is usual, any other is rare (nats). */
const ONE_BEAT = 0.7;
const OTHER_UPBEAT = 2.5;

/**
 * Meters and upbeats by how well their strong places meet the accents: what is
 * struck there, how long it is held, whether the bass moves and the harmony
 * changes (the preference rules of Lerdahl and Jackendoff 1983). Each meter
 * and upbeat is a model of mean accents by metrical rank; likelihoods compare
 * them, each charged for its ranks (half of what the Bayesian information
 * criterion charges), for how unusual it is, and for ending on a weak place.
 *
 * @returns the best upbeat of each meter, best meter first; nothing for too little music
 */
export function proposeMeters(performance: Performance): ProposedMeter[] {
  const accents = accentsOf(performance);
  if (accents.length < ENOUGH_EIGHTHS) return [];
  const last = accents.findLastIndex((accent) => accent > 0);
  const proposals = METERS.map(([meter, rankings, share]) => {
    const beat = meter.denominator === 8 ? 1 : 2;
    const costs = rankings[0]!.map((_, upbeat) => {
      const rare = upbeat === 0 ? 0 : upbeat === beat ? ONE_BEAT : OTHER_UPBEAT;
      const each = rankings.map(
        (ranks) => costOf(accents, ranks, upbeat) + endCost(last, ranks, upbeat) + Math.log(rankings.length),
      );
      return Math.min(...each) + rare - Math.log(share);
    });
    const cost = Math.min(...costs);
    return { meter, upbeatEighths: costs.indexOf(cost), cost, plain: costs[0]! };
  });
  const byDefault = proposals[0]!.plain;
  proposals.sort((a, b) => a.cost - b.cost);
  return proposals.map(({ meter, upbeatEighths, cost }, index) => ({
    meter,
    upbeatEighths,
    worth: (index === 0 ? proposals[1]! : proposals[0]!).cost - cost,
    overDefault: byDefault - cost,
  }));
}

/** The last attack is most often on a downbeat, else on half a bar (common practice: pieces end on strong places). */
const END_SHARES = [0.65, 0.25];

/** Minus the log of how likely a piece ends on such a place, against any place alike. */
function endCost(last: number, ranks: readonly number[], upbeat: number): number {
  const rank = rankAt(ranks, last, upbeat);
  const strong = ranks.filter((each) => each <= 1).length;
  const share =
    rank <= 1
      ? END_SHARES[rank]! / ranks.filter((each) => each === rank).length
      : (1 - END_SHARES[0]! - END_SHARES[1]!) / (ranks.length - strong);
  return -Math.log(share * ranks.length);
}

const rankAt = (ranks: readonly number[], at: number, upbeat: number): number =>
  ranks[(at - upbeat + 8 * ranks.length) % ranks.length]!;

/** What speaks for a strong place on each eighth of the piece. */
function accentsOf({ strands, clock }: Performance): number[] {
  const eighth = clock.ticksPerQuarter / 2;
  const last = Math.max(0, ...strands.map((strand) => strand.notes.at(-1)?.on ?? 0));
  const size = Math.min(MOST_EIGHTHS, Math.ceil(last / eighth) + 1);
  const places = Array.from({ length: size }, (_, at) => at * eighth);
  return accentsAt(strands, places, eighth);
}

/** Minus the log-likelihood of one meter and upbeat, charged for its ranks, in nats. */
function costOf(accents: readonly number[], ranks: readonly number[], upbeat: number): number {
  const levels = Math.max(...ranks) + 1;
  const sums = new Float64Array(levels);
  const counts = new Float64Array(levels);
  accents.forEach((accent, at) => {
    sums[rankAt(ranks, at, upbeat)]! += accent;
    counts[rankAt(ranks, at, upbeat)]! += 1;
  });
  const means = sums.map((sum, level) => sum / Math.max(1, counts[level]!));
  // A stronger place is struck no weaker than the next: else this is no meter.
  for (let level = levels - 2; level >= 0; level--) means[level] = Math.max(means[level]!, means[level + 1]!);
  let squares = 1e-9;
  accents.forEach((accent, at) => {
    squares += (accent - means[rankAt(ranks, at, upbeat)]!) ** 2;
  });
  const count = accents.length;
  return (count / 2) * Math.log(squares / count) + (levels / 4) * Math.log(count);
}
