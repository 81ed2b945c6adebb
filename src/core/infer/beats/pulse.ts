import { node } from '../../basics/graph';
import { remembered } from '../../basics/remember';
import { secondsAt, tickAt } from '../../model/clock';
import type { Performance } from '../../model/performance';
import { type FoundBeats, findBars } from './beats';
import { countsOf, informationOf } from './information';
import { onsetsOf } from './onsets';

/**
 * Grids by places a quarter, how many places the beats of another pulse are
 * apart, and the quickest that is one, in seconds: threes of 16ths are long
 * and short already, twos of triplets may be halves of beats.
 */
const PULSES: readonly [places: number, every: number, quickest: number][] = [
  [4, 3, 0.3],
  [3, 2, 0.4],
];
/** An attack within this share of a place is on it; so many must be, and so many attacks there must be. */
const NEAR = 0.15;
const KEPT = 0.9;
const ENOUGH = 64;
/** How much more the other pulse must tell of where attacks are, in bits an attack. */
const TELLS = 0.3;

/**
 * Beats that the music has though the file counts others: attacks keep to the
 * file's 16ths (or triplets), but which of those are struck goes by threes
 * (or twos) and not by quarters, as when a piece was recorded to a click that
 * counted something else. What a pulse tells is the entropy that is missing
 * from the places of attacks within it (Shannon's information of the place).
 *
 * @returns null where the file's quarters tell as much
 */
export const otherPulse = (performance: Performance): FoundBeats | null =>
  remembered(performance, PULSE, { performance });

const PULSE = node('pulse', ({ performance }: { performance: Performance }) => findPulse(performance));

function findPulse(performance: Performance): FoundBeats | null {
  const { clock, end } = performance;
  const onsets = onsetsOf(performance);
  if (onsets.length < ENOUGH) return null;
  const quarters = onsets.map((onset) => tickAt(clock, onset.seconds) / clock.ticksPerQuarter);
  for (const [places, every, quickest] of PULSES) {
    const kept = quarters
      .map((quarter) => quarter * places)
      .filter((at) => Math.abs(at - Math.round(at)) < NEAR)
      .map(Math.round);
    if (kept.length < KEPT * quarters.length) continue;
    if (informationOf(kept, every) < informationOf(kept, places) + TELLS) continue;
    const step = clock.ticksPerQuarter / places;
    const length = (secondsAt(clock, every * step) < quickest ? 2 : 1) * every;
    const first = fullest(kept, length);
    const seconds: number[] = [];
    for (let at = first; at * step <= end; at += length) seconds.push(secondsAt(clock, at * step));
    return { seconds, ...findBars(seconds, onsets) };
  }
  return null;
}

/** The place within a period that is struck most. */
function fullest(places: readonly number[], period: number): number {
  const counts = countsOf(places, period);
  return counts.indexOf(Math.max(...counts));
}
