import 'reflect-metadata';
import * as Comlink from 'comlink';
import { checkPdfRequest, pdfOf, textsOf } from './pdf';
import { type Face, facesFor } from './print-faces';
import { serve } from './serve';

/** Where the faces lie, a file each (`scripts/print-fonts.mjs`). */
const FOLDER = '/print-fonts/';

const files = new Map<Face, Promise<Uint8Array>>();

async function fetched(face: Face): Promise<Uint8Array> {
  const answer = await fetch(`${FOLDER}${face.replaceAll(' ', '-')}`);
  if (!answer.ok) throw new Error('The faces of a PDF were not found.');
  return new Uint8Array(await answer.arrayBuffer());
}

/** A face, fetched once; what failed is tried again with the next pages. */
function loaded(face: Face): Promise<Uint8Array> {
  const known = files.get(face);
  if (known) return known;
  const file = fetched(face);
  files.set(face, file);
  file.catch(() => files.delete(face));
  return file;
}

const api = {
  /**
   * Makes a PDF of pages; ended early by ending the worker.
   *
   * @returns also the letters that stand in none of its faces, and so are not in it
   */
  async make(data: unknown): Promise<{ bytes: Uint8Array; missing: string[] }> {
    const request = checkPdfRequest(data);
    const { faces, missing } = facesFor(textsOf(request));
    const fonts = await Promise.all(faces.map(async (face) => [face, await loaded(face)] as const));
    const bytes = await pdfOf(request, new Map(fonts));
    return Comlink.transfer({ bytes, missing }, [bytes.buffer]);
  },
};

export type PdfApi = typeof api;

serve(api);
