import { seeded } from '../basics/random';

/** One recorded-to-be note: mono audio at `rate`, sounding MIDI `key` plus `cents`; looped where it sustains. */
export interface Sample {
  audio: Float32Array;
  rate: number;
  key: number;
  /** Correction in cents that a player must add to sound `key`. */
  cents: number;
  /** First and one past the last frame of the loop. */
  loop: [start: number, end: number] | null;
}

/** Noise in a band of frequencies (Hz). */
export interface Noise {
  level: number;
  low: number;
  high: number;
  /** Seconds to a tenth; absent for noise that lasts as long as the note. */
  dies?: number;
}

/** A voice by its partials, whether blown, bowed or struck. */
export interface Voice {
  /** Loudness of a partial: its number from 1, its frequency in Hz. 0 for none. */
  partial: (number: number, hertz: number) => number;
  /** Frequencies of the partials as multiples of the first; whole numbers where absent. */
  ratios?: readonly number[];
  /** Stretch of a stiff string or bar: partial n sounds n·√(1 + stiffness·n²). */
  stiffness?: number;
  /** Held: seconds until a partial has come in; higher ones take longer. */
  rises?: number;
  /** Struck: how many times as fast as the first a partial dies, per partial number. */
  dims?: number;
  noise?: Noise;
  /** Several players: each partial spreads by so many cents. */
  spread?: number;
}

const TAU = 2 * Math.PI;
const MOST_PARTIALS = 80;
/** Players of an ensemble, as lines around each partial. */
const PLAYERS = [-1, -0.45, 0.1, 0.55, 1];

export const hertzOf = (key: number): number => 440 * 2 ** ((key - 69) / 12);

/** Low notes need no high rate. */
const rateFor = (key: number): number => (key < 80 ? 22_050 : 32_000);

/**
 * Makes a sample of a voice. All partials lie on whole cycles of the loop, so
 * it is seamless by construction; the loop itself is a whole number of periods
 * of the first partial, and what that leaves over in pitch is given in cents.
 *
 * @param attack seconds before the loop
 * @param loop seconds of the loop, about
 */
export function makeSample(voice: Voice, key: number, attack: number, loop: number): Sample {
  const rate = rateFor(key);
  const period = rate / hertzOf(key);
  const periods = Math.max(1, Math.round((loop * rate) / period));
  const length = Math.round(periods * period);
  const cents = 1200 * Math.log2(length / periods / period);
  const start = Math.round(attack * rate);
  const audio = new Float32Array(start + length);
  const random = seeded(key * 977 + 13);
  const { ratios, stiffness = 0, spread = 0, rises, dims } = voice;
  const count = ratios?.length ?? MOST_PARTIALS;
  for (let number = 1; number <= count; number++) {
    const ratio = ratios ? ratios[number - 1]! : number * Math.sqrt(1 + stiffness * number * number);
    const hertz = (ratio * periods * rate) / length;
    if (hertz > rate * 0.45) break;
    const level = voice.partial(number, hertz);
    if (level < 1e-4) continue;
    const lines = spread > 0 ? PLAYERS : [0];
    const bins = new Set(
      lines.map((line) => Math.max(1, Math.round(ratio * periods * 2 ** ((line * spread) / 1200)))),
    );
    for (const bin of bins)
      addPartial(audio, {
        cycles: bin / length,
        phase: random() * TAU,
        level: level / Math.sqrt(bins.size),
        start,
        rise: rises === undefined ? 0 : rises * rate * (0.4 + 0.12 * number),
        fall: dims === undefined ? 0 : (dims * (number - 1)) / rate,
      });
  }
  if (voice.noise) addNoise(audio, voice.noise, start, length, rate, random);
  settle(audio, start);
  return { audio, rate, key, cents, loop: [start, start + length] };
}

interface Partial {
  /** Cycles a frame. */
  cycles: number;
  phase: number;
  level: number;
  /** First frame of the loop: levels hold from here on. */
  start: number;
  /** Frames to come in, and loss a frame; 0 for none. */
  rise: number;
  fall: number;
}

function addPartial(audio: Float32Array, { cycles, phase, level, start, rise, fall }: Partial): void {
  const turn = TAU * cycles;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  let x = Math.cos(phase);
  let y = Math.sin(phase);
  const keep = Math.exp(-fall);
  const come = rise > 0 ? Math.exp(-1 / rise) : 0;
  const whole = rise > 0 ? 1 - Math.exp(-start / rise) : 1;
  let missing = 1;
  let loudness = level;
  for (let at = 0; at < audio.length; at++) {
    audio[at]! += rise > 0 && at < start ? (y * loudness * (1 - missing)) / whole : y * loudness;
    if (at < start) {
      missing *= come;
      loudness *= keep;
    }
    [x, y] = [x * c - y * s, x * s + y * c];
  }
}

/** Noise that repeats with the loop, or dies before it. */
function addNoise(
  audio: Float32Array,
  noise: Noise,
  start: number,
  length: number,
  rate: number,
  random: () => number,
): void {
  const { level, low, high, dies } = noise;
  const size = dies === undefined ? length : start;
  const white = Float32Array.from({ length: size }, () => 2 * random() - 1);
  const band = bandPass(white, low / rate, high / rate, dies === undefined ? 3 : 1);
  for (let at = 0; at < audio.length; at++) {
    if (dies !== undefined) {
      if (at >= start) break;
      audio[at]! += level * band[at]! * 10 ** (-at / (dies * rate)) * (1 - at / start);
    } else audio[at]! += level * band[(at - start + length * 64) % length]!;
  }
}

/** First-order high and low pass, run `rounds` times over the data so that a repeated one has no seam. Cycles a frame. */
export function bandPass(data: Float32Array, low: number, high: number, rounds = 1): Float32Array {
  const lowKeep = Math.exp(-TAU * low);
  const highKeep = Math.exp(-TAU * Math.min(high, 0.5));
  const out = new Float32Array(data.length);
  let slow = 0;
  let smooth = 0;
  for (let round = 0; round < rounds; round++)
    for (let at = 0; at < data.length; at++) {
      smooth = data[at]! * (1 - highKeep) + smooth * highKeep;
      slow = smooth * (1 - lowKeep) + slow * lowKeep;
      out[at] = smooth - slow;
    }
  const rms = Math.sqrt(out.reduce((sum, value) => sum + value * value, 0) / Math.max(1, out.length));
  return rms > 0 ? out.map((value) => value / rms) : out;
}

const LOUDNESS = 0.2;
const PEAK = 0.92;

/** The same loudness for all, measured where the note has settled, and no peak beyond full scale. */
export function settle(audio: Float32Array, from: number): void {
  let power = 0;
  let peak = 0;
  for (let at = 0; at < audio.length; at++) {
    const value = audio[at]!;
    peak = Math.max(peak, Math.abs(value));
    if (at >= from) power += value * value;
  }
  const rms = Math.sqrt(power / Math.max(1, audio.length - from));
  if (peak === 0) return;
  const gain = Math.min(rms > 0 ? LOUDNESS / rms : Number.POSITIVE_INFINITY, PEAK / peak);
  for (let at = 0; at < audio.length; at++) audio[at]! *= gain;
  // The first frames fade in, against a click.
  const fade = Math.min(24, audio.length);
  for (let at = 0; at < fade; at++) audio[at]! *= at / fade;
}

/** One mode of a drum: where its pitch goes, and how fast it dies. */
export interface Mode {
  hertz: number;
  /** Hz that it falls to; the same where absent. */
  to?: number;
  level: number;
  /** Seconds to a thousandth. */
  dies: number;
}

export interface Stroke {
  modes?: readonly Mode[];
  noise?: readonly (Noise & { dies: number; after?: number })[];
  seconds: number;
}

const DRUM_RATE = 32_000;

/** A drum stroke, played to its end. */
export function makeStroke(stroke: Stroke, key: number): Sample {
  const audio = new Float32Array(Math.round(stroke.seconds * DRUM_RATE));
  const random = seeded(key * 331 + 7);
  for (const { hertz, to = hertz, level, dies } of stroke.modes ?? []) {
    let phase = 0;
    for (let at = 0; at < audio.length; at++) {
      const seconds = at / DRUM_RATE;
      const now = to + (hertz - to) * Math.exp(-seconds * 28);
      phase += (TAU * now) / DRUM_RATE;
      audio[at]! += level * Math.sin(phase) * 1000 ** (-seconds / dies);
    }
  }
  for (const { level, low, high, dies, after = 0 } of stroke.noise ?? []) {
    const white = Float32Array.from(audio, () => 2 * random() - 1);
    const band = bandPass(white, low / DRUM_RATE, high / DRUM_RATE);
    for (let at = Math.round(after * DRUM_RATE); at < audio.length; at++)
      audio[at]! += level * band[at]! * 1000 ** (-(at / DRUM_RATE - after) / dies);
  }
  const tail = Math.min(audio.length, 640);
  for (let at = 0; at < tail; at++) audio[audio.length - 1 - at]! *= at / tail;
  settle(audio, 0);
  const peak = audio.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  const gain = peak > 0 ? 0.85 / peak : 0;
  for (let at = 0; at < audio.length; at++) audio[at]! *= gain;
  return { audio, rate: DRUM_RATE, key, cents: 0, loop: null };
}
