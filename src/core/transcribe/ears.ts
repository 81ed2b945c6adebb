import { gathered } from '../infer/attacks/attacks';
import type { Tidiness } from '../infer/attacks/tidiness';
import type { Struck } from '../infer/lead/lead';
import { hasLead, type Lead, leadOf } from '../infer/lead/lead-of';
import type { Played } from '../infer/rhythm/fit-span';
import type { Frame } from '../model/frame';
import type { Strike } from '../model/sketch';
import { type Hearing, soundingAt, spreadOf } from './hear';

/**
 * What the ensemble hears of a part: when it strikes and for how long, in columns, and of pitch only what leads ask
 * for. So a changed pitch or loudness leaves what is found for all parts as it is.
 */
export interface Ears {
  /** For each strand what is struck when, ascending: in ticks and seconds. */
  strikes: { ticks: Float64Array; held: Float64Array; keys: Uint8Array }[];
  /** All notes: in ticks, and the strand (index among those of the part) and strike of each. */
  notes: { on: Float64Array; off: Float64Array; strand: Uint16Array; held: Float64Array; keys: Uint8Array };
  tidiness: Tidiness;
  unpitched: boolean;
  /** Its strands are the hands of one player. */
  isOnePlayer: boolean;
}

/**
 * Leads may divide high from low at the middle key of a strand, and nowhere else: keys from there on count as that key,
 * those below as none. No lead is looked for where all was written, or of drums.
 */
function keysFor({ strikes, tidiness, unpitched }: Hearing): (strike: Strike) => number {
  if (tidiness.attacks || unpitched) return () => 0;
  const middles = strikes.map((own) => own.map(({ key }) => key).sort((a, b) => a - b)[own.length >> 1] ?? 0);
  return ({ strand, key }) => (key >= middles[strand]! ? middles[strand]! : 0);
}

export function earsOf(hearing: Hearing): Ears {
  const keyOf = keysFor(hearing);
  const notes = hearing.bodies.flat();
  return {
    strikes: hearing.strikes.map((own) => ({
      ticks: Float64Array.from(own, ({ tick }) => tick),
      held: Float64Array.from(own, ({ held }) => held),
      keys: Uint8Array.from(own, keyOf),
    })),
    notes: {
      on: Float64Array.from(notes, ({ on }) => on),
      off: Float64Array.from(notes, ({ off }) => off),
      strand: Uint16Array.from(notes, ({ strike }) => strike.strand),
      held: Float64Array.from(notes, ({ strike }) => strike.held),
      keys: Uint8Array.from(notes, ({ strike }) => keyOf(strike)),
    },
    tidiness: hearing.tidiness,
    unpitched: hearing.unpitched,
    isOnePlayer: hearing.staves === 2,
  };
}

/** A part as the search for leads knows it. */
export const struckIn = ({ strikes, tidiness, unpitched, isOnePlayer }: Ears): Struck => ({
  strikes: strikes.map(({ ticks, held, keys }, strand) =>
    Array.from(ticks, (tick, at) => ({ strand, tick, held: held[at]!, key: keys[at]! })),
  ),
  tidiness,
  unpitched,
  isOnePlayer,
});

/** The attacks of a part before anything is fitted, for those who ask about swing. */
export function playedAttacks(
  { notes: { on, off, strand, held, keys }, tidiness }: Ears,
  leads: readonly Lead[],
  frame: Frame,
): Played[] {
  const spread = spreadOf(tidiness, frame);
  const notes = Array.from(on, (tick, at) => {
    const lead = leads[strand[at]!]!;
    const seconds = hasLead(lead) ? leadOf(lead, { held: held[at]!, key: keys[at]! }) : 0;
    return { at: soundingAt(tick, seconds, frame), on: tick, off: off[at]!, key: 0 };
  });
  return gathered(notes, frame, tidiness.attacks).map((group) => {
    const { at, on: tick } = group[(group.length - 1) >> 1]!;
    return {
      at,
      spread: spread(tick),
      grace: Number.POSITIVE_INFINITY,
      hurried: 0,
      collision: 0.7,
    };
  });
}
