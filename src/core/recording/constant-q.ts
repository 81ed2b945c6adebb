import type { Steps } from '../basics/steps';
import type { Sound } from './sound';

/** How strong each third of a semitone is, moment by moment. */
export interface PitchPicture {
  /** Moments a second. */
  perSecond: number;
  count: number;
  /** Moment by moment, from the lowest bin up: 255 is the strongest of all, each step below is STEP decibels softer. */
  values: Uint8Array;
}

/** Key of the lowest semitone; each has its middle bin at its pitch, and one a third below and above. */
export const PICTURE_LOWEST = 21;
export const PICTURE_KEYS = 88;
export const PICTURE_BINS = 3;
/** Bins of a moment. */
export const PICTURE_ROW = PICTURE_KEYS * PICTURE_BINS;
/** Decibels a step. */
export const STEP = 0.375;

/** Waves under a window of high pitches, and hertz by which low ones are blurred so that they stay quick. */
const WAVES = 25;
const BLUR = 4;
/** An octave is looked at in the sound as it is while its highest pitch lies below this share of the rate. */
const CLEAR = 0.2;
/** Taps on either side of the filter before every second sample is left out. */
const TAPS = 15;

interface Bin {
  bin: number;
  cosine: Float32Array;
  sine: Float32Array;
}

/**
 * The sound by pitch: windows of as many waves at every pitch, octave by octave in a sound of half the samples.
 * Source of the method: J. Brown, "Calculation of a constant Q spectral transform" (1991); C. Schörkhuber and A. Klapuri,
 * "Constant-Q transform toolbox" (2010), for octaves and the blur below; from memory.
 *
 * @param perSecond moments a second; moment n lies at n / perSecond
 */
export function* pictureOf(sound: Sound, perSecond: number): Steps<PitchPicture> {
  const count = Math.ceil((sound.samples.length / sound.rate) * perSecond);
  const sizes = new Float32Array(count * PICTURE_ROW);
  let { samples, rate } = sound;
  let largest = 1e-9;
  for (let octave = Math.ceil(PICTURE_KEYS / 12) - 1; octave >= 0; octave--) {
    const bins = binsOf(octave, rate);
    for (let moment = 0; moment < count; moment++) {
      const middle = Math.round((moment * rate) / perSecond);
      for (const { bin, cosine, sine } of bins) {
        const from = middle - (cosine.length >> 1);
        const [first, last] = [Math.max(0, -from), Math.min(cosine.length, samples.length - from)];
        let [real, imaginary] = [0, 0];
        for (let at = first; at < last; at++) {
          const value = samples[from + at]!;
          real += value * cosine[at]!;
          imaginary += value * sine[at]!;
        }
        const size = Math.hypot(real, imaginary);
        sizes[moment * PICTURE_ROW + bin] = size;
        if (size > largest) largest = size;
      }
      if (moment % 400 === 399) yield;
    }
    const highest = 440 * 2 ** ((PICTURE_LOWEST + 12 * octave - 69) / 12);
    while (highest < CLEAR * (rate / 2)) {
      samples = halved(samples);
      rate /= 2;
      yield;
    }
  }
  const values = Uint8Array.from(sizes, (size) =>
    Math.max(0, Math.round(255 + (20 * Math.log10(size / largest + 1e-9)) / STEP)),
  );
  return { perSecond, count, values };
}

/** The windowed waves of an octave's bins. */
function binsOf(octave: number, rate: number): Bin[] {
  const bins: Bin[] = [];
  for (
    let bin = octave * 12 * PICTURE_BINS;
    bin < Math.min(PICTURE_ROW, (octave + 1) * 12 * PICTURE_BINS);
    bin++
  ) {
    const hertz = 440 * 2 ** ((PICTURE_LOWEST + (bin - 1) / PICTURE_BINS - 69) / 12);
    if (hertz >= rate / 2) continue;
    const length = Math.max(4, Math.round(rate / (hertz / WAVES + BLUR)));
    const [cosine, sine] = [new Float32Array(length), new Float32Array(length)];
    for (let at = 0; at < length; at++) {
      const window = (1 - Math.cos((2 * Math.PI * (at + 0.5)) / length)) / length;
      const phase = (2 * Math.PI * hertz * (at - length / 2)) / rate;
      cosine[at] = window * Math.cos(phase);
      sine[at] = window * Math.sin(phase);
    }
    bins.push({ bin, cosine, sine });
  }
  return bins;
}

/** A low-pass at half of what a sound holds: a windowed sinc. */
const FILTER = Float32Array.from({ length: 2 * TAPS + 1 }, (_, at) => {
  const by = at - TAPS;
  const sinc = by === 0 ? 0.5 : Math.sin((Math.PI * by) / 2) / (Math.PI * by);
  return sinc * (0.54 + 0.46 * Math.cos((Math.PI * by) / (TAPS + 1)));
});

function halved(samples: Float32Array): Float32Array {
  const fewer = new Float32Array(Math.ceil(samples.length / 2));
  for (let at = 0; at < fewer.length; at++) {
    let sum = 0;
    for (let tap = 0; tap <= 2 * TAPS; tap++) sum += FILTER[tap]! * (samples[2 * at + tap - TAPS] ?? 0);
    fewer[at] = sum;
  }
  return fewer;
}
