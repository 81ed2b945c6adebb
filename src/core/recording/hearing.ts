import type { Steps } from '../basics/steps';
import {
  MODEL_BINS,
  MODEL_HOP,
  MODEL_KEYS,
  MODEL_MOMENTS,
  MODEL_RATE,
  MODEL_WINDOW,
  type NoteModel,
} from './model-form';

/** What is heard of each key, moment by moment. */
export interface Hearing {
  /** Moments a second. */
  perSecond: number;
  count: number;
  /** Whether a key sounds and whether it begins, 0–1: moment by moment, from the lowest key up. */
  frames: Float32Array;
  onsets: Float32Array;
  /** Cents above or below the key at which it is strongest, −50 to 50. */
  cents: Int8Array;
}

/** Moments at both ends of a window that are left to its neighbours. */
const EDGE = 15;
/** Moments that are taken from a window: its samples are a whole number of hops, so that time does not drift. */
const TAKEN = MODEL_MOMENTS - 2 * EDGE - 1;
/** Softer than this everywhere, against the loudest of the whole, is silence; −60 dB, common practice. */
const SILENCE = 0.001;

/**
 * Listens to a sound for all keys at once, window by window.
 *
 * @param samples at MODEL_RATE
 * @returns after as many steps as `windowsOf` says
 */
export function* hearKeys(samples: Float32Array, model: NoteModel): Steps<Hearing> {
  const count = Math.ceil(samples.length / MODEL_HOP);
  const hearing: Hearing = {
    perSecond: MODEL_RATE / MODEL_HOP,
    count,
    frames: new Float32Array(count * MODEL_KEYS),
    onsets: new Float32Array(count * MODEL_KEYS),
    cents: new Int8Array(count * MODEL_KEYS),
  };
  const loudest = samples.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  for (let first = 0; first < count; first += TAKEN) {
    const from = (first - EDGE) * MODEL_HOP;
    const window = new Float32Array(MODEL_WINDOW);
    let most = 0;
    for (let at = Math.max(0, -from); at < MODEL_WINDOW && from + at < samples.length; at++) {
      window[at] = samples[from + at]!;
      most = Math.max(most, Math.abs(window[at]!));
    }
    // The model makes every window as loud as any: of silence it would make something.
    if (most > SILENCE * loudest) take(hearing, model.hear(window), first);
    yield;
  }
  return hearing;
}

/** Windows into which so many samples are divided. */
export const windowsOf = (samples: number): number => Math.ceil(Math.ceil(samples / MODEL_HOP) / TAKEN);

function take(hearing: Hearing, heard: ReturnType<NoteModel['hear']>, first: number): void {
  const taken = Math.min(TAKEN, hearing.count - first);
  for (let moment = 0; moment < taken; moment++) {
    const [into, from] = [(first + moment) * MODEL_KEYS, (EDGE + moment) * MODEL_KEYS];
    for (let key = 0; key < MODEL_KEYS; key++) {
      hearing.frames[into + key] = heard.frames[from + key]!;
      hearing.onsets[into + key] = heard.onsets[from + key]!;
      hearing.cents[into + key] = centsOf(heard.contours, (EDGE + moment) * MODEL_KEYS * MODEL_BINS, key);
    }
  }
}

/** Where about a key, which lies on every third bin, its neighbours weigh heaviest; in cents. */
function centsOf(contours: Float32Array, row: number, key: number): number {
  const at = row + key * MODEL_BINS;
  const [below, own, above] = [key > 0 ? contours[at - 1]! : 0, contours[at]!, contours[at + 1]!];
  const weight = below + own + above;
  return weight > 0 ? Math.round(((above - below) / weight) * (100 / MODEL_BINS)) : 0;
}
