import * as Comlink from 'comlink';
import { BadBankError, type Level, readBank, renderTimeline, wavOf } from '../core/sound/render';
import type { Timeline } from '../core/sound/timeline';
import { drive } from './drive';

/** How long the worker renders before it listens for messages again, in milliseconds. */
const SLICE = 60;
const RATE = 48_000;

let run = 0;

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

  /** Plays a timeline into a WAV file. Resolves to null when `cancel` stopped it. */
  async render(
    bytes: ArrayBuffer,
    timeline: Timeline,
    levels: ReadonlyMap<string, Level>,
    onProgress: (share: number) => void,
  ): Promise<Uint8Array | null> {
    const mine = ++run;
    const steps = renderTimeline(readBank(bytes), timeline, RATE, levels);
    const audio = await drive(steps, SLICE, () => mine === run, onProgress);
    if (!audio) return null;
    const wav = wavOf(audio, RATE);
    return Comlink.transfer(wav, [wav.buffer]);
  },

  cancel(): void {
    run++;
  },
};

export type SoundApi = typeof api;

Comlink.expose(api);
