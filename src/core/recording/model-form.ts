/** Samples a second that the model wants. */
export const MODEL_RATE = 22_050;
/** Samples under one window of the model, and from one of its moments to the next. */
export const MODEL_WINDOW = 43_844;
export const MODEL_HOP = 256;
/** Moments of a window. */
export const MODEL_MOMENTS = 172;
/** Keys that it knows, from A0 on. */
export const MODEL_KEYS = 88;
export const LOWEST_KEY = 21;
/** Bins of a semitone in its picture of pitch. */
export const MODEL_BINS = 3;

/** What the model says of one window: moment by moment, from the lowest key up, 0–1. */
export interface ModelHearing {
  /** Whether a key sounds. */
  frames: Float32Array;
  /** Whether it begins. */
  onsets: Float32Array;
  /** How strong each third of a semitone is. */
  contours: Float32Array;
}

export interface NoteModel {
  /** Listens to MODEL_WINDOW samples at MODEL_RATE. */
  hear(samples: Float32Array): ModelHearing;
}
