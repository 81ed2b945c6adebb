import 'reflect-metadata';
import * as Comlink from 'comlink';
import { checkPdfRequest, FACES, type Face, type Fonts, pdfOf } from './pdf';
import { serve } from './serve';

/** Where the faces lie, a file each (`scripts/print-fonts.mjs`). */
const FOLDER = '/print-fonts/';

let fonts: Promise<Fonts> | null = null;

const fetched = async (face: Face): Promise<[Face, Uint8Array]> => {
  const answer = await fetch(`${FOLDER}${face.replace(' ', '-')}`);
  if (!answer.ok) throw new Error('The faces of a PDF were not found.');
  return [face, new Uint8Array(await answer.arrayBuffer())];
};

function loaded(): Promise<Fonts> {
  fonts ??= Promise.all(FACES.map(fetched)).then(
    (all) => Object.fromEntries(all) as Record<Face, Uint8Array>,
  );
  // What failed is tried again with the next pages.
  fonts.catch(() => {
    fonts = null;
  });
  return fonts;
}

const api = {
  /** Makes a PDF of pages; ended early by ending the worker. */
  async make(data: unknown): Promise<Uint8Array> {
    const bytes = await pdfOf(checkPdfRequest(data), await loaded());
    return Comlink.transfer(bytes, [bytes.buffer]);
  },
};

export type PdfApi = typeof api;

serve(api);
