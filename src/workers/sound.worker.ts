import * as Comlink from 'comlink';
import type { Timeline } from '../core/sound/events';
import { BadBankError, type Level, readBank, renderTimeline, wavOf } from '../core/sound/render';
import { serve } from './serve';

const RATE = 48_000;
/** Milliseconds between two words on progress. */
const EVERY = 100;

const api = {
  /** Whether a file is a sound bank that can be played. @returns its name, or a sentence that says why not */
  check(bytes: Uint8Array): { name: string } | { refused: string } {
    try {
      const bank = readBank(bytes.slice().buffer as ArrayBuffer);
      return { name: bank.soundBankInfo.name.trim() };
    } catch (error) {
      if (error instanceof BadBankError) return { refused: error.message };
      throw error;
    }
  },

  /** Plays a timeline into a WAV file; ended early by ending the worker. */
  render(
    bytes: ArrayBuffer,
    timeline: Timeline,
    levels: ReadonlyMap<string, Level>,
    onProgress: (share: number) => void,
  ): Uint8Array {
    const steps = renderTimeline(readBank(bytes), timeline, RATE, levels);
    let since = Date.now();
    for (;;) {
      const step = steps.next();
      if (step.done) {
        const wav = wavOf(step.value, RATE);
        return Comlink.transfer(wav, [wav.buffer]);
      }
      if (Date.now() - since < EVERY) continue;
      onProgress(step.value);
      since = Date.now();
    }
  },
};

export type SoundApi = typeof api;

serve(api);
