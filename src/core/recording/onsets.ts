import FFT from 'fft.js';
import type { Steps } from '../basics/steps';
import type { Sound } from './sound';

/** How much begins to sound, moment by moment: a row for each pitch class, and one for all that has none. */
export interface Onsets {
  /** Moments a second. */
  perSecond: number;
  /** Twelve pitch classes from C, then the whole. */
  rows: Float32Array[];
}

/** A note as it is struck. Seconds of the piece, MIDI keys and velocities; what has no pitch counts in the whole only. */
export interface Struck {
  at: number;
  key: number;
  velocity: number;
  pitched: boolean;
}

export const ONSETS_PER_SECOND = 100;
export const ROWS = 13;
const WHOLE_ROW = 12;

/** Seconds of sound under one window: long enough to tell semitones from about 200 Hz on. */
const WINDOW = 0.128;
/** Lowest and highest key whose band is looked at. */
const LOWEST = 45;
const HIGHEST = 104;
/** Moments back to which a band is compared, 20 ms: what rises slower is no onset. */
const BACK = 2;
/** How strongly loud is pressed down to soft before differences are taken (log of 1 + so much times the size). */
const PRESSED = 100;
/** So many moments are worked out before others may have their turn. */
const BETWEEN = 400;

/**
 * What begins in a sound: rises of energy by semitone (half-wave rectified log-spectral flux), where a rise that
 * comes from a neighbouring semitone is none, so that vibrato does not count.
 * Source of the method: S. Böck and G. Widmer, "Maximum filter vibrato suppression for onset detection" (2013), from memory.
 */
export function* onsetsOf({ samples, rate }: Sound): Steps<Onsets> {
  const size = 2 ** Math.round(Math.log2(WINDOW * rate));
  const fft = new FFT(size);
  const frame = new Array<number>(size).fill(0);
  const spectrum = fft.createComplexArray();
  const window = Float32Array.from(
    { length: size },
    (_, at) => 0.5 - 0.5 * Math.cos((2 * Math.PI * at) / size),
  );
  const bands = bandsOf(size, rate);
  const loudest = samples.reduce((most, value) => Math.max(most, Math.abs(value)), 1e-9);
  const scale = PRESSED / (loudest * size);
  const count = Math.ceil((samples.length / rate) * ONSETS_PER_SECOND);
  const rows = Array.from({ length: ROWS }, () => new Float32Array(count));
  const past: Float32Array[] = [];
  for (let moment = 0; moment < count; moment++) {
    const from = Math.round((moment * rate) / ONSETS_PER_SECOND) - size / 2;
    for (let at = 0; at < size; at++) frame[at] = (samples[from + at] ?? 0) * window[at]!;
    fft.realTransform(spectrum, frame);
    const now = new Float32Array(bands.length);
    bands.forEach(({ first, last }, band) => {
      let sum = 0;
      for (let bin = first; bin <= last; bin++) sum += Math.hypot(spectrum[2 * bin]!, spectrum[2 * bin + 1]!);
      now[band] = Math.log1p(sum * scale);
    });
    const before = past.length >= BACK ? past.shift()! : now;
    past.push(now);
    for (let band = 0; band < bands.length; band++) {
      const was = Math.max(before[band - 1] ?? 0, before[band]!, before[band + 1] ?? 0);
      const rise = now[band]! - was;
      if (rise <= 0) continue;
      const { pitchClass } = bands[band]!;
      if (pitchClass !== null) rows[pitchClass]![moment]! += rise;
      rows[WHOLE_ROW]![moment]! += rise;
    }
    if (moment % BETWEEN === BETWEEN - 1) yield;
  }
  return { perSecond: ONSETS_PER_SECOND, rows };
}

interface Band {
  first: number;
  last: number;
  /** Null above the keys: hiss of strings, cymbals, consonants. */
  pitchClass: number | null;
}

function bandsOf(size: number, rate: number): Band[] {
  const binOf = (key: number) => (440 * 2 ** ((key - 69) / 12) * size) / rate;
  const bands: Band[] = [];
  for (let key = LOWEST; key <= HIGHEST; key++) {
    const first = Math.ceil(binOf(key - 0.5));
    const last = Math.ceil(binOf(key + 0.5)) - 1;
    if (last >= first && last < size / 2) bands.push({ first, last, pitchClass: key % 12 });
  }
  // By thirds of an octave above.
  for (let key = HIGHEST + 0.5; ; key += 4) {
    const last = Math.ceil(binOf(key + 4)) - 1;
    if (last >= size / 2) return bands;
    bands.push({ first: Math.ceil(binOf(key)), last, pitchClass: null });
  }
}

/** Partials that are heard beside the key itself: semitones above, and how strongly; common practice. */
const PARTIALS: readonly [number, number][] = [
  [0, 1],
  [7, 0.35],
  [4, 0.15],
];

/** What would begin if a piece were played: the same as is looked for in sound. */
export function onsetsExpected(notes: readonly Struck[], seconds: number): Onsets {
  const count = Math.max(1, Math.ceil(seconds * ONSETS_PER_SECOND) + 1);
  const rows = Array.from({ length: ROWS }, () => new Float32Array(count));
  const add = (row: number, at: number, size: number) => {
    const place = at * ONSETS_PER_SECOND;
    const before = Math.floor(place);
    if (before < 0 || before + 1 >= count) return;
    rows[row]![before]! += size * (1 - (place - before));
    rows[row]![before + 1]! += size * (place - before);
  };
  for (const { at, key, velocity, pitched } of notes) {
    const size = 0.3 + (0.7 * velocity) / 127;
    add(WHOLE_ROW, at, size);
    if (pitched) for (const [above, share] of PARTIALS) add((key + above) % 12, at, size * share);
  }
  // Many notes at once are no more of an onset than a few.
  for (const row of rows) for (let at = 0; at < count; at++) row[at] = Math.sqrt(row[at]!);
  return { perSecond: ONSETS_PER_SECOND, rows };
}
