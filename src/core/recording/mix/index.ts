import type { Steps } from '../../basics/steps';
import type { PitchPicture } from '../constant-q';
import { type MaybeNote, oddsOf } from '../heard';
import type { Hearing } from '../hearing';
import { onsetsOf } from '../onsets';
import type { Sound } from '../sound';
import { type Beats, beatsIn } from './beats';
import { type BarCount, barsOf, type MixKind, soundsOf } from './chords';
import { BASS, type LineNote, lineThrough, TUNE } from './lines';

/** A chord of a mix. Seconds; the root as a pitch class from C. */
export interface MixChord {
  on: number;
  off: number;
  root: number;
  kind: MixKind;
  /** 0–1. */
  confidence: number;
}

/** What is heard of a band as a whole: its beats and bars, its chords, its tune and its bass. Nothing is rounded. */
export interface Mix extends BarCount {
  /** Seconds, ascending. */
  beats: number[];
  chords: MixChord[];
  /** In order of beginning. */
  tune: MaybeNote[];
  bass: MaybeNote[];
}

/** How much the agreement of attacks counts against that of chords, which is told by the second. */
const BY_ATTACKS = 0.3;
/** Decibels from the loudest to what is hardly heard: velocities go along with them (common practice). */
const RANGE = 50;

/**
 * Hears a band: its beats are those with which what begins and what changes agree best, its bars those at whose lines
 * its chords change; its tune and its bass are followed through all that sounds.
 */
export function* hearMix(sound: Sound, hearing: Hearing, picture: PitchPicture): Steps<Mix> {
  const onsets = yield* onsetsOf(sound);
  let best: { beats: Beats; ends: number[]; bars: ReturnType<typeof barsOf>; worth: number } | null = null;
  for (const beats of beatsIn(onsets, hearing)) {
    const ends = [...beats.seconds, beats.seconds.at(-1)! + beats.period];
    const bars = barsOf(soundsOf(hearing, ends));
    const worth = bars.likelihood / (ends.at(-1)! - ends[0]!) + BY_ATTACKS * beats.worth;
    if (!best || worth > best.worth) best = { beats, ends, bars, worth };
    yield;
  }
  const tune = lineThrough(hearing, picture, TUNE).map(maybe);
  yield;
  const bass = lineThrough(hearing, picture, BASS).map(maybe);
  if (!best) return { beats: [], perBar: 4, first: 0, chords: [], tune, bass };
  const { beats, ends, bars } = best;
  const chords = bars.chords.map(({ from, to, root, kind, confidence }) => ({
    on: ends[from]!,
    off: ends[to]!,
    root,
    kind,
    confidence,
  }));
  return { beats: beats.seconds, perBar: bars.perBar, first: bars.first, chords, tune, bass };
}

/** A note of a line: all are taken as long as nothing is decided, half of a confidence of none being still enough. */
const maybe = ({ on, off, key, confidence, loud }: LineNote): MaybeNote => ({
  on,
  off,
  key,
  velocity: Math.round(Math.min(120, Math.max(20, 110 + (90 * loud) / RANGE))),
  cents: 0,
  says: oddsOf(0.5 + confidence / 2),
});
