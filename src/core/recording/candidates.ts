import type { Steps } from '../basics/steps';
import { PICTURE_BINS, PICTURE_ROW, type PitchPicture, STEP } from './constant-q';
import { oddsOf, type Rule } from './heard';
import type { Hearing } from './hearing';
import { LOWEST_KEY, MODEL_KEYS } from './model-form';

/** What may be a note, and what is seen of it by which it is weighed. */
export interface Candidate {
  /** Moments of the hearing, with fractions: where it begins, where it is let go, and until when it can be heard. */
  on: number;
  off: number;
  rings: number;
  /** MIDI key. */
  key: number;
  /** Decibels of its key about its beginning, against the loudest of all. */
  loud: number;
  /** Cents from its key while it sounds. */
  cents: number;
  /** In the order of FEATURES. */
  seen: number[];
  /** What its key is at its beginning. */
  own: Strength;
  /** What the keys of its partials are then, in the order of PARTIALS; decibels against its own. */
  over: Strength[];
  /** Decibels of the keys of which it would be a partial, in that order. */
  under: number[];
}

/** How strong a key is: decibels, and what the model says of its sounding and of its beginning, 0–1. */
export interface Strength {
  level: number;
  frame: number;
  onset: number;
}

/** What speaks for or against a candidate, and in which rule's name. */
export const FEATURES: readonly (Rule | 'strength')[] = [
  ...Array<'strength'>(9).fill('strength'),
  ...Array<'faint'>(3).fill('faint'),
  ...Array<'ghosts'>(22).fill('ghosts'),
  ...Array<'ringing'>(11).fill('ringing'),
  ...Array<'neighbours'>(3).fill('neighbours'),
];

/** Less of a beginning is none. */
const LEAST_ONSET = 0.2;
/** A key that sounds less than this after it begins is none. */
const LEAST_FRAME = 0.1;
/** Two beginnings of a key are so many moments apart. */
const APART = 4;
/** A key sounds while its share is this much, and has ended after so many moments without. */
const SOUNDING = 0.18;
const GAP = 8;
/** It is held while its share is this much of what it was at first: less is what rings after it was let go. */
const HELD = 0.3;
/** It is let go where it falls by so many decibels within so many moments, and was let go so many before that is seen. */
const FALL = { decibels: 8, within: 8, seen: 2 };
/** Moments after a beginning in which it is looked at, and before. */
const AFTER = 9;
const BEFORE = 6;
/** Moments about a beginning in which others begin with it. */
const WITH = 3;
/** Semitones from a key to those above it that sound along as its partials 2 to 8. */
export const PARTIALS: readonly number[] = [12, 19, 24, 28, 31, 34, 36];
const NOTHING = -96;
/** An onset of another key that counts among those that begin together. */
const MANY_ONSET = 0.4;
/** Moments after which a key's last beginning says nothing. */
const LONG_AGO = 180;

type Look = (at: number, key: number) => number;

const within = (value: number, least: number, most: number) => Math.min(most, Math.max(least, value));

function mean(of: Look, key: number, from: number, to: number): number {
  let sum = 0;
  for (let at = from; at < to; at++) sum += of(at, key);
  return sum / (to - from);
}

function most(of: Look, key: number, from: number, to: number): number {
  let top = Number.NEGATIVE_INFINITY;
  for (let at = from; at < to; at++) top = Math.max(top, of(at, key));
  return top;
}

/** All that may be a note: wherever a key may begin, with what is seen of it about there. */
export function* candidatesOf(hearing: Hearing, picture: PitchPicture): Steps<Candidate[]> {
  const { count } = hearing;
  const isThere: (at: number, key: number) => boolean = (at, key) =>
    at >= 0 && at < count && key >= 0 && key < MODEL_KEYS;
  const looks: Looks = {
    onset: (at, key) => (isThere(at, key) ? hearing.onsets[at * MODEL_KEYS + key]! : 0),
    frame: (at, key) => (isThere(at, key) ? hearing.frames[at * MODEL_KEYS + key]! : 0),
    decibels: (at, key) => {
      if (!isThere(at, key)) return NOTHING;
      const row = at * PICTURE_ROW + key * PICTURE_BINS;
      let top = 0;
      for (let bin = 0; bin < PICTURE_BINS; bin++) top = Math.max(top, picture.values[row + bin]!);
      return (top - 255) * STEP;
    },
  };
  const found: Candidate[] = [];
  for (let key = 0; key < MODEL_KEYS; key++) {
    for (let at = 0; at < count; at++) {
      if (!begins(looks.onset, at, key) || mean(looks.frame, key, at, at + AFTER) < LEAST_FRAME) continue;
      const first = most(looks.frame, key, at, at + AFTER);
      const gone = endOf(looks.frame, at, key, count, Math.max(LEAST_FRAME, HELD * first));
      const off = fallOf(looks.decibels, at, key, gone);
      const rings = endOf(looks.frame, at, key, count, SOUNDING);
      const strength = strengthsAbout(looks, at, key);
      found.push({
        on: at + summit(looks.onset(at - 1, key), looks.onset(at, key), looks.onset(at + 1, key)),
        off,
        rings,
        key: key + LOWEST_KEY,
        loud: most(looks.decibels, key, at, at + AFTER),
        cents: mean(
          (moment) => (isThere(moment, key) ? hearing.cents[moment * MODEL_KEYS + key]! : 0),
          key,
          at,
          Math.min(rings, at + 4 * AFTER),
        ),
        seen: seenOf(looks, strength, at, key, rings),
        ...partialsOf(strength),
      });
    }
    yield;
  }
  return found.sort((a, b) => a.on - b.on || a.key - b.key);
}

interface Looks {
  onset: Look;
  frame: Look;
  decibels: Look;
}

function begins(onset: Look, at: number, key: number): boolean {
  const value = onset(at, key);
  if (value < LEAST_ONSET) return false;
  for (let by = 1; by <= APART; by++)
    if (onset(at - by, key) >= value || onset(at + by, key) > value) return false;
  return true;
}

/** Where between its neighbours the top of a curve lies, by a parabola; −0.5 to 0.5. */
function summit(before: number, top: number, after: number): number {
  const bend = before - 2 * top + after;
  return bend < 0 ? within((before - after) / (2 * bend), -0.5, 0.5) : 0;
}

/** Where a key's share stays below some least. */
function endOf(frame: Look, at: number, key: number, count: number, least: number): number {
  let off = at + 1;
  for (let next = at + 1, silent = 0; next < count && silent < GAP; next++) {
    silent++;
    if (frame(next, key) < least) continue;
    off = next + 1;
    silent = 0;
  }
  return off;
}

/** Where a key that sounds is let go: what fades by itself falls slowly. */
function fallOf(decibels: Look, at: number, key: number, gone: number): number {
  for (let fell = at + AFTER; fell < gone; fell++)
    if (decibels(fell, key) - decibels(fell + FALL.within, key) > FALL.decibels)
      return Math.min(gone, fell + FALL.seen);
  return gone;
}

/** How strong a key is about a beginning, and those so many semitones from it: each is looked at once. */
function strengthsAbout(
  { onset, frame, decibels }: Looks,
  at: number,
  key: number,
): (by: number) => Strength {
  const known = new Map<number, Strength>();
  return (by) => {
    const made = known.get(by) ?? {
      level: Math.max(-80, most(decibels, key + by, at + 1, at + 7)),
      frame: mean(frame, key + by, at, at + AFTER),
      onset: most(onset, key + by, at - WITH, at + WITH + 1),
    };
    known.set(by, made);
    return made;
  };
}

function partialsOf(strength: (by: number) => Strength) {
  const own = strength(0);
  const over = PARTIALS.map((by) => {
    const partial = strength(by);
    return { ...partial, level: partial.level - own.level };
  });
  return { own, over, under: PARTIALS.map((by) => strength(-by).level) };
}

function seenOf(
  { onset, frame, decibels }: Looks,
  strength: (by: number) => Strength,
  at: number,
  key: number,
  rings: number,
): number[] {
  const own = strength(0).frame;
  const loud = most(decibels, key, at, at + AFTER);
  const level = (by: number) => strength(by).level;
  let loudest = NOTHING;
  for (let other = 0; other < MODEL_KEYS; other++) loudest = Math.max(loudest, decibels(at + 3, other));

  let [below, belowNew, belowLoud, above, aboveNew] = [0, 0, NOTHING, 0, 0];
  for (const by of PARTIALS) {
    const sounds = strength(-by).frame;
    if (sounds > below) {
      below = sounds;
      belowLoud = most(decibels, key - by, at, at + AFTER);
    }
    belowNew = Math.max(belowNew, strength(-by).onset);
  }
  for (const by of PARTIALS.slice(0, 3)) {
    above = Math.max(above, strength(by).frame);
    aboveNew = Math.max(aboveNew, strength(by).onset);
  }
  // Were it a partial of the octave below, the odd ones of that would be as strong; likewise for a twelfth, and two octaves.
  const odd = (level(0) + level(12)) / 2 - (level(7) + level(16) + level(-12)) / 3;
  const third = level(0) - (level(-7) + level(5)) / 2;
  const fourth = level(0) - Math.max(level(-5), level(4));

  const before = mean(frame, key, at - BEFORE, at - 1);
  const swelled = within(loud - mean(decibels, key, at - BEFORE - 2, at - 2), -5, 30) / 10;
  const rise = (by: number) => {
    let least = 0;
    for (let back = 0; back <= BEFORE; back++) least = Math.min(least, decibels(at - back, key + by));
    return within(most(decibels, key + by, at, at + BEFORE) - Math.max(-80, least), 0, 30) / 10;
  };
  const ownRise = rise(0);
  const rises = (rise(12) + rise(19) + rise(24) + rise(31)) / 4;

  const besideNew = Math.max(strength(-1).onset, strength(1).onset);
  const besideLoud = Math.max(
    most(decibels, key - 1, at, at + AFTER),
    most(decibels, key + 1, at, at + AFTER),
  );
  let since = LONG_AGO;
  for (let back = APART; back < LONG_AGO && since === LONG_AGO; back++)
    if (onset(at - back, key) > LEAST_ONSET) since = back;
  const against = (by: number) => within(level(by) - level(0), -40, 40) / 10;
  let together = 0;
  for (let other = 0; other < MODEL_KEYS; other++)
    if (most(onset, other, at - 1, at + 2) > MANY_ONSET) together++;
  return [
    // strength
    oddsOf(onset(at, key)),
    oddsOf(own),
    oddsOf(most(frame, key, at, at + AFTER)),
    (key + LOWEST_KEY - 60) / 12,
    ((level(12) + level(19) + level(24)) / 3 - level(0)) / 10,
    onset(at, key) - (onset(at - 3, key) + onset(at + 3, key)) / 2,
    mean(onset, key, at - 2, at + 3),
    mean(frame, key, at + AFTER, at + 2 * AFTER),
    Math.min(8, together),
    // faint
    Math.log((rings - at) / 10),
    Math.max(-60, loud) / 10,
    Math.max(-60, loud - loudest) / 10,
    // ghosts
    below,
    belowNew,
    within(belowLoud - loud, -20, 40) / 10,
    below * own,
    above,
    aboveNew,
    odd / 10,
    third / 10,
    fourth / 10,
    (below * odd) / 10,
    against(-12),
    against(-19),
    against(-24),
    against(-28),
    against(12),
    against(19),
    strength(-12).frame,
    strength(-12).onset,
    strength(-19).frame,
    strength(-19).onset,
    strength(12).frame,
    strength(12).onset,
    // ringing
    before,
    swelled,
    before * swelled,
    ownRise,
    rises,
    before * ownRise,
    before * rises,
    frame(at - 1, key),
    mean(frame, key, at - 4 * BEFORE, at - BEFORE),
    within(loud - most(decibels, key, at - 10 * BEFORE, at - BEFORE), -30, 30) / 10,
    Math.log(since / 10),
    // neighbours
    besideNew,
    within(besideLoud - loud, -20, 20) / 10,
    Math.max(strength(-1).frame, strength(1).frame),
  ];
}
