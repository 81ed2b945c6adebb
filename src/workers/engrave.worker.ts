import 'reflect-metadata';
import { VerovioToolkit } from 'verovio/esm';
import createVerovioModule from 'verovio/wasm';
import { engraveSystem } from './engrave-system';
import { checkMessage, EngraveRequest } from './messages';
import { serve } from './serve';

let toolkit: Promise<VerovioToolkit> | null = null;

const start = (): Promise<VerovioToolkit> => {
  toolkit ??= createVerovioModule().then((module) => new VerovioToolkit(module));
  return toolkit;
};

const api = {
  /** Starts the engraver ahead of its first use. */
  async warm(): Promise<void> {
    await start();
  },

  /** Engraves a document as one system, stretched to the width. @returns the SVG text */
  async engrave(data: unknown): Promise<string> {
    const request = checkMessage(EngraveRequest, data);
    return engraveSystem(await start(), request);
  },
};

export type EngraveApi = typeof api;

serve(api);
