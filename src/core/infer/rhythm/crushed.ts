import type { Attack } from '../../model/sketch';
import type { Moment, Span } from '../../model/time';

/**
 * A note crushed into the next: so near before it, in seconds, released within so much of that, no farther than so
 * many semitones; and what comes before and after is at least so many times as far (common practice).
 */
const AHEAD = 0.075;
const HELD = 1.3;
const WIDTH = 4;
const APART = 2.5;
/** What comes this near before its note is crushed even where it stands on the fine grid: nobody counts it, in seconds. */
export const UNCOUNTED = 0.055;

/** Where an attack sounds, lead taken out. */
export const soundingOf = ({ at, literal }: Attack): Moment => literal ?? at;

/**
 * How long before an attack the note sounds that is crushed into it; undefined where none is.
 * On drums, whose releases mean nothing, it is a stroke on the same piece: a flam (common practice).
 *
 * @param index of the attack among all of its body
 */
export function crushAhead(
  attacks: readonly Attack[],
  index: number,
  secondsPerUnit: number,
  drums: boolean,
): Span | undefined {
  const [earlier, before, attack, next] = [-2, -1, 0, 1].map((by) => attacks[index + by]);
  const [crushed] = before?.notes ?? [];
  if (!before || !attack || !crushed || before.notes.length > 1) return undefined;
  const at = soundingOf(before);
  const ahead = soundingOf(attack) - at;
  const isAlone =
    (!earlier || at - soundingOf(earlier) >= APART * ahead) &&
    (!next || soundingOf(next) - soundingOf(attack) >= APART * ahead);
  if (ahead <= 0 || !isAlone) return undefined;
  if (drums) {
    const isFlam = ahead * secondsPerUnit <= UNCOUNTED && attack.notes.some(({ key }) => key === crushed.key);
    return isFlam ? ahead : undefined;
  }
  const isCrushed =
    ahead * secondsPerUnit <= AHEAD &&
    crushed.until - crushed.at <= HELD * ahead &&
    attack.notes.every(
      ({ key, at: on, until }) => key !== crushed.key && until - on > crushed.until - crushed.at,
    ) &&
    attack.notes.some(({ key }) => Math.abs(key - crushed.key) <= WIDTH);
  return isCrushed ? ahead : undefined;
}
