import { medianOf } from '../../basics/average';
import { PICTURE_BINS, PICTURE_ROW, type PitchPicture, STEP } from '../constant-q';
import type { Hearing } from '../hearing';
import { LOWEST_KEY, MODEL_KEYS } from '../model-form';

/** A note of a line that is heard in a mix. Seconds; MIDI key. */
export interface LineNote {
  on: number;
  off: number;
  key: number;
  /** 0–1. */
  confidence: number;
  /** Decibels against the loudest of all. */
  loud: number;
}

/** By what a line is told from all that sounds. */
export interface Manner {
  /** Keys in which it lies. */
  low: number;
  high: number;
  /** What an octave higher is worth. */
  height: number;
  /** What a decibel softer than the loudest key of the moment costs. */
  soft: number;
  /** What another key that sounds as much below it, in its register, costs. */
  below: number;
  /** How much less than usual the best key must be worth for nothing of the line to sound. */
  silence: number;
  /** What another note costs, and each semitone of the leap, in moments. */
  change: number;
  leap: number;
  /** So much of a beginning begins a note anew. */
  again: number;
  /** Moments before and after its path comes to it in which a key may have begun: basses speak slowly. */
  late: number;
}

export const TUNE: Manner = {
  low: 55,
  high: 93,
  height: 0.2,
  soft: 0.01,
  below: 0,
  silence: 0.25,
  change: 3,
  leap: 0.2,
  again: 0.45,
  late: 0,
};
export const BASS: Manner = {
  low: 26,
  high: 55,
  height: -0.2,
  soft: 0.02,
  below: 0.7,
  silence: 0.3,
  change: 3,
  leap: 0,
  again: 0.5,
  late: 5,
};

/** A key that sounds less than this is silent, 0–1. */
const UNHEARD = 0.1;
/** And one so many decibels below the loudest of all. */
const FAINT = 255 - 42 / STEP;
/** Notes shorter than this are none; seconds. */
const SHORTEST = 0.06;
/** So much of a beginning is one. */
const LEAST_BEGINNING = 0.15;
/** Two beginnings of a key are so many moments apart. */
const APART = 6;

/**
 * A line through a mix: key by key and moment by moment what sounds most, high or low as it lies, and goes on, by
 * dynamic programming; cut into notes where its key changes or begins anew. (In the manner of J. Salamon and E. Gómez,
 * "Melody extraction from polyphonic music signals using pitch contour characteristics", 2012: salience, height and
 * continuity; from memory.)
 */
export function lineThrough(hearing: Hearing, picture: PitchPicture, manner: Manner): LineNote[] {
  const path = pathThrough(worthsOf(hearing, picture, manner), manner);
  return cut(path, hearing, picture, manner);
}

const widthOf = ({ low, high }: Manner): number => high - low + 1;

/** The best key of each moment, from the lowest of the register on; its width where the line is silent. */
function pathThrough(worths: Float32Array, manner: Manner): Int8Array {
  const width = widthOf(manner);
  const count = worths.length / width;
  const backs = new Int8Array(count * (width + 1));
  const silent = width;
  let scores = new Float64Array(width + 1);
  const silence = Math.max(0, usualMost(worths, width) - manner.silence);
  for (let at = 0; at < count; at++) {
    let best = 0;
    for (let k = 1; k <= width; k++) if (scores[k]! > scores[best]!) best = k;
    const next = new Float64Array(width + 1);
    for (let k = 0; k <= width; k++) {
      const own = k === silent ? silence : worths[at * width + k]!;
      const leap = k === silent || best === silent ? 0 : manner.leap * Math.abs(k - best);
      const entered = scores[best]! - manner.change - leap;
      const stays = scores[k]! >= entered;
      backs[at * (width + 1) + k] = stays ? k : best;
      next[k] = own + (stays ? scores[k]! : entered);
    }
    scores = next;
  }
  const path = new Int8Array(count);
  let k = 0;
  for (let each = 1; each <= width; each++) if (scores[each]! > scores[k]!) k = each;
  for (let at = count - 1; at >= 0; at--) {
    path[at] = k;
    k = backs[at * (width + 1) + k]!;
  }
  return path;
}

/** What each key of a line's register is worth, moment by moment. */
function worthsOf({ frames, count }: Hearing, picture: PitchPicture, manner: Manner): Float32Array {
  const { low, high } = manner;
  const width = high - low + 1;
  const middle = (low + high) / 2;
  const worths = new Float32Array(count * width);
  const levels = new Float32Array(width);
  for (let at = 0; at < count; at++) {
    const row = at * MODEL_KEYS - LOWEST_KEY;
    let [loudest, under] = [0, 0];
    for (let k = 0; k < width; k++) {
      levels[k] = levelOf(picture, at, low + k);
      if (levels[k]! > loudest) loudest = levels[k]!;
    }
    for (let k = 0; k < width; k++) {
      const frame = frames[row + low + k]!;
      worths[at * width + k] =
        frame < UNHEARD || levels[k]! < FAINT
          ? -1
          : frame -
            manner.soft * STEP * (loudest - levels[k]!) +
            (manner.height * (low + k - middle)) / 12 -
            manner.below * under;
      if (frame > under) under = frame;
    }
  }
  return worths;
}

/** What the best key of a moment is usually worth. */
function usualMost(worths: Float32Array, width: number): number {
  const most: number[] = [];
  for (let from = 0; from < worths.length; from += width)
    most.push(Math.max(...worths.subarray(from, from + width)));
  return medianOf(most);
}

const levelOf = ({ values, count }: PitchPicture, at: number, key: number): number =>
  at < count ? values[at * PICTURE_ROW + (key - LOWEST_KEY) * PICTURE_BINS + 1]! : 0;

/** The moment about which a key begins most, where a path comes to it: it may come a little late, or ring from before. */
function firstBeginning(begins: (at: number) => number, from: number, to: number, late: number): number {
  let best = from;
  let most = LEAST_BEGINNING;
  for (let at = Math.max(0, from - late); at < to; at++)
    if (begins(at) > most) [best, most] = [at, begins(at)];
  return best;
}

/** A path as notes. */
function cut(
  path: Int8Array,
  { frames, onsets, perSecond }: Hearing,
  picture: PitchPicture,
  manner: Manner,
): LineNote[] {
  const { low, again, late } = manner;
  const silent = widthOf(manner);
  const notes: LineNote[] = [];
  const put = (begins: number, to: number, key: number) => {
    // One note at a time: what begins ahead of its path ends what was.
    const before = notes.at(-1);
    const from = before ? Math.max(begins, Math.round(before.on * perSecond) + APART) : begins;
    if ((to - from) / perSecond < SHORTEST) return;
    if (before) before.off = Math.min(before.off, from / perSecond);
    let [sum, loud] = [0, 0];
    for (let at = from; at < to; at++) {
      sum += frames[at * MODEL_KEYS + key - LOWEST_KEY]!;
      loud = Math.max(loud, levelOf(picture, at, key));
    }
    notes.push({
      on: from / perSecond,
      off: to / perSecond,
      key,
      confidence: Math.min(1, sum / (to - from)),
      loud: (loud - 255) * STEP,
    });
  };
  for (let from = 0; from < path.length; ) {
    let to = from + 1;
    while (to < path.length && path[to] === path[from]) to++;
    if (path[from] !== silent) {
      const key = low + path[from]!;
      const begins = (at: number) => onsets[at * MODEL_KEYS + key - LOWEST_KEY]!;
      let since = firstBeginning(begins, from, Math.min(to, from + late), late);
      for (let at = since + APART; at < to - APART; at++)
        if (
          begins(at) >= again &&
          begins(at) >= begins(at - 1) &&
          begins(at) > begins(at + 1) &&
          at - since >= APART
        ) {
          put(since, at, key);
          since = at;
        }
      put(since, to, key);
    }
    from = to;
  }
  return notes;
}
