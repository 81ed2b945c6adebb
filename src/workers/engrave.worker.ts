import 'reflect-metadata';
import { VerovioToolkit } from 'verovio/esm';
import createVerovioModule from 'verovio/wasm';
import { mendedMei } from '../core/engrave/mend';
import { withoutMultiRests } from '../core/engrave/multi-rests';
import { checkMessage, EngraveRequest } from './messages';
import { serve } from './serve';
import { systemOptions } from './system-options';

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
    const engraver = await start();
    engraver.setOptions(systemOptions(request));
    const { document, rests } = withoutMultiRests(request.document);
    if (!engraver.loadData(document)) throw new Error('The engraver could not read this window.');
    const mended = mendedMei(document, () => engraver.getMEI(), rests);
    if (mended !== null && !engraver.loadData(mended))
      throw new Error('The engraver could not read this window.');
    const svg = engraver.renderToSVG(1);
    if (!request.even || svg.split('class="system"').length <= 2) return svg;
    // Too much for the width in print size: one system all the same, drawn smaller.
    engraver.setOptions({ breaks: 'none', adjustPageWidth: true });
    engraver.redoLayout();
    const whole = engraver.renderToSVG(1);
    engraver.setOptions({ adjustPageWidth: false });
    return whole;
  },
};

export type EngraveApi = typeof api;

serve(api);
