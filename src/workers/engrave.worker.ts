import { VerovioToolkit } from 'verovio/esm';
import { checkMessage } from './check-message';
import { EngraveRequest } from './engrave-request';
import { engraveSystem } from './engrave-system';
import { serve } from './serve';

let toolkit: Promise<VerovioToolkit> | null = null;

/** Where the engraver lies: its script, and its program (`scripts/engraver.mjs`). */
const SCRIPT = '/engraver/verovio.js';
const PROGRAM = '/engraver/verovio.wasm';

/** The engraver, its program taken in as it comes: so the browser keeps it compiled. */
async function started(): Promise<VerovioToolkit> {
  const { default: createModule }: typeof import('verovio/wasm') = await import(/* @vite-ignore */ SCRIPT);
  const { instantiate } = WebAssembly;
  // The script offers no other way to give it its program.
  Object.assign(WebAssembly, {
    instantiate: (_: BufferSource, imports?: WebAssembly.Imports) =>
      WebAssembly.instantiateStreaming(fetch(PROGRAM), imports),
  });
  try {
    return new VerovioToolkit(await createModule());
  } finally {
    Object.assign(WebAssembly, { instantiate });
  }
}

const start = (): Promise<VerovioToolkit> => {
  toolkit ??= started();
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
