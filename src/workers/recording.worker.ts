import * as Comlink from 'comlink';
import type { Steps } from '../core/basics/steps';
import { factsOf, type Levels, levelsOf, type SoundFacts } from '../core/recording/levels';
import { type LaidAlong, layAlong } from '../core/recording/offset';
import { type Onsets, onsetsExpected, onsetsOf } from '../core/recording/onsets';
import { mixed, type Sound } from '../core/recording/sound';
import type { Timeline } from '../core/sound/events';
import { struckOf } from '../core/sound/struck';

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

const api = {
  /** Takes a recording in: channels of equal length, samples a second. @returns what there is to say and to draw of it */
  open(channels: Float32Array[], rate: number): { facts: SoundFacts; levels: Levels } {
    sound = mixed(channels, rate);
    onsets = null;
    return { facts: factsOf(sound), levels: levelsOf(sound) };
  },

  /** Lays the recording that was taken in along the piece of a timeline; ended early by ending the worker. */
  layAlong(timeline: Timeline, onProgress: (share: number) => void): LaidAlong | null {
    if (!sound) throw new Error('No recording was taken in.');
    const steps = sound.samples.length / sound.rate / 4;
    onsets ??= counted(onsetsOf(sound), (count) => onProgress(Math.min(0.8, (0.8 * count) / steps)));
    return counted(layAlong(onsets, onsetsExpected(struckOf(timeline), timeline.end)), (count) =>
      onProgress(0.8 + 0.2 * (1 - 1 / (1 + count / 20))),
    );
  },
};

export type RecordingApi = typeof api;

Comlink.expose(api);
