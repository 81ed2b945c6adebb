import type { Moment } from '../../model/time';
import type { Loudness } from './loudness';

export interface Accent {
  at: Moment;
  /** How loud it is, and what its surroundings would have, on the scale of velocities. */
  heard: [own: number, around: number];
  /** By how many deviations it stands out. */
  margin: number;
}

/** An accent stands out by so much, and by so many deviations of what is usual. */
const LOUDER = 12;
const DEVIATIONS = 3.5;
/** Where more than this share of attacks stands out, it is a pattern and no accent. */
const MOST = 0.12;

/**
 * Attacks that stand out of the dynamics that hold, what the meter makes louder aside.
 *
 * @param explained what dynamics explain of each attack
 * @param spread standard deviation of what they do not
 */
export function findAccents(
  all: readonly Loudness[],
  explained: readonly number[],
  spread: number,
): Accent[] {
  const accents = all.flatMap(({ at, level }, index): Accent[] => {
    const around = explained[index]!;
    const more = level - around;
    const needed = Math.max(LOUDER, DEVIATIONS * spread);
    return more >= needed ? [{ at, heard: [level, around], margin: more / spread }] : [];
  });
  return accents.length <= MOST * all.length ? accents : [];
}
