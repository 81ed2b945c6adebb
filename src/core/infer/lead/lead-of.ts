import { meanOf } from '../../basics/average';
import type { Strike } from '../../model/sketch';

/** How far what a strand strikes sounds ahead of the beat, in seconds (negative: behind). */
export interface Lead {
  seconds: number;
  /** What is held for `from` seconds at least, or lies at key `from` at least, has a lead of its own. */
  other?: { by: 'held' | 'key'; from: number; seconds: number };
}

export const NO_LEAD: Lead = { seconds: 0 };

/** What leads ask of a strike. */
type Told = Pick<Strike, 'held' | 'key'>;

const isOther = ({ other }: Lead, strike: Told): boolean =>
  other !== undefined && strike[other.by] >= other.from;

/** The lead of one strike, in seconds. */
export const leadOf = (lead: Lead, strike: Told): number =>
  isOther(lead, strike) ? lead.other!.seconds : lead.seconds;

export const hasLead = ({ seconds, other }: Lead): boolean => seconds !== 0 || other !== undefined;

/** Two leads nearer than this are one, in seconds. */
const ONE = 0.03;

/** A lead that comes up only now is at least so long, and so many times its own standard error. */
const NOTICED = 0.006;
const CERTAIN = 4;

/**
 * A lead as its residuals correct it. Where none was found, a small one may
 * come up that all attacks agree on.
 *
 * @param residuals seconds by which strikes still sound late
 * @param sigma standard deviation of an attack, in seconds
 */
export function adjustLead(
  lead: Lead,
  residuals: readonly [strike: Strike, late: number][],
  sigma: number,
): Lead {
  const { other } = lead;
  if (!hasLead(lead)) {
    const late = meanOf(residuals.map(([, each]) => each));
    const isSure = Math.abs(late) > Math.max(NOTICED, (CERTAIN * sigma) / Math.sqrt(residuals.length));
    return isSure ? { seconds: -late } : lead;
  }
  if (!other) return { seconds: lead.seconds - meanOf(residuals.map(([, late]) => late)) };
  const lateOf = (others: boolean) =>
    residuals.filter(([strike]) => isOther(lead, strike) === others).map(([, late]) => late);
  const [low, high] = [lateOf(false), lateOf(true)];
  const seconds = lead.seconds - meanOf(low);
  const second = other.seconds - meanOf(high);
  if (Math.abs(second - seconds) >= ONE) return { seconds, other: { ...other, seconds: second } };
  return { seconds: (seconds * low.length + second * high.length) / Math.max(1, low.length + high.length) };
}
