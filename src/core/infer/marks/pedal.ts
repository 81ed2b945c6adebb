import { lastAtOrBefore } from '../../basics/search';
import { type Moment, QUARTER } from '../../model/time';

/** A sustain pedal as it was moved: down from 64 on (MIDI 1.0, controller 64). Moments and seconds. */
export interface PedalMove {
  at: Moment;
  seconds: number;
  down: boolean;
}

/** From where to where the pedal is written, and for how long it was held, in seconds. */
export interface PedalSpan {
  from: Moment;
  to: Moment;
  held: number;
}

/** The foot follows the hand: it comes down so much after its attack, and goes up so near to another one. */
const FOLLOWS = QUARTER;
const NEAR = QUARTER / 2;
/** Up for less than this, in seconds, it is changed and not let go (common practice). */
const CHANGED = 0.35;
/** What no attack tells stands on eighths. */
const GRID = QUARTER / 2;

/**
 * Where a pedal is written: from the attack that it catches to the attack that
 * it is lifted for; a change in between ends one stretch and begins the next (common practice
 * of pianists: the pedal comes down after the attack, and up with the next).
 *
 * @param attacks moments of the part, ascending
 * @param end of the piece
 */
export function pedalSpans(
  moves: readonly PedalMove[],
  attacks: readonly Moment[],
  end: Moment,
): PedalSpan[] {
  const spans: PedalSpan[] = [];
  let open: PedalMove | null = null;
  let lifted: { seconds: number; to: Moment } | null = null;
  const close = (seconds: number, to: Moment) => {
    if (!open) return;
    const isChange = lifted !== null && open.seconds - lifted.seconds < CHANGED;
    const from = isChange ? lifted!.to : caught(open.at, attacks);
    const last = Math.min(end, to);
    if (last > from) {
      spans.push({ from, to: last, held: seconds - open.seconds });
      lifted = { seconds, to: last };
    }
    open = null;
  };
  for (const move of moves) {
    if (move.down) open ??= move;
    else close(move.seconds, liftedFor(move.at, attacks));
  }
  const last = moves.at(-1);
  if (open && last) close(last.seconds, end);
  return spans;
}

/** The attack whose sound a pedal catches that comes down at a moment. */
function caught(at: Moment, attacks: readonly Moment[]): Moment {
  const before = attacks[lastAtOrBefore(attacks, at, (each) => each)];
  if (before !== undefined && at - before <= FOLLOWS) return before;
  const after = attacks[lastAtOrBefore(attacks, at, (each) => each) + 1];
  if (after !== undefined && after - at <= NEAR) return after;
  return Math.round(at / GRID) * GRID;
}

/** Where a pedal is up for what comes next. */
function liftedFor(at: Moment, attacks: readonly Moment[]): Moment {
  const index = lastAtOrBefore(attacks, at, (each) => each);
  const near = [attacks[index], attacks[index + 1]].filter(
    (each): each is Moment => each !== undefined && Math.abs(each - at) <= NEAR,
  );
  if (near.length === 0) return Math.round(at / GRID) * GRID;
  return near.reduce((best, each) => (Math.abs(each - at) < Math.abs(best - at) ? each : best));
}
