import * as Comlink from 'comlink';
import { finished, type Steps } from '../core/basics/steps';
import type { StrandId } from '../core/model/ids';
import { type PitchPicture, pictureOf } from '../core/recording/constant-q';
import { windowsOf } from '../core/recording/hearing';
import { factsOf, type Levels, levelsOf, type SoundFacts } from '../core/recording/levels';
import { MODEL_RATE } from '../core/recording/model-form';
import { type LaidAlong, layAlong, likenessesOf } from '../core/recording/offset';
import { type Onsets, onsetsExpected, onsetsOf } from '../core/recording/onsets';
import { mixed, type Sound } from '../core/recording/sound';
import type { Timeline } from '../core/sound/events';
import type { SoundForm } from '../core/sound/sound-file';
import { StemMix } from '../core/sound/stem-mix';
import { struckOf } from '../core/sound/struck';
import { BadSourceError } from '../core/sources/refused';
import { serve } from './serve';

/** Where the model lies. */
const MODEL = '/note-model/';
/** The share of hearing that the model takes. */
const BY_MODEL = 0.75;
/** Moments a second of a picture that is looked at. */
const PICTURES_PER_SECOND = 50;
/** Milliseconds between two words on progress. */
const EVERY = 100;

/** Runs work to its end and counts its steps. */
function counted<T>(steps: Steps<T>, onStep: (count: number) => void): T {
  let count = 0;
  let since = Date.now();
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    count++;
    if (Date.now() - since < EVERY) continue;
    onStep(count);
    since = Date.now();
  }
}

let sound: Sound | null = null;
let onsets: Onsets | null = null;
let mix: StemMix | null = null;

/** What begins in the recording that was taken in. @throws Error without one */
function onsetsHeard(onProgress: (share: number) => void = () => {}): Onsets {
  if (!sound) throw new Error('No recording was taken in.');
  const steps = sound.samples.length / sound.rate / 4;
  onsets ??= counted(onsetsOf(sound), (count) => onProgress(Math.min(1, count / steps)));
  return onsets;
}

const api = {
  /** Takes a recording in: channels of equal length, samples a second. @returns what there is to say and to draw of it */
  open(channels: Float32Array[], rate: number): { facts: SoundFacts; levels: Levels } {
    sound = mixed(channels, rate);
    onsets = null;
    return { facts: factsOf(sound), levels: levelsOf(sound) };
  },

  /**
   * Hears the notes of the recording that was taken in; ended early by ending the worker.
   * @returns what was heard as a document, or a sentence that says why nothing was
   */
  async hear(onProgress: (share: number) => void): Promise<Uint8Array | { refused: string }> {
    if (!sound) throw new Error('No recording was taken in.');
    // The model and its runtime are fetched by those who hear alone.
    const [{ loadNoteModel }, { listen }, { writeHeard }] = await Promise.all([
      import('../core/recording/note-model'),
      import('../core/sources/audio/listen'),
      import('../core/sources/audio/document'),
    ]);
    const fetched = async (name: string) => {
      const response = await fetch(`${MODEL}${name}`);
      if (!response.ok) throw new Error('The model that hears notes was not found.');
      return response;
    };
    const [graph, weights] = await Promise.all([
      fetched('model.json').then((response) => response.json()),
      fetched('group1-shard1of1.bin').then((response) => response.arrayBuffer()),
    ]);
    const model = await loadNoteModel({ graph, weights, runtime: MODEL });
    const windows = windowsOf((sound.samples.length * MODEL_RATE) / sound.rate);
    let [heard, after] = [0, 0];
    const steps = listen(sound, {
      hear: (samples) => {
        heard++;
        return model.hear(samples);
      },
    });
    try {
      const result = counted(steps, () => {
        if (heard >= windows) after++;
        onProgress(BY_MODEL * Math.min(1, heard / windows) + (1 - BY_MODEL) * (1 - 1 / (1 + after / 10)));
      });
      const bytes = writeHeard(result);
      return Comlink.transfer(bytes, [bytes.buffer]);
    } catch (error) {
      if (error instanceof BadSourceError) return { refused: error.message };
      throw error;
    }
  },

  /** The recording that was taken in by pitch. */
  picture(): PitchPicture {
    if (!sound) throw new Error('No recording was taken in.');
    const made = finished(pictureOf(sound, PICTURES_PER_SECOND));
    return Comlink.transfer(made, [made.values.buffer]);
  },

  /** Lays the recording that was taken in along the piece of a timeline; ended early by ending the worker. */
  layAlong(timeline: Timeline, onProgress: (share: number) => void): LaidAlong | null {
    const heard = onsetsHeard((share) => onProgress(0.8 * share));
    return counted(layAlong(heard, onsetsExpected(struckOf(timeline), timeline.end)), (count) =>
      onProgress(0.8 + 0.2 * (1 - 1 / (1 + count / 20))),
    );
  },

  /**
   * How much the recording that was taken in is like each part of a timeline, 0–1.
   * @param parts strands of each
   * @param offset seconds of the recording at which the piece begins
   */
  liken(timeline: Timeline, parts: readonly (readonly StrandId[])[], offset: number): number[] {
    const expected = parts.map((strands) =>
      onsetsExpected(struckOf(timeline, new Set(strands)), timeline.end),
    );
    return finished(likenessesOf(onsetsHeard(), expected, offset));
  },

  /** Begins to add sounds to one. */
  beginMix(frames: number, rate: SoundForm['rate']): void {
    mix = new StemMix(frames, rate);
  },

  /** Adds a sound. @param at the frame of the sum at which it begins */
  addToMix(channels: Float32Array[], at: number): void {
    mix?.add(channels, at);
  },

  /** What was added, as a WAV file. */
  endMix(): Uint8Array {
    if (!mix) throw new Error('Nothing was added.');
    const bytes = mix.wav();
    mix = null;
    return Comlink.transfer(bytes, [bytes.buffer]);
  },
};

export type RecordingApi = typeof api;

serve(api);
