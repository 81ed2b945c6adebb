import { seeded } from '../../src/core/basics/random';
import { type Moment, QUARTER } from '../../src/core/model/time';
import {
  fileOf,
  graceDistance,
  hash,
  type Performed,
  type PlayedTrack,
  struckOnce,
  TICKS,
  upbeatOf,
  withoutClashes,
} from './perform';
import type { TrueNote, Work } from './works';

/**
 * Players that differ, each as loose as one or twice as loose:
 * a *sequencer*, to the tick, one gate for all of a part (80–100 % of the value);
 * a *pianist*, hands apart by up to 25 ms, the tune ahead of the rest by 10–30 ms, attacks 10 ms,
 * phrases legato (to 110 %) or in staccato (30–60 %), the last note of a phrase let go early;
 * an *ensemble*, everybody with a drift that all share (20 ms over some bars) and an own place
 * (10 ms), attacks 12 ms, releases at 75–100 %;
 * a *programmer*, to the grid but for a groove (each sixteenth of the bar up to 8 ms away), each part
 * with a gate for short and one for long notes (25–100 %).
 */
export const PLAYERS = ['sequencer', 'pianist', 'ensemble', 'programmer'] as const;
export type PlayerName = (typeof PLAYERS)[number];

/** Hands do not strike faster than this, in seconds, but once in so many attacks: the tempo is slowed until they need not. */
const FASTEST = 0.1;
const ONCE_IN = 50;

/** A work no faster than hands can play it. */
export function playable(work: Work): Work {
  const gaps = work.parts.flatMap(({ notes }) => {
    const starts = [...new Set(notes.filter(({ grace }) => !grace).map(({ start }) => start))].sort(
      (a, b) => a - b,
    );
    return starts.slice(1).map((start, at) => (start - starts[at]!) / QUARTER);
  });
  const quarters = gaps.sort((a, b) => a - b)[Math.floor(gaps.length / ONCE_IN)];
  if (quarters === undefined) return work;
  return { ...work, quartersPerMinute: Math.min(work.quartersPerMinute, (60 * quarters) / FASTEST) };
}

interface Hand {
  /** Seconds by which a note of the part is away from its place. */
  away: (note: TrueNote) => number;
  /** What share of its value a note is held. */
  held: (note: TrueNote) => number;
}

/** Performs a work. @param looseness 0 for none, 1 as described, 2 for twice as much */
export function play(given: Work, player: PlayerName, looseness: number, seed: number): Performed {
  const work = playable(given);
  const random = seeded(seed * 7919 + PLAYERS.indexOf(player) * 104_729 + hash(work.name));
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const between = (low: number, high: number) => low + (high - low) * random();
  const ticksPerSecond = (TICKS * work.quartersPerMinute) / 60;
  const groove = Array.from({ length: 16 }, () => 0.008 * looseness * (2 * random() - 1));
  const [slow, begun] = [between(6, 14), between(0, 2 * Math.PI)];
  const drift = (at: Moment) => 0.02 * looseness * Math.sin((2 * Math.PI * at) / QUARTER / slow + begun);
  const tracks: PlayedTrack[] = [];
  work.parts.forEach((part, index) => {
    const hands = Array.from({ length: part.staves }, (_, staff) =>
      struckOnce(part.notes.filter((note) => note.staff === staff + 1)),
    ).filter((notes) => notes.length > 0);
    for (const group of hands) {
      const hand = handOf(group);
      const played = group.map((truth) => {
        const from = (truth.start / QUARTER) * TICKS + hand.away(truth) * ticksPerSecond;
        if (truth.grace) {
          const on = Math.max(0, Math.round(from - graceDistance(truth, group) * 0.07 * ticksPerSecond));
          return { on, off: on + Math.max(1, Math.round(0.06 * ticksPerSecond)), truth };
        }
        const length = ((truth.end - truth.start) / QUARTER) * TICKS;
        const on = Math.max(0, Math.round(from));
        return { on, off: Math.max(on + 1, Math.round(on + length * hand.held(truth))), truth };
      });
      tracks.push({ part: index, ahead: 0, heardAhead: 0, notes: withoutClashes(played) });
    }
  });
  return { bytes: fileOf(work, tracks), tracks, swing: 0.5, upbeatQuarters: upbeatOf(work) };

  function handOf(group: readonly TrueNote[]): Hand {
    const attacks = new Map<Moment, number>();
    /** What all notes of an attack share. */
    const attack = ({ start }: TrueNote, make: () => number): number => {
      const known = attacks.get(start) ?? make();
      attacks.set(start, known);
      return known;
    };
    switch (player) {
      case 'sequencer': {
        const gate = between(0.8, 1);
        return { away: () => 0, held: () => gate };
      }
      case 'pianist': {
        const apart = 0.025 * looseness * (2 * random() - 1);
        const tune = between(0.01, 0.03) * looseness;
        const tops = topsOf(group);
        const touches = touchesOf(group, random);
        return {
          away: (note) =>
            apart - (tops.has(note) ? tune : 0) + attack(note, () => 0.01 * looseness * normal()),
          held: (note) => touches(note),
        };
      }
      case 'ensemble': {
        const place = 0.01 * looseness * normal();
        return {
          away: (note) => drift(note.start) + place + attack(note, () => 0.012 * looseness * normal()),
          held: () => between(0.75, 1),
        };
      }
      case 'programmer': {
        const [short, long] = [between(0.25, 1), between(0.5, 1)];
        return {
          away: ({ start }) => groove[Math.round((4 * start) / QUARTER) % 16]!,
          held: ({ start, end }) => (end - start < QUARTER ? short : long),
        };
      }
    }
  }
}

/** The highest notes of the attacks of a hand that have several. */
function topsOf(group: readonly TrueNote[]): Set<TrueNote> {
  const tops = new Map<Moment, TrueNote>();
  const counts = new Map<Moment, number>();
  for (const note of group) {
    counts.set(note.start, (counts.get(note.start) ?? 0) + 1);
    if ((tops.get(note.start)?.key ?? -1) < note.key) tops.set(note.start, note);
  }
  return new Set([...tops.values()].filter(({ start }) => counts.get(start)! > 1));
}

/** Phrases end after a long note or so many notes, and are played in one touch each. */
const PHRASE = 14;

function touchesOf(group: readonly TrueNote[], random: () => number): (note: TrueNote) => number {
  const shares = new Map<Moment, number>();
  const starts = [...new Set(group.map(({ start }) => start))].sort((a, b) => a - b);
  let isShort = false;
  let left = 0;
  starts.forEach((start, at) => {
    if (left === 0) {
      left = 4 + Math.floor(PHRASE * random());
      isShort = random() < 0.25;
    }
    left--;
    const isLast = left === 0 || at === starts.length - 1;
    const share = isShort ? 0.3 + 0.3 * random() : isLast ? 0.6 + 0.3 * random() : 0.9 + 0.2 * random();
    shares.set(start, share);
  });
  return ({ start }) => shares.get(start) ?? 1;
}
