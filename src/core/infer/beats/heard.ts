import { node } from '../../basics/graph';
import { remembered } from '../../basics/remember';
import { lastAtOrBefore } from '../../basics/search';
import { type BeatsChoice, type HeardBeats, MOST_BEATS } from '../../decisions/kinds/beats';
import { hundredths, secondsAt, tickAt } from '../../model/clock';
import { PERCUSSION_CHANNEL, type Performance } from '../../model/performance';
import { type FoundBeats, findBeats, isGridUnusable, keptTo } from './beats';
import { onsetsOf } from './onsets';
import { otherPulse } from './pulse';
import type { Backbeat } from './recount';

/** So well must attacks keep to beats that are gone by though nobody chose them (see `keptTo`). */
const KEPT = 0.5;

/** Beats that were found, as they are decided: ticks of the source. */
const asChoice = ({ clock }: Performance, { seconds, perBar, first }: FoundBeats): BeatsChoice => ({
  ticks: [...new Set(seconds.map((second) => hundredths(tickAt(clock, second))))],
  perBar,
  first,
});

const KICKS = new Set([35, 36]);
const SNARES = new Set([38, 40]);

/** The kicks and snares of the kits on the percussion channel (General MIDI, percussion keys). */
function backbeatOf({ clock, strands }: Performance): Backbeat {
  const kits = strands.filter(({ channel }) => channel === PERCUSSION_CHANNEL);
  const struck = (keys: ReadonlySet<number>) =>
    [...new Set(kits.flatMap(({ notes }) => notes.flatMap(({ key, on }) => (keys.has(key) ? [on] : []))))]
      .sort((a, b) => a - b)
      .map((tick) => secondsAt(clock, tick));
  return { kicks: struck(KICKS), snares: struck(SNARES) };
}

/** Beats that can be heard in the music, whatever the file's are; null where none can. */
export function audibleBeats(performance: Performance): BeatsChoice | null {
  const found = findBeats(onsetsOf(performance), backbeatOf(performance));
  return found && asChoice(performance, found);
}

/**
 * The beats that a piece goes by where those of its file say nothing of it, as
 * when it was played without a click or laid out under a tempo that is not its
 * own, or where it goes across them; null where the file's serve, or no others
 * are kept to well.
 */
export const heardBeats = (performance: Performance): HeardBeats | null =>
  remembered(performance, HEARD_BEATS, { performance });

const HEARD_BEATS = node(
  'heard beats',
  ({ performance }: { performance: Performance }): HeardBeats | null => {
    if (isGridUnusable(performance)) {
      const heard = audibleBeats(performance);
      return heard && (keptToBeats(performance, heard) ?? 0) >= KEPT ? { ...heard, heard: 'loose' } : null;
    }
    const pulse = otherPulse(performance);
    return pulse && pulse.seconds.length <= MOST_BEATS
      ? { ...asChoice(performance, pulse), heard: 'across' }
      : null;
  },
);

/** The beats of a recording, which has none of its own: those that are heard; null where none can be. */
export const recordedBeats = (performance: Performance): HeardBeats | null =>
  remembered(performance, RECORDED_BEATS, { performance });

const RECORDED_BEATS = node(
  'recorded beats',
  ({ performance }: { performance: Performance }): HeardBeats | null => {
    const heard = audibleBeats(performance);
    return heard && { ...heard, heard: 'recorded' };
  },
);

function keptToBeats({ strands }: Performance, { ticks }: BeatsChoice): number | null {
  const placeOf = (tick: number): number => {
    const at = Math.min(
      lastAtOrBefore(ticks, tick, (beat) => beat),
      ticks.length - 2,
    );
    return at + (tick - ticks[at]!) / (ticks[at + 1]! - ticks[at]!);
  };
  return keptTo(strands.map(({ notes }) => notes.map(({ on }) => placeOf(on))));
}

/** How long beats are, in seconds, and whether all are of one length. */
export function paceOf({ clock }: Performance, { ticks }: BeatsChoice): { beat: number; isSteady: boolean } {
  const seconds = ticks.map((tick) => secondsAt(clock, tick));
  const steps = seconds.slice(1).map((second, at) => second - seconds[at]!);
  return {
    beat: (seconds.at(-1)! - seconds[0]!) / steps.length,
    isSteady: steps.every((step) => Math.abs(step - steps[0]!) < EVEN),
  };
}

/** Beats this near to each other's length are even, in seconds; ticks of a coarse division round them by as much. */
const EVEN = 0.001;
